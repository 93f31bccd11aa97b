using AbleLark.Core.Deliveries;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data.Backups;

/// <summary>What is done to a database that was put back.</summary>
public static class Restoring
{
    /// <summary>
    /// Writes down that this database was restored. Everything due since the backup is looked up, and goes by no other way: found, it
    /// counts as sent;
    /// not there, as missed; where the network can't be asked, it may have gone out. To be done before any server starts on it.
    /// </summary>
    /// <param name="now">Business time.</param>
    /// <param name="machineNow">Machine time.</param>
    /// <returns>How many deliveries are to be looked up.</returns>
    public static async Task<int> MarkAsync(LarkDb db, Instant backupAt, Instant now, Instant machineNow, CancellationToken cancellation)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        db.Restores.Add(
            new()
            {
                Id = Guid.NewGuid(),
                BackupAt = backupAt,
                RestoredAt = machineNow,
            }
        );
        await db.SaveChangesAsync(cancellation);
        int marked = await db.Database.ExecuteSqlAsync(
            $"""
            update deliveries set state = {nameof(DeliveryState.Sending)}, look_up_only = true, lease = null, lease_until = {machineNow
                - Duration.FromSeconds(1)}, attempts = 0,
              revision = revision + 1, trouble = 'A backup was restored: it is looked up on the network.'
            where (state in ('Planned', 'WaitingForApproval', 'Substitute') and at <= {now}) or state = 'Sending'
            """,
            cancellation
        );
        // A process that held a lease before the backup is not here any more.
        await db.WorkFailures.ExecuteDeleteAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return marked;
    }
}
