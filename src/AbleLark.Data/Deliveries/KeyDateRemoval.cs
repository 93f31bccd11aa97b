using AbleLark.Core;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Workspaces;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data.Deliveries;

/// <summary>Takes key dates off the calendar. What stood relative to them stays where it is; the caller saves.</summary>
public static class KeyDateRemoval
{
    public static async Task RemoveKeyDatesAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        IReadOnlyCollection<KeyDate> keyDates,
        CancellationToken cancellation
    )
    {
        List<Id<KeyDate>> ids = [.. keyDates.Select(d => d.Id)];
        db.KeyDateTies.RemoveRange(
            await db.KeyDateTies.Where(t => t.WorkspaceId == workspace && ids.Contains(t.KeyDateId)).ToListAsync(cancellation)
        );
        db.KeyDates.RemoveRange(keyDates);
    }

    /// <summary>A calendar goes with all that was read from it.</summary>
    /// <returns>How many key dates that were.</returns>
    public static async Task<int> RemoveSourceAsync(this LarkDb db, CalendarSource source, CancellationToken cancellation)
    {
        List<KeyDate> keyDates = await db
            .KeyDates.Where(d => d.WorkspaceId == source.WorkspaceId && d.SourceId == source.Id)
            .ToListAsync(cancellation);
        await db.RemoveKeyDatesAsync(source.WorkspaceId, keyDates, cancellation);
        db.CalendarSources.Remove(source);
        return keyDates.Count;
    }
}
