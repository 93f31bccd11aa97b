using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Kinds;
using AbleLark.Data.Rows;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Outgoing;

/// <summary>A channel on which deliveries are due.</summary>
/// <param name="IsFailing">It failed lately; when it works, that is to be noted.</param>
public sealed record DueChannel(Id<Workspace> WorkspaceId, Id<Channel> ChannelId, string Network, bool IsFailing);

/// <summary>Takes due deliveries under a lease, so that any number of server processes can share the work.</summary>
public sealed class Claims(LarkDb db, IClock machine, Backoff aside, IOptions<LarkSettings> settings)
{
    /// <summary>Few, so that a process that ends doesn't hold many; enough that claiming is not what takes the time.</summary>
    private const int AtOnce = 5;

    /// <summary>Failures of ours, not the network's, after which a delivery isn't tried again.</summary>
    private const int MostFailures = 4;

    public Duration Lease => Duration.FromSeconds(settings.Value.LeaseSeconds);

    /// <summary>Channels with deliveries that are due, or whose process went silent in the middle; longest due first. Channels left alone
    /// for a while only with the latter.</summary>
    public async Task<List<DueChannel>> DueAsync(Instant now, CancellationToken cancellation)
    {
        Instant machineNow = machine.Now();
        // Of those that are put aside as well: they fail, and end in a state that says so, instead of going out late once they are mended.
        var due = await db
            .Deliveries.IgnoreQueryFilters()
            .Where(d =>
                (d.State == DeliveryState.Sending && d.LeaseUntil < machineNow)
                || (
                    d.State == DeliveryState.Planned
                    && d.At <= now
                    && !db.WorkFailures.Any(f =>
                        f.Work == WorkKind.Sending && f.Subject == (Guid)(object)d.ChannelId && f.RetryAt > machineNow
                    )
                )
            )
            .GroupBy(d => new { d.WorkspaceId, d.ChannelId })
            .Select(g => new
            {
                g.Key.WorkspaceId,
                g.Key.ChannelId,
                At = g.Min(d => d.At),
            })
            .Join(
                db.Channels,
                d => new { d.WorkspaceId, Id = d.ChannelId },
                c => new { c.WorkspaceId, c.Id },
                (d, c) => new { d, c.Network }
            )
            .OrderBy(x => x.d.At)
            .Take(500)
            .ToListAsync(cancellation);
        HashSet<Guid> failing =
        [
            .. await db.WorkFailures.Where(f => f.Work == WorkKind.Sending).Select(f => f.Subject).ToListAsync(cancellation),
        ];
        return [.. due.Select(x => new DueChannel(x.d.WorkspaceId, x.d.ChannelId, x.Network, failing.Contains(x.d.ChannelId.Value)))];
    }

    /// <summary>Claims a channel's next deliveries, in the order of their times.</summary>
    public async Task<IReadOnlyList<Id<Delivery>>> TakeAsync(DueChannel due, Guid lease, Instant now, CancellationToken cancellation)
    {
        Instant machineNow = machine.Now();
        Instant until = machineNow + Lease;
        await db.Database.ExecuteSqlAsync(
            $"""
            update deliveries set state = 'Sending', lease = {lease}, lease_until = {until}, attempts = attempts + 1, revision =
                revision + 1
            where (workspace_id, id) in (
              select workspace_id, id from deliveries
              where workspace_id = {due.WorkspaceId.Value} and channel_id = {due.ChannelId.Value}
                and ((state = 'Planned' and at <= {now}) or (state = 'Sending' and lease_until < {machineNow}))
              order by at, id limit {AtOnce} for update skip locked)
            """,
            cancellation
        );
        return await db
            .Deliveries.IgnoreQueryFilters()
            .Where(d => d.Lease == lease)
            .OrderBy(d => d.At)
            .ThenBy(d => d.Id)
            .Select(d => d.Id)
            .ToListAsync(cancellation);
    }

    /// <summary>
    /// Something of ours broke on a delivery. It is tried again after a while, and before long ends in a state that a person can act on.
    /// Written without reading the delivery, since that may be what can't be done.
    /// </summary>
    public async Task FailAsync(Id<Workspace> workspace, Id<Delivery> id, Guid lease, Exception failure, CancellationToken cancellation)
    {
        string words =
            "Something went wrong here while it was being sent "
            + $"({failure.Message.ReplaceLineEndings(" ").Replace("\0", "", StringComparison.Ordinal)}). Reschedule it; if it stays, tell "
            + "whoever runs Able Lark.";
        IQueryable<Delivery> mine = db
            .Deliveries.IgnoreQueryFilters()
            .Where(d => d.WorkspaceId == workspace && d.Id == id && d.Lease == lease && d.State == DeliveryState.Sending);
        int failures = await aside.FailedAsync(WorkKind.Sending, workspace, id.Value, words, null, cancellation, failure);
        if (failures < MostFailures)
        {
            Instant until = machine.Now() + Backoff.Pause(failures);
            await mine.ExecuteUpdateAsync(d => d.SetProperty(x => x.LeaseUntil, until).SetProperty(x => x.Trouble, words), cancellation);
            return;
        }
        bool tried = await db.DeliveryAttempts.AnyAsync(
            a => a.WorkspaceId == workspace && a.DeliveryId == id && a.Publishes && (a.End == null || a.End == AttemptEnd.Lost),
            cancellation
        );
        DeliveryState state = tried ? DeliveryState.MayHaveGoneOut : DeliveryState.Refused;
        if (tried)
            words += Sending.LookWords;
        await aside.WorkedAsync(WorkKind.Sending, workspace, id.Value, cancellation);
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        await mine.ExecuteUpdateAsync(
            d =>
                d.SetProperty(x => x.State, state)
                    .SetProperty(x => x.Trouble, words)
                    .SetProperty(x => x.Lease, (Guid?)null)
                    .SetProperty(x => x.LeaseUntil, (Instant?)null)
                    .SetProperty(x => x.Revision, x => x.Revision + 1),
            cancellation
        );
        await ChangeNotification.PlanChangedAsync(db, [workspace], cancellation);
        await ChangeNotification.TellAsync(db, workspace, Topic.Deliveries, cancellation);
        await transaction.CommitAsync(cancellation);
    }

    /// <summary>Gives back what was claimed and not begun: it is due again at once, for any process.</summary>
    public Task GiveBackAsync(Guid lease, IReadOnlyList<Id<Delivery>> rest, CancellationToken cancellation)
    {
        Guid[] ids = [.. rest.Select(r => r.Value)];
        Instant machineNow = machine.Now();
        // What was tried before stays "sending": it may have gone out, and is looked up first.
        return db.Database.ExecuteSqlAsync(
            $"""
            update deliveries d set lease = null, attempts = greatest(attempts - 1, 0), revision = revision + 1,
              state = case when tried then 'Sending' else 'Planned' end, lease_until = case when tried then {machineNow} end
            from (select d.workspace_id, d.id, d.look_up_only or exists (select 1 from delivery_attempts a where a.workspace_id =
                d.workspace_id and a.delivery_id = d.id) as tried
                  from deliveries d where d.lease = {lease} and d.state = 'Sending' and d.id = any({ids})) mine
            where d.workspace_id = mine.workspace_id and d.id = mine.id
            """,
            cancellation
        );
    }
}
