using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Data;
using AbleLark.Server.Planning;
using AbleLark.Server.Posts;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Rotas;

/// <summary>What saving a rota does, read before the rota is changed; see <see cref="RotaRevision"/>.</summary>
/// <param name="Kept">Posts that are kept as exact times, if that is wanted.</param>
internal sealed record RotaChange(RotaRevision Revision, IReadOnlyList<KeptPost> Kept)
{
    /// <param name="rota">With its slots.</param>
    public static async Task<RotaChange> ReadAsync(
        LarkDb db,
        RotaEdits edits,
        Rota rota,
        RotaEdit edit,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<Guid> ids = [.. RotaRevision.PresentSlots(rota, edits.Today).Select(s => s.Id.Value)];
        List<Decision> decisions = await db
            .Decisions.Where(d =>
                d.WorkspaceId == rota.WorkspaceId
                && d.OriginKind == OriginKind.Place
                && ids.Contains(d.OriginId)
                && d.OriginDate >= edits.Today
            )
            .ToListAsync(cancellation);
        List<Delivery> scheduled = await db
            .Deliveries.Where(d =>
                d.WorkspaceId == rota.WorkspaceId
                && d.OriginKind == OriginKind.Place
                && ids.Contains(d.OriginId)
                && d.OriginDate >= edits.Today
            )
            .ToListAsync(cancellation);
        RotaRevision revision = RotaRevision.Of(
            rota,
            [.. edit.Slots.Select(s => new WantedSlot(s.Id, edits.Plan(s)))],
            edits.ZoneOf(edit),
            decisions,
            scheduled,
            edits.Workspace.Zone,
            edits.Today,
            now
        );
        return new(revision, await KeptAsync(db, rota, revision, now, cancellation));
    }

    /// <summary>What a person has to know before it is done.</summary>
    public RotaConsequences Consequences =>
        new(
            [.. Revision.Orphans.Select(o => new Orphan(o.Slot.Id, o.Decision.OriginDate, Words(o), o.Decision.Posts.Count))],
            Revision.Stranded.Count
        );

    /// <summary>Changes the rota's slots, and with them decisions and scheduled deliveries; the caller saves.</summary>
    /// <returns>The decisions that were dropped, in words.</returns>
    public async Task<List<string>> WriteAsync(
        LarkDb db,
        PlanWriter writer,
        RotaEdits edits,
        Rota rota,
        RotaEdit edit,
        Instant now,
        CancellationToken cancellation
    )
    {
        // In words of the slots as they were.
        List<string> dropped = [.. Revision.Orphans.Where(o => !edit.KeepsOrphans || o.Decision.Posts.Count == 0).Select(Words)];
        PlanChange change = Revision.ChangeOf(edits.Workspace, edit.MovesScheduled, edit.KeepsOrphans ? Kept : []);
        await writer.WriteAsync(rota.WorkspaceId, change, now, cancellation);
        foreach ((Slot slot, SlotPlan plan) in Revision.Changed)
            plan.Fill(slot);
        foreach ((Slot slot, LocalDate? last) in Revision.Ended)
        {
            if (last is not null)
                slot.To = last;
            else
                slot.RemovedAt = now;
        }
        db.Slots.AddRange(Revision.Added);
        rota.Version++;
        return dropped;
    }

    private static async Task<IReadOnlyList<KeptPost>> KeptAsync(
        LarkDb db,
        Rota rota,
        RotaRevision revision,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<Id<Post>> ids = [.. revision.Orphans.SelectMany(o => o.Decision.Posts).Select(p => p.PostId).Distinct()];
        if (ids.Count == 0)
            return [];
        var bank = await db
            .Posts.AsNoTracking()
            .Where(p => p.WorkspaceId == rota.WorkspaceId && ids.Contains(p.Id) && p.RemovedAt == null)
            .ToDictionaryAsync(p => p.Id, cancellation);
        var channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == rota.WorkspaceId)
            .ToDictionaryAsync(c => c.Id, cancellation);
        var planned = await db
            .Deliveries.Where(d =>
                d.WorkspaceId == rota.WorkspaceId
                && ids.Contains(d.PostId)
                && d.OriginKind == OriginKind.ExactTime
                && d.State != DeliveryState.Cancelled
            )
            .Select(d => new
            {
                d.PostId,
                d.ChannelId,
                d.At,
            })
            .ToListAsync(cancellation);
        return revision.Kept(rota, bank, channels, planned.Select(p => (p.PostId, p.ChannelId, p.At)), now);
    }

    private static string Words(OrphanedDecision orphan)
    {
        Decision d = orphan.Decision;
        string what =
            d.IsSkipped ? "skipped"
            : d.Posts.Count > 0 ? "a post given by hand"
            : d.MovedTo is not null ? "moved"
            : "a note";
        return string.Create(CultureInfo.InvariantCulture, $"{d.OriginDate:ddd d MMM} {orphan.Slot.Time:HH:mm}: {what}");
    }
}
