using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Work;
using AbleLark.Server.Channels;
using AbleLark.Server.Networks;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Hours;

/// <summary>Asks the networks, once a week, how many followers each channel has and when they are online. Each channel apart: one that
/// fails is put aside.</summary>
public sealed partial class AudiencePull(IServiceScopeFactory scopes, ILogger<AudiencePull> log) : IBackgroundWork
{
    private static readonly Duration AskAgainAfter = Duration.FromDays(7);

    public WorkKind Kind => WorkKind.Audiences;

    public TimeSpan Pause => TimeSpan.FromSeconds(5);

    public async Task RunAsync(Instant now, CancellationToken stopping)
    {
        Instant before = now - AskAgainAfter;
        foreach ((Id<Workspace> workspace, Id<Channel> channel) in await DueAsync(before, stopping))
        {
            await using AsyncServiceScope scope = scopes.CreateAsyncScope();
            PutAside aside = scope.ServiceProvider.GetRequiredService<PutAside>();
            try
            {
                string? silence = await scope
                    .ServiceProvider.GetRequiredService<ChannelAudienceReading>()
                    .ReadAsync(workspace, channel, before, now, stopping);
                if (silence is null)
                    await aside.WorkedAsync(Kind, workspace, channel.Value, stopping);
                else
                    await aside.FailedAsync(
                        Kind,
                        workspace,
                        channel.Value,
                        $"When its followers are online can't be read. {silence}",
                        null,
                        stopping
                    );
            }
            catch (Exception e) when (!stopping.IsCancellationRequested && !DatabaseTrouble.IsAway(e))
            {
                LogFailure(channel, e);
                await aside.FailedAsync(
                    Kind,
                    workspace,
                    channel.Value,
                    $"When its followers are online can't be read. Tell whoever runs Able Lark. ({e.Message})",
                    null,
                    stopping
                );
            }
        }
    }

    private async Task<List<(Id<Workspace>, Id<Channel>)>> DueAsync(Instant before, CancellationToken cancellation)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        var due = await db
            .Channels.Where(c =>
                c.Connection == ConnectionState.Connected
                && !db.ChannelAudiences.Any(a => a.WorkspaceId == c.WorkspaceId && a.ChannelId == c.Id && a.ReadAt > before)
            )
            .Select(c => new { c.WorkspaceId, c.Id })
            .ToListAsync(cancellation);
        return await scope
            .ServiceProvider.GetRequiredService<PutAside>()
            .WithoutAsync(Kind, [.. due.Select(c => (c.WorkspaceId, c.Id))], c => c.Item2.Value, cancellation);
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "The audience of channel {Channel} can't be read; it is put aside for a while")]
    private partial void LogFailure(Id<Channel> channel, Exception exception);
}

/// <summary>Reads when one channel's followers are online.</summary>
public sealed class ChannelAudienceReading(LarkDb db, NetworkBook networks, NetworkConnector connector, ChannelTokens tokens)
{
    private const int HoursOfAWeek = 168;

    /// <summary>A process that ends in the middle leaves it to be asked for again after this.</summary>
    private static readonly Duration Hold = Duration.FromMinutes(10);

    /// <summary>Returns the network's silence in words, or null.</summary>
    public async Task<string?> ReadAsync(
        Id<Workspace> workspace,
        Id<Channel> id,
        Instant before,
        Instant now,
        CancellationToken cancellation
    )
    {
        // Of several server processes, the one that writes the time asks.
        Instant held = before + Hold;
        int claimed = await db.Database.ExecuteSqlAsync(
            $"""
            insert into channel_audiences (workspace_id, channel_id, online, read_at) values ({workspace.Value}, {id.Value}, '[]', {held})
            on conflict (workspace_id, channel_id) do update set read_at = excluded.read_at where channel_audiences.read_at <= {before}
            """,
            cancellation
        );
        if (claimed == 0)
            return null;
        Channel channel = await db.Channels.SingleAsync(c => c.WorkspaceId == workspace && c.Id == id, cancellation);
        NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, cancellation);
        bool tells = networks.Has(channel.Network) && networks[channel.Network].TellsFollowersOnline;
        NetworkAnswer<RemoteOnline> answer =
            !token.IsOk ? new(token.Kind, Reason: token.Reason)
            : tells ? await connector.OnlineAsync(channel.Network, token.Value!, cancellation)
            : new(AnswerKind.Refused);
        if (answer.Kind is AnswerKind.Lost or AnswerKind.Busy)
            return answer.Reason;
        if (token.IsOk && await connector.AccountAsync(channel.Network, token.Value!, cancellation) is { IsOk: true, Value: { } account })
            channel.Followers = account.Followers;
        var kept = await db.ChannelAudiences.SingleAsync(a => a.WorkspaceId == workspace && a.ChannelId == id, cancellation);
        kept.ReadAt = now;
        // What was told before is better than nothing.
        if (answer.IsOk && answer.Value!.Hours is { Count: HoursOfAWeek } hours)
            kept.Online = hours;
        await db.SaveChangesAsync(cancellation);
        return null;
    }
}
