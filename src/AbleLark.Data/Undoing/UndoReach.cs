using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data.Undoing;

/// <summary>What the taking back of an act has to look at, read at once, however many thousand rows it touched.</summary>
internal sealed record UndoReach
{
    /// <summary>All deliveries of the posts that it added.</summary>
    public required ILookup<Id<Post>, Delivery> DeliveriesOf { get; init; }

    /// <summary>Posts that it added and somebody has changed since, where those are to stay.</summary>
    public required IReadOnlySet<Id<Post>> ChangedSince { get; init; }

    /// <summary>What goes out in the place of its deliveries.</summary>
    public required ILookup<Id<Delivery>, Delivery> Replacements { get; init; }

    /// <summary>Those of its deliveries that stand relative to a key date by now.</summary>
    public required IReadOnlySet<Id<Delivery>> Tied { get; init; }

    public required IReadOnlySet<Id<Channel>> Disconnected { get; init; }

    /// <summary>Places of its slots that are deliveries, or were.</summary>
    public required IReadOnlySet<Origin> Scheduled { get; init; }

    /// <param name="touched">Identities of what it touched.</param>
    public static async Task<UndoReach> FetchAsync(
        LarkDb db,
        ChangeSet act,
        TouchedIds touched,
        bool keepsChanged,
        CancellationToken cancellation
    )
    {
        Id<Workspace> workspace = act.WorkspaceId;
        IReadOnlyList<Id<Delivery>> deliveries = touched.Deliveries;
        IReadOnlyList<Id<Post>> added = touched.AddedPosts;
        ILookup<Id<Post>, Delivery> deliveriesOf = (
            added.Count == 0
                ? []
                : await db.Deliveries.Where(d => d.WorkspaceId == workspace && added.Contains(d.PostId)).ToListAsync(cancellation)
        ).ToLookup(d => d.PostId);
        return new()
        {
            DeliveriesOf = deliveriesOf,
            ChangedSince = keepsChanged
                ? await ChangedSinceAsync(db, act, deliveries, added, deliveriesOf, cancellation)
                : new HashSet<Id<Post>>(),
            Replacements = (
                deliveries.Count == 0
                    ? []
                    : await db
                        .Deliveries.Where(d => d.WorkspaceId == workspace && d.InsteadOf != null && deliveries.Contains(d.InsteadOf.Value))
                        .ToListAsync(cancellation)
            ).ToLookup(d => d.InsteadOf!.Value),
            Tied = (
                await db
                    .KeyDateTies.Where(t => t.WorkspaceId == workspace && deliveries.Contains(t.DeliveryId))
                    .Select(t => t.DeliveryId)
                    .ToListAsync(cancellation)
            ).ToHashSet(),
            Disconnected = (
                await db
                    .Channels.Where(c => c.WorkspaceId == workspace && c.Connection == ConnectionState.Disconnected)
                    .Select(c => c.Id)
                    .ToListAsync(cancellation)
            ).ToHashSet(),
            Scheduled = await ScheduledAsync(db, workspace, touched.Decisions, cancellation),
        };
    }

    private static async Task<IReadOnlySet<Id<Post>>> ChangedSinceAsync(
        LarkDb db,
        ChangeSet act,
        IReadOnlyList<Id<Delivery>> deliveries,
        IReadOnlyList<Id<Post>> added,
        ILookup<Id<Post>, Delivery> deliveriesOf,
        CancellationToken cancellation
    )
    {
        List<Guid> ids = [.. added.Select(p => p.Value), .. deliveries.Select(d => d.Value)];
        var acts = await db
            .Changes.Where(c => c.WorkspaceId == act.WorkspaceId && c.ChangeSetId != act.Id && ids.Contains(c.EntityId))
            .Join(
                db.ChangeSets.Where(s => s.WorkspaceId == act.WorkspaceId && s.PersonId != null && s.UndoneAt == null),
                c => c.ChangeSetId,
                s => s.Id,
                (c, s) => new { c.EntityId, c.ChangeSetId }
            )
            .ToListAsync(cancellation);
        // Identities of acts grow with the machines' time, which tells more than business time, where that may stand still.
        HashSet<Guid> changed = [.. acts.Where(c => c.ChangeSetId.Value.CompareTo(act.Id.Value) > 0).Select(c => c.EntityId)];
        return added.Where(p => changed.Contains(p.Value) || deliveriesOf[p].Any(d => changed.Contains(d.Id.Value))).ToHashSet();
    }

    private static async Task<IReadOnlySet<Origin>> ScheduledAsync(
        LarkDb db,
        Id<Workspace> workspace,
        IReadOnlyList<Origin> places,
        CancellationToken cancellation
    )
    {
        if (places.Count == 0)
            return new HashSet<Origin>();
        List<Guid> slots = [.. places.Select(p => p.Id).Distinct()];
        List<LocalDate> dates = [.. places.Select(p => p.Date).Distinct()];
        return (
            await db
                .Deliveries.Where(d =>
                    d.WorkspaceId == workspace
                    && d.OriginKind == OriginKind.Place
                    && slots.Contains(d.OriginId)
                    && dates.Contains(d.OriginDate)
                    && d.State != DeliveryState.Substitute
                )
                .Select(d => new Origin(d.OriginKind, d.OriginId, d.OriginDate, d.OriginTime))
                .ToListAsync(cancellation)
        ).ToHashSet();
    }
}

/// <summary>Identities of what an act touched.</summary>
/// <param name="Decisions">Places about which it decided.</param>
internal sealed record TouchedIds(
    IReadOnlyList<Id<Delivery>> Deliveries,
    IReadOnlyList<Id<Post>> AddedPosts,
    IReadOnlyList<Origin> Decisions
);
