using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using NodaTime;

namespace AbleLark.Server.Work;

/// <param name="Silence">Why the network didn't answer, in words; null: it did.</param>
/// <param name="IsMoreDue">True: there may be more to do on the channel now.</param>
public readonly record struct ChannelOutcome(string? Silence, bool IsMoreDue = false);

/// <summary>Work that is done for each channel apart, again and again: one that fails is put aside, and stops no other.</summary>
/// <param name="failing">What can't be done for a channel that fails, as a sentence.</param>
/// <param name="atOnce">So many channels are worked on at the same time.</param>
public abstract partial class ChannelWork(IServiceScopeFactory scopes, ILogger log, string failing, int atOnce = 1) : IBackgroundWork
{
    public abstract WorkKind Kind { get; }

    public abstract TimeSpan Pause { get; }

    /// <summary>Channels for which there is something to do.</summary>
    protected abstract Task<List<(Id<Workspace> Workspace, Id<Channel> Channel)>> DueAsync(
        LarkDb db,
        Instant now,
        CancellationToken cancellation
    );

    /// <param name="services">Of the channel's own scope.</param>
    protected abstract Task<ChannelOutcome> WorkAsync(
        IServiceProvider services,
        Id<Workspace> workspace,
        Id<Channel> channel,
        Instant now,
        CancellationToken stopping
    );

    public async Task RunAsync(Instant now, CancellationToken stopping)
    {
        bool isMoreDue = true;
        while (isMoreDue && await DueAsync(now, stopping) is { Count: > 0 } due)
        {
            isMoreDue = false;
            await Parallel.ForEachAsync(
                due,
                new ParallelOptions { MaxDegreeOfParallelism = atOnce, CancellationToken = stopping },
                async (channel, _) =>
                {
                    if (await IsMoreDueAsync(channel.Workspace, channel.Channel, now, stopping))
                        isMoreDue = true;
                }
            );
        }
    }

    private async Task<List<(Id<Workspace> Workspace, Id<Channel> Channel)>> DueAsync(Instant now, CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        var due = await DueAsync(scope.ServiceProvider.GetRequiredService<LarkDb>(), now, stopping);
        return await scope.ServiceProvider.GetRequiredService<Backoff>().WithoutAsync(Kind, due, d => d.Channel.Value, stopping);
    }

    private async Task<bool> IsMoreDueAsync(Id<Workspace> workspace, Id<Channel> channel, Instant now, CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        Backoff aside = scope.ServiceProvider.GetRequiredService<Backoff>();
        ChannelOutcome outcome;
        Exception? failure = null;
        try
        {
            outcome = await WorkAsync(scope.ServiceProvider, workspace, channel, now, stopping);
        }
        catch (Exception e) when (!stopping.IsCancellationRequested && !DatabaseTrouble.IsAway(e))
        {
            LogFailure(Kind, channel, e);
            failure = e;
            outcome = new($"Tell whoever runs Able Lark. ({e.Message})");
        }
        if (outcome.Silence is { } why)
            await aside.FailedAsync(Kind, workspace, channel.Value, $"{failing} {why}", null, stopping, failure);
        else
            await aside.WorkedAsync(Kind, workspace, channel.Value, stopping);
        return outcome.Silence is null && outcome.IsMoreDue;
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "{Work}: channel {Channel} fails, and is put aside for a while")]
    private partial void LogFailure(WorkKind work, Id<Channel> channel, Exception exception);
}
