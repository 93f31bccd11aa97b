using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Outgoing;

/// <summary>
/// Sends what is due: each channel's deliveries one after the other, channels side by side within what their network takes at once. A
/// channel that doesn't answer is left alone for a while, and holds up nobody else.
/// </summary>
public sealed partial class SendingLoop(
    IServiceScopeFactory scopes,
    NetworkBook networks,
    LoopHealth health,
    IClock machine,
    ILogger<SendingLoop> log
) : IBackgroundWork
{
    private const int MostChannelsAtOnce = 64;
    private const int MostWorkspacesAtOnce = 8;
    private static readonly TimeSpan LookAgainAfter = TimeSpan.FromMilliseconds(200);
    private static readonly Duration PrepareEvery = Duration.FromMilliseconds(500);

    /// <summary>Channels that this process is sending on, with their networks.</summary>
    private readonly ConcurrentDictionary<Guid, string> _busy = new();

    public WorkKind Kind => WorkKind.Sending;

    public TimeSpan Pause => TimeSpan.FromMilliseconds(500);

    /// <summary>Sends until nothing is due any more, and what falls due meanwhile.</summary>
    public async Task RunAsync(Instant now, CancellationToken stopping)
    {
        List<Task> running = [];
        Instant prepareAt = Instant.MinValue;
        try
        {
            do
            {
                health.Rested(Kind);
                if (!await IsAnythingDueAsync(stopping))
                    break;
                if (machine.Now() >= prepareAt)
                {
                    await PrepareAsync(stopping);
                    prepareAt = machine.Now() + PrepareEvery;
                }
                running.AddRange(await StartAsync(stopping));
                running.RemoveAll(t => t.IsCompleted);
                if (running.Count > 0)
                    await Task.WhenAny([.. running, Task.Delay(LookAgainAfter, stopping)]);
            } while (running.Count > 0 && !stopping.IsCancellationRequested);
        }
        finally
        {
            // A call that is under way is not cut off: its answer is worth waiting for.
            await Task.WhenAll(running);
        }
    }

    /// <summary>One question, so that an idle server asks little; it also notes how old the oldest overdue delivery is.</summary>
    private async Task<bool> IsAnythingDueAsync(CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        Instant now = await scope.ServiceProvider.GetRequiredService<BusinessClock>().NowAsync(stopping);
        Instant? oldest = await scope.ServiceProvider.GetRequiredService<DuePreparation>().OldestDueAsync(now, stopping);
        health.OldestOverdueSeconds = oldest is { } at ? Math.Max(0, (now - at).TotalSeconds) : 0;
        return oldest is not null;
    }

    /// <summary>Each workspace apart, some side by side: one that can't be prepared, or waits for a lock, is put aside.</summary>
    private async Task PrepareAsync(CancellationToken stopping)
    {
        Instant now;
        List<Id<Workspace>> due;
        await using (AsyncServiceScope scope = scopes.CreateAsyncScope())
        {
            now = await scope.ServiceProvider.GetRequiredService<BusinessClock>().NowAsync(stopping);
            due = await scope.ServiceProvider.GetRequiredService<DuePreparation>().WorkspacesAsync(now, stopping);
            due = await scope.ServiceProvider.GetRequiredService<Backoff>().WithoutAsync(Kind, due, w => w.Value, stopping);
        }
        await Parallel.ForEachAsync(
            due,
            new ParallelOptions { MaxDegreeOfParallelism = MostWorkspacesAtOnce, CancellationToken = stopping },
            async (workspace, stop) => await PrepareAsync(workspace, now, stop)
        );
    }

    private async Task PrepareAsync(Id<Workspace> workspace, Instant now, CancellationToken stopping)
    {
        try
        {
            await using AsyncServiceScope scope = scopes.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<DuePreparation>().RunAsync(workspace, now, stopping);
        }
        catch (Exception e) when (!stopping.IsCancellationRequested && !DatabaseTrouble.IsAway(e))
        {
            string words = DatabaseTrouble.IsHeld(e)
                ? "What is due waits for another act in this workspace, which takes long. It is tried again by itself."
                : $"What is due can't be made ready for sending. Tell whoever runs Able Lark. ({e.Message})";
            LogWorkspace(workspace, e);
            await using AsyncServiceScope fresh = scopes.CreateAsyncScope();
            await fresh
                .ServiceProvider.GetRequiredService<Backoff>()
                .FailedAsync(Kind, workspace, workspace.Value, words, null, stopping, e);
        }
    }

    /// <summary>Begins on every channel that is due and free.</summary>
    private async Task<List<Task>> StartAsync(CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        Instant now = await scope.ServiceProvider.GetRequiredService<BusinessClock>().NowAsync(stopping);
        List<Task> started = [];
        foreach (DueChannel due in await scope.ServiceProvider.GetRequiredService<Claims>().DueAsync(now, stopping))
        {
            if (_busy.Count >= MostChannelsAtOnce)
                break;
            if (_busy.Values.Count(n => n == due.Network) >= AtOnce(due.Network) || !_busy.TryAdd(due.ChannelId.Value, due.Network))
                continue;
            started.Add(Task.Run(() => WorkAsync(due, now, stopping), CancellationToken.None));
        }
        return started;
    }

    private int AtOnce(string network) => networks.Has(network) ? networks[network].Sending.AtOnce : 1;

    /// <summary>Sends a channel's next deliveries. Never throws.</summary>
    private async Task WorkAsync(DueChannel due, Instant now, CancellationToken stopping)
    {
        try
        {
            await SendNextAsync(due, now, stopping);
        }
        catch (CrashException)
        {
            // A test's: as if the process had ended here.
        }
        catch (Exception e)
        {
            // The database is away, as a rule: leases run out, and whoever comes next goes on.
            health.FailedOnOne(Kind);
            LogChannel(due.ChannelId, e.GetBaseException().Message);
        }
        finally
        {
            _busy.TryRemove(due.ChannelId.Value, out _);
        }
    }

    private async Task SendNextAsync(DueChannel due, Instant now, CancellationToken stopping)
    {
        Guid lease = Guid.NewGuid();
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        Claims claims = scope.ServiceProvider.GetRequiredService<Claims>();
        Backoff aside = scope.ServiceProvider.GetRequiredService<Backoff>();
        IReadOnlyList<Id<Delivery>> taken = await claims.TakeAsync(due, lease, now, CancellationToken.None);
        bool failing = due.IsFailing;
        for (int i = 0; i < taken.Count; i++)
        {
            if (stopping.IsCancellationRequested)
            {
                await claims.GiveBackAsync(lease, [.. taken.Skip(i)], CancellationToken.None);
                return;
            }
            SendingOutcome outcome = await SendAsync(due, taken[i], lease, stopping);
            if (outcome.Silence is { } words)
            {
                await aside.FailedAsync(Kind, due.WorkspaceId, due.ChannelId.Value, words, outcome.Wait, CancellationToken.None);
                await claims.GiveBackAsync(lease, [.. taken.Skip(i + 1)], CancellationToken.None);
                return;
            }
            if (failing && outcome.Answered)
                await aside.WorkedAsync(Kind, due.WorkspaceId, due.ChannelId.Value, CancellationToken.None);
            failing &= !outcome.Answered;
        }
    }

    /// <summary>One delivery, with a database context of its own: what it breaks, it breaks for itself.</summary>
    private async Task<SendingOutcome> SendAsync(DueChannel due, Id<Delivery> id, Guid lease, CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        try
        {
            return await scope.ServiceProvider.GetRequiredService<Sending>().SendAsync(due.WorkspaceId, id, lease, stopping);
        }
        catch (DbUpdateConcurrencyException)
        {
            LogLostLease(id);
            return SendingOutcome.Nothing;
        }
        catch (Exception e) when (e is not CrashException && !DatabaseTrouble.IsAway(e))
        {
            LogDelivery(id, e);
            await using AsyncServiceScope fresh = scopes.CreateAsyncScope();
            await fresh.ServiceProvider.GetRequiredService<Claims>().FailAsync(due.WorkspaceId, id, lease, e, CancellationToken.None);
            return SendingOutcome.Nothing;
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "Delivery {Delivery} was taken over by another process, or changed by a person")]
    private partial void LogLostLease(Id<Delivery> delivery);

    [LoggerMessage(Level = LogLevel.Error, Message = "Delivery {Delivery} failed unexpectedly")]
    private partial void LogDelivery(Id<Delivery> delivery, Exception exception);

    [LoggerMessage(
        Level = LogLevel.Error,
        Message = "Sending on channel {Channel} broke off; it is taken up again when its leases run out ({Reason})"
    )]
    private partial void LogChannel(Id<Core.Channels.Channel> channel, string reason);

    [LoggerMessage(Level = LogLevel.Error, Message = "What is due in workspace {Workspace} can't be prepared; it is put aside for a while")]
    private partial void LogWorkspace(Id<Workspace> workspace, Exception exception);
}
