using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Workspaces;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data.Deliveries;

/// <summary>What stands relative to what.</summary>
public static class KeyDateTies
{
    /// <summary>What a delivery stands relative to; null: nothing.</summary>
    public static Task<KeyDateTie?> TieOfAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        Id<Delivery> delivery,
        CancellationToken cancellation
    ) => db.KeyDateTies.SingleOrDefaultAsync(t => t.WorkspaceId == workspace && t.DeliveryId == delivery, cancellation);

    /// <summary>Ties of what has not begun to be sent.</summary>
    public static IQueryable<KeyDateTie> TiesToCome(this LarkDb db, Id<Workspace> workspace) =>
        db.KeyDateTies.Where(t =>
            t.WorkspaceId == workspace
            && db.Deliveries.Any(d =>
                d.WorkspaceId == t.WorkspaceId
                && d.Id == t.DeliveryId
                && (d.State == DeliveryState.Planned || d.State == DeliveryState.WaitingForApproval)
            )
        );

    /// <summary>One coming of a key date; null: there is none.</summary>
    /// <param name="occurrence">By which it is named; null takes what comes once.</param>
    public static async Task<KeyDateComing?> ComingOfAsync(
        this LarkDb db,
        Workspace workspace,
        Id<KeyDate> id,
        LocalDate? occurrence,
        CancellationToken cancellation
    )
    {
        if (await db.KeyDates.FindAsync([workspace.Id, id], cancellation) is not { } keyDate)
            return null;
        return (keyDate.Rule is null ? keyDate.Date : occurrence) is { } on ? keyDate.At(on, workspace.Zone) : null;
    }

    /// <summary>Lets a delivery stand relative to that from now on, at the distance that it has; the caller saves.</summary>
    /// <param name="before">What it stood relative to; null: nothing.</param>
    public static void Tie(this LarkDb db, Delivery delivery, KeyDateComing coming, KeyDateTie? before = null)
    {
        if (before is not null)
            (before.KeyDateId, before.Occurrence, before.Stood) = (coming.KeyDate.Id, coming.Occurrence, coming.Date);
        else
            db.KeyDateTies.Add(
                new()
                {
                    WorkspaceId = delivery.WorkspaceId,
                    Id = Id<KeyDateTie>.New(),
                    DeliveryId = delivery.Id,
                    KeyDateId = coming.KeyDate.Id,
                    Occurrence = coming.Occurrence,
                    Stood = coming.Date,
                }
            );
    }
}
