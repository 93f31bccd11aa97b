using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Data.History;
using AbleLark.Data.Kinds;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data.Changes;

/// <summary>What the taking back of an act has to look at.</summary>
/// <param name="DeliveriesOf">All deliveries of the posts that it added.</param>
/// <param name="ChangedSince">Posts that it added and somebody has changed since.</param>
internal sealed record UndoReach(ILookup<Id<Post>, Delivery> DeliveriesOf, IReadOnlySet<Id<Post>> ChangedSince)
{
    public static UndoReach None { get; } = new(Array.Empty<Delivery>().ToLookup(d => d.PostId), new HashSet<Id<Post>>());

    /// <summary>Reads at once what an act of thousands touched, instead of one thing after the other.</summary>
    public static async Task<UndoReach> FetchAsync(LarkDb db, ChangeSet act, bool keepsChanged, CancellationToken cancellation)
    {
        List<Id<Post>> posts = IdsOf<Post>(act, c => true),
            added = IdsOf<Post>(act, c => c.Kind == ChangeKind.Added);
        List<Id<Delivery>> deliveries = IdsOf<Delivery>(act, c => true);
        await db.Posts.Where(p => p.WorkspaceId == act.WorkspaceId && posts.Contains(p.Id)).LoadAsync(cancellation);
        await db.Deliveries.Where(d => d.WorkspaceId == act.WorkspaceId && deliveries.Contains(d.Id)).LoadAsync(cancellation);
        ILookup<Id<Post>, Delivery> deliveriesOf = (
            await db.Deliveries.Where(d => d.WorkspaceId == act.WorkspaceId && added.Contains(d.PostId)).ToListAsync(cancellation)
        ).ToLookup(d => d.PostId);
        if (!keepsChanged)
            return new(deliveriesOf, new HashSet<Id<Post>>());
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
        return new(
            deliveriesOf,
            added.Where(p => changed.Contains(p.Value) || deliveriesOf[p].Any(d => changed.Contains(d.Id.Value))).ToHashSet()
        );
    }

    private static List<Id<T>> IdsOf<T>(ChangeSet act, Func<Change, bool> which) =>
        [
            .. act
                .Changes.Where(c => StoredKinds.Logged(c.Entity).Type == typeof(T) && which(c))
                .Select(c => new Id<T>(c.EntityId))
                .Distinct(),
        ];
}
