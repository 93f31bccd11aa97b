using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Kinds;
using AbleLark.Data.Posts;
using AbleLark.Data.Rows;
using AbleLark.Data.Undoing;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using NodaTime;

namespace AbleLark.Data.Changes;

/// <param name="Undone">Things that are as before.</param>
/// <param name="Kept">What could not be taken back, in words.</param>
public sealed record UndoOutcome(int Undone, IReadOnlyList<string> Kept);

/// <summary>
/// Takes an act back from its change set, each kind of row by its <see cref="UndoRule"/>; what somebody changed since stays as they left
/// it. Taking back is an act of its own. The caller saves.
/// </summary>
/// <param name="needsOthers">True for somebody who may not approve: what a post says after it waits for somebody who may.</param>
/// <param name="check">Finds anew how posts stand with the networks, by what they say now.</param>
public sealed class Undo(LarkDb db, Instant now, bool needsOthers, Func<Id<Workspace>, IReadOnlyCollection<Post>, Task> check)
{
    /// <summary>Things that an act added, however many, are taken away so many at a time.</summary>
    internal const int AtOnce = 500;

    private UndoScope _scope = null!;

    /// <param name="act">Its changes needn't be read.</param>
    /// <param name="keepsChanged">True: new posts that somebody has changed since stay, and are named.</param>
    public async Task<UndoOutcome> TakeBackAsync(ChangeSet act, Actor? by, CancellationToken cancellation, bool keepsChanged = false)
    {
        IReadOnlySet<object> held = db.Held();
        _scope = new(db, now, by, needsOthers);
        db.BeginAct(act.WorkspaceId, by, now, act.Act.TakenBack());
        // What came new goes first, so that what it stood in the place of may come back; and in parts, since it may be thousands.
        IQueryable<Change> changes = db
            .Changes.AsNoTracking()
            .Where(c => c.WorkspaceId == act.WorkspaceId && c.ChangeSetId == act.Id)
            .OrderByDescending(c => c.Number);
        bool restsOn = false;
        List<Change> part;
        int before = int.MaxValue;
        do
        {
            part = await changes.Where(c => c.Kind == ChangeKind.Added && c.Number < before).Take(AtOnce).ToListAsync(cancellation);
            await TakeBackAsync(act, part, keepsChanged, cancellation);
            restsOn |= part.Any(ChangesWhatPostsRestOn);
            if (part.Count == AtOnce)
            {
                before = part[^1].Number;
                await SettleAsync(act.WorkspaceId, cancellation);
                await db.SaveChangesAsync(cancellation);
                db.LetGo(held);
            }
        } while (part.Count == AtOnce);
        // What was changed comes back at once: rows that change places with each other can't one after the other.
        part = await changes.Where(c => c.Kind != ChangeKind.Added).ToListAsync(cancellation);
        await TakeBackAsync(act, part, keepsChanged, cancellation);
        if (restsOn || part.Any(ChangesWhatPostsRestOn))
            _scope.Touched.UnionWith(
                await db.Posts.Where(p => p.WorkspaceId == act.WorkspaceId && p.RemovedAt == null).ToListAsync(cancellation)
            );
        await SettleAsync(act.WorkspaceId, cancellation);
        act.UndoneAt = now;
        return new(_scope.Undone, _scope.Kept);
    }

    private async Task TakeBackAsync(ChangeSet act, List<Change> part, bool keepsChanged, CancellationToken cancellation)
    {
        if (part.Count == 0)
            return;
        foreach (IGrouping<string, Change> kind in part.GroupBy(c => c.Entity))
            await StoredKinds.Logged(kind.Key).LoadAsync(db, act.WorkspaceId, [.. kind.Select(c => c.EntityId).Distinct()], cancellation);
        TouchedIds touched = await TouchedAsync(act.WorkspaceId, part, cancellation);
        _scope.Begin(part, await UndoReach.FetchAsync(db, act, touched, keepsChanged, cancellation));
        foreach (Change change in part)
            await TakeBackAsync(act.WorkspaceId, change, cancellation);
    }

    /// <summary>Finds anew how posts stand that say something else now, and whether they wait.</summary>
    private async Task SettleAsync(Id<Workspace> workspace, CancellationToken cancellation)
    {
        Post[] ready = [.. _scope.Touched.Where(p => p.Stage == Stage.Ready)];
        await check(workspace, _scope.Touched);
        await db.ReconsiderAsync(workspace, _scope.Touched, now, cancellation);
        foreach (Post post in ready.Where(p => p.Stage == Stage.WaitingForApproval))
            _scope.Keep($"“{post.Title}” waits for approval: nobody has approved what it says now.");
        _scope.Touched.Clear();
    }

    private async Task TakeBackAsync(Id<Workspace> workspace, Change change, CancellationToken cancellation)
    {
        StoredKind kind = StoredKinds.Logged(change.Entity);
        UndoRule rule = kind.Log.Undo!;
        object? entity = await FindAsync(kind.Type, workspace, change.EntityId, cancellation);
        if (await rule.WhyStays(_scope, entity, change, cancellation) is { } why)
        {
            _scope.Keep(why);
            return;
        }
        switch (change.Kind)
        {
            case ChangeKind.Added when entity is not null:
                await rule.TakeAway(_scope, entity, cancellation);
                break;
            case ChangeKind.Changed when entity is not null:
                await RestoreAsync(db.Entry(entity), rule, change, cancellation);
                break;
            case ChangeKind.Removed when rule.StaysRemoved is { } words:
                _scope.Keep(words);
                break;
            case ChangeKind.Removed when entity is null:
                Recreate(kind.Type, change);
                break;
        }
    }

    private async Task<TouchedIds> TouchedAsync(Id<Workspace> workspace, List<Change> part, CancellationToken cancellation)
    {
        List<Origin> places = [];
        foreach (Change change in part.Where(c => Is<Decision>(c)))
        {
            Decision? decision = (Decision?)await FindAsync(typeof(Decision), workspace, change.EntityId, cancellation);
            if (MovedPlaces.PlaceOf(db, decision, change) is { } place)
                places.Add(place);
        }
        return new(
            [.. part.Where(c => Is<Delivery>(c)).Select(c => new Id<Delivery>(c.EntityId)).Distinct()],
            [.. part.Where(c => Is<Post>(c) && c.Kind == ChangeKind.Added).Select(c => new Id<Post>(c.EntityId)).Distinct()],
            places
        );

        static bool Is<T>(Change change) => StoredKinds.Logged(change.Entity).Type == typeof(T);
    }

    private async Task<object?> FindAsync(Type type, Id<Workspace> workspace, Guid id, CancellationToken cancellation)
    {
        object typedId = Activator.CreateInstance(typeof(Id<>).MakeGenericType(type), id)!;
        return await db.FindAsync(type, type == typeof(Workspace) ? [typedId] : [workspace, typedId], cancellation);
    }

    /// <summary>True for changes after which posts may stand otherwise with the networks though they say the same.</summary>
    private bool ChangesWhatPostsRestOn(Change change)
    {
        StoredKind kind = StoredKinds.Logged(change.Entity);
        if (kind.Log.Undo!.PostsRestOn is not { } properties)
            return false;
        return properties.Count == 0
            || db.ByProperty(kind.Type, change.Before ?? [])
                .Keys.Concat(db.ByProperty(kind.Type, change.After ?? []).Keys)
                .Any(p => properties.Contains(p));
    }

    private async Task RestoreAsync(EntityEntry entry, UndoRule rule, Change change, CancellationToken cancellation)
    {
        List<string> restored = [];
        Dictionary<string, JsonElement> all = db.ByProperty(entry.Metadata.ClrType, change.Before!),
            after = db.ByProperty(entry.Metadata.ClrType, change.After!);
        foreach ((string name, JsonElement before) in all)
        {
            if (name == nameof(Post.Version))
                continue;
            if (rule.Staying.TryGetValue(name, out string? words))
            {
                _scope.Keep(words);
                continue;
            }
            PropertyEntry property = entry.Property(name);
            bool asTheActLeftIt = JsonElement.DeepEquals(LoggedValues.Json(property, property.CurrentValue), after[name]);
            if (!asTheActLeftIt)
            {
                _scope.Keep("What was changed again since stays as it is.");
                continue;
            }
            property.CurrentValue = LoggedValues.Read<object?>(before, property.Metadata);
            restored.Add(name);
        }
        if (restored.Count == 0)
            return;
        _scope.Count();
        await rule.Afterwards(_scope, entry.Entity, all.Keys, cancellation);
    }

    private void Recreate(Type type, Change change)
    {
        EntityEntry entry = db.Entry(Activator.CreateInstance(type)!);
        foreach ((string name, JsonElement value) in db.ByProperty(type, change.Before!))
            entry.Property(name).CurrentValue = LoggedValues.Read<object?>(value, entry.Property(name).Metadata);
        entry.State = EntityState.Added;
        _scope.Count();
    }
}
