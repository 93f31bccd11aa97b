using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Deliveries;

/// <summary>Takes due deliveries under a lease, so that any number of server processes can share the work.</summary>
public sealed class Claims(LarkDb db, IClock machine, IOptions<LarkSettings> settings)
{
    private const int AtOnce = 20;

    public Duration Lease => Duration.FromSeconds(settings.Value.LeaseSeconds);

    /// <summary>
    /// Settles, at the time of sending, what waits for a yes: with one it goes; without, its stand-by goes, or nothing. What isn't
    /// sent returns to the front of its line. Everything due while the workspace is held is missed, so that lifting the hold sends no backlog.
    /// </summary>
    public async Task PrepareDueAsync(Instant now, CancellationToken cancellation)
    {
        // As a whole: a process killed half-way must not leave a stand-by behind that nobody looks for.
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        try
        {
            await AnswerHeldAsync(now, cancellation);
            await HoldBackAsync(now, cancellation);
            await db.SaveChangesAsync(cancellation);
            await transaction.CommitAsync(cancellation);
        }
        catch (DbUpdateConcurrencyException)
        {
            // Another process took one of them meanwhile; the next round looks again.
        }
        db.ChangeTracker.Clear();
    }

    private async Task AnswerHeldAsync(Instant now, CancellationToken cancellation)
    {
        List<Delivery> waiting = await db.Deliveries.Where(d => d.At <= now && (d.State == DeliveryState.AwaitingYes || d.State == DeliveryState.StandBy)).OrderBy(d => d.At).Take(500).ToListAsync(cancellation);
        if (waiting.Count == 0) return;
        List<Id<Post>> ids = [.. waiting.Select(d => d.PostId).Distinct()];
        HashSet<Id<Post>> withYes = [.. await db.Posts.Where(p => ids.Contains(p.Id) && p.Stage == Stage.Ready).Select(p => p.Id).ToListAsync(cancellation)];
        List<Delivery> standBys = [];
        foreach (Delivery held in waiting.Where(d => d.State == DeliveryState.AwaitingYes))
        {
            Delivery? standBy = waiting.FirstOrDefault(d => d.State == DeliveryState.StandBy && d.WorkspaceId == held.WorkspaceId && d.Key == held.Key && d.ChannelId == held.ChannelId);
            if (withYes.Contains(held.PostId))
            {
                held.Become(DeliveryState.Planned);
                if (standBy is not null) Miss(standBy, "Not needed: the post before it had its yes in time.", dealtWith: true);
                continue;
            }
            Miss(held, "It had no yes in time.", dealtWith: standBy is not null);
            if (standBy is not null) standBys.Add(standBy);
        }
        // First the places are free, then others take them.
        await db.SaveChangesAsync(cancellation);
        foreach (Delivery standBy in standBys) standBy.Become(DeliveryState.Planned);
        await db.SaveChangesAsync(cancellation);
    }

    private async Task HoldBackAsync(Instant now, CancellationToken cancellation)
    {
        var holds = await db.Pauses.AsNoTracking().Where(p => p.What == Paused.Workspace).Join(db.Workspaces, p => p.WorkspaceId, w => w.Id, (pause, workspace) => new { pause, workspace }).ToListAsync(cancellation);
        List<Id<Workspace>> held = [.. holds.Where(h => h.pause.HoldsOn(h.workspace.DateOf(now))).Select(h => h.workspace.Id).Distinct()];
        if (held.Count == 0) return;
        foreach (Delivery due in await db.Deliveries.Where(d => held.Contains(d.WorkspaceId) && d.State == DeliveryState.Planned && d.At <= now).Take(500).ToListAsync(cancellation))
            Miss(due, "Everything was held when its time came.", dealtWith: false);
    }

    private static void Miss(Delivery delivery, string trouble, bool dealtWith)
    {
        delivery.Become(DeliveryState.Missed);
        (delivery.Trouble, delivery.DealtWith) = (trouble, dealtWith);
    }

    /// <summary>Marks planned deliveries that are too late as missed: they never go by themselves.</summary>
    public async Task MissLateAsync(Instant now, CancellationToken cancellation)
    {
        List<Delivery> late = await db.Deliveries
            .Join(db.Workspaces, d => d.WorkspaceId, w => w.Id, (d, w) => new { d, w.LateAfter })
            .Where(x => x.d.State == DeliveryState.Planned && x.d.At < now && now - x.d.At > x.LateAfter)
            .Select(x => x.d).OrderBy(d => d.At).Take(500).ToListAsync(cancellation);
        foreach (Delivery delivery in late)
        {
            Miss(delivery, "Its time passed while nothing could be sent.", dealtWith: false);
        }
        if (late.Count == 0) return;
        try
        {
            await db.SaveChangesAsync(cancellation);
        }
        catch (DbUpdateConcurrencyException)
        {
            // Another process took one of them meanwhile; the next round looks again.
        }
        db.ChangeTracker.Clear();
    }

    /// <summary>Claims deliveries that are due, and those whose process went silent in the middle.</summary>
    public async Task<IReadOnlyList<Delivery>> TakeAsync(Instant now, CancellationToken cancellation)
    {
        Guid lease = Guid.NewGuid();
        Instant machineNow = machine.Now();
        Instant until = machineNow + Lease;
        await db.Database.ExecuteSqlAsync(
            $"""
            update deliveries set state = 'Sending', lease = {lease}, lease_until = {until}, attempts = attempts + 1
            where (workspace_id, id) in (
              select workspace_id, id from deliveries
              where (state = 'Planned' and at <= {now}) or (state = 'Sending' and lease_until < {machineNow})
              order by at limit {AtOnce} for update skip locked)
            """, cancellation);
        return await db.Deliveries.Where(d => d.Lease == lease).OrderBy(d => d.At).ThenBy(d => d.Id).ToListAsync(cancellation);
    }
}
