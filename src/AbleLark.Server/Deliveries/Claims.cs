using AbleLark.Core;
using AbleLark.Core.Deliveries;
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

    /// <summary>Marks planned deliveries that are too late as missed: they never go by themselves.</summary>
    public async Task MissLateAsync(Instant now, CancellationToken cancellation)
    {
        List<Delivery> late = await db.Deliveries
            .Join(db.Workspaces, d => d.WorkspaceId, w => w.Id, (d, w) => new { d, w.LateAfter })
            .Where(x => x.d.State == DeliveryState.Planned && x.d.At < now && now - x.d.At > x.LateAfter)
            .Select(x => x.d).OrderBy(d => d.At).Take(500).ToListAsync(cancellation);
        foreach (Delivery delivery in late)
        {
            delivery.Become(DeliveryState.Missed);
            delivery.Trouble = "Its time passed while nothing could be sent.";
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
