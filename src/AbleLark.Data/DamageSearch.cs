using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Changes;
using AbleLark.Data.Damage;
using AbleLark.Data.Kinds;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data;

/// <summary>Finds a workspace's damaged rows, writes down which they are, and lets every query leave them out from then on.</summary>
public static class DamageSearch
{
    /// <summary>Takes over what was found before, by whatever process.</summary>
    /// <returns>True when it is other than what this process knew.</returns>
    public static Task<bool> ReadAsync(LarkDb db, DamagedRows rows, CancellationToken cancellation) =>
        rows.ReadAsync(db, StoredKinds.PutAside.Select(k => k.Type), cancellation);

    /// <summary>The workspaces whose own rows can't be read, whether or not they are put aside.</summary>
    public static Task<List<Id<Workspace>>> WorkspacesAsync(LarkDb db, CancellationToken cancellation) =>
        DamageLook.WorkspacesAsync(db, cancellation);

    /// <summary>Looks through all rows of a workspace. What has been mended is no longer left out.</summary>
    /// <returns>True when this process leaves out other rows than before.</returns>
    public static async Task<bool> RunAsync(
        LarkDb db,
        Id<Workspace> workspace,
        DamagedRows rows,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<DamagedRow> found = [];
        foreach (StoredKind kind in StoredKinds.PutAside)
            found.AddRange(await kind.DamagedAsync(db, workspace, now, cancellation));
        List<DamagedRow> more = found;
        while (more.Count > 0)
        {
            List<DamagedRow> next = [];
            foreach (StoredKind kind in StoredKinds.PutAside.Where(k => k.HasOwnId))
                next.AddRange(await kind.BelongingAsync(db, workspace, more, now, cancellation));
            HashSet<(string, Guid)> known = [.. found.Select(f => (f.Kind, f.RowId))];
            more = [.. next.Where(n => known.Add((n.Kind, n.RowId)))];
            found.AddRange(more);
        }
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        await db.WaitBrieflyAsync(cancellation);
        // Of two who look at the same moment one writes after the other.
        await db.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock(hashtextextended({workspace.ToString()}, 7466))", cancellation);
        List<DamagedRow> before = await db.DamagedRows.Where(d => d.WorkspaceId == workspace).ToListAsync(cancellation);
        HashSet<(string, Guid)> there = [.. before.Select(b => (b.Kind, b.RowId))];
        HashSet<(string, Guid)> here = [.. found.Select(f => (f.Kind, f.RowId))];
        db.DamagedRows.RemoveRange(before.Where(b => !here.Contains((b.Kind, b.RowId))));
        db.DamagedRows.AddRange(found.Where(f => !there.Contains((f.Kind, f.RowId))));
        await db.SaveChangesAsync(cancellation);
        if (!here.SetEquals(there))
            await ChangeNotification.PlanChangedAsync(db, [workspace], cancellation);
        await transaction.CommitAsync(cancellation);
        return await ReadAsync(db, rows, cancellation);
    }
}
