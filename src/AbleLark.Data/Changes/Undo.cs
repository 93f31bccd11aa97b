using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Calendars;
using AbleLark.Core.Channels;
using AbleLark.Core.Contacts;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.LineUps;
using AbleLark.Core.Media;
using AbleLark.Core.Pauses;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.History;
using AbleLark.Data.Kinds;
using AbleLark.Data.Posts;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata;
using NodaTime;

namespace AbleLark.Data.Changes;

/// <param name="Undone">Things that are as before.</param>
/// <param name="Kept">What could not be taken back, in words.</param>
public sealed record UndoOutcome(int Undone, IReadOnlyList<string> Kept);

/// <summary>
/// Takes an act back from its change set. What was sent stays sent, nothing comes back that would go out twice or late, and what somebody
/// changed since stays as they left it.
/// Taking back is an act of its own. The caller saves.
/// </summary>
/// <param name="needsOthers">True for somebody who may not approve: what a post says after it waits for somebody who may.</param>
/// <param name="check">Finds anew how posts stand with the networks, by what they say now.</param>
public sealed class Undo(LarkDb db, Instant now, bool needsOthers, Func<Id<Workspace>, IReadOnlyCollection<Post>, Task> check)
{
    private readonly List<string> _kept = [];
    private readonly HashSet<Post> _touched = [];
    private Guid? _person;
    private int _undone;
    private UndoReach _reach = UndoReach.None;

    /// <param name="keepsChanged">True: new posts that somebody has changed since stay, and are named.</param>
    public async Task<UndoOutcome> TakeBackAsync(ChangeSet act, Guid? person, CancellationToken cancellation, bool keepsChanged = false)
    {
        _person = person;
        _reach = await UndoReach.FetchAsync(db, act, keepsChanged, cancellation);
        db.BeginAct(act.WorkspaceId, person, now, $"Took back: {act.Act}");
        // What came new goes first, so that what it stood in the place of may come back.
        foreach (Change change in act.Changes.OrderBy(c => c.Kind != ChangeKind.Added).ThenByDescending(c => c.Number))
        {
            Type type = StoredKinds.Logged(change.Entity).Type;
            object? entity = await FindAsync(type, act.WorkspaceId, change.EntityId, cancellation);
            if (type == typeof(Decision) && await MovedPlaces.WhyStaysAsync(db, act.WorkspaceId, change, cancellation) is { } why)
            {
                _kept.Add(why);
                continue;
            }
            switch (change.Kind)
            {
                case ChangeKind.Added when entity is Delivery { OriginKind: OriginKind.Place } scheduled:
                    await UnscheduleAsync(scheduled, change, cancellation);
                    break;
                case ChangeKind.Added when entity is not null:
                    await RemoveAsync(entity, cancellation);
                    break;
                case ChangeKind.Changed when entity is not null:
                    await RestoreAsync(db.Entry(entity), change, cancellation);
                    break;
                case ChangeKind.Removed when type == typeof(Delivery):
                    _kept.Add("What was given back to the rotation is scheduled anew, not brought back.");
                    break;
                case ChangeKind.Removed when type == typeof(Approval):
                    _kept.Add("An approval does not come back by itself: it is given again, by whoever reads the post.");
                    break;
                case ChangeKind.Removed when entity is null:
                    Recreate(type, change);
                    break;
            }
        }
        if (act.Changes.Any(ChangesWhatPostsRestOn))
            _touched.UnionWith(
                await db.Posts.Where(p => p.WorkspaceId == act.WorkspaceId && p.RemovedAt == null).ToListAsync(cancellation)
            );
        Post[] ready = [.. _touched.Where(p => p.Stage == Stage.Ready)];
        await check(act.WorkspaceId, _touched);
        await db.ReconsiderAsync(act.WorkspaceId, _touched, now, cancellation);
        foreach (Post post in ready.Where(p => p.Stage == Stage.WaitingForApproval))
            _kept.Add($"“{post.Title}” waits for approval: nobody has approved what it says now.");
        act.UndoneAt = now;
        return new(_undone, [.. _kept.Distinct()]);
    }

    private async Task<object?> FindAsync(Type type, Id<Workspace> workspace, Guid id, CancellationToken cancellation)
    {
        object typedId = Activator.CreateInstance(typeof(Id<>).MakeGenericType(type), id)!;
        return await db.FindAsync(type, type == typeof(Workspace) ? [typedId] : [workspace, typedId], cancellation);
    }

    private async Task RemoveAsync(object entity, CancellationToken cancellation)
    {
        switch (entity)
        {
            case Delivery delivery:
                CancelDelivery(delivery);
                break;
            case Post post:
                RemovePost(post);
                break;
            case Slot slot:
                slot.RemovedAt ??= now;
                _undone++;
                break;
            case Rota rota:
                rota.RemovedAt ??= now;
                _undone++;
                break;
            case Approval approval:
                db.Remove(approval);
                if (await db.FindAsync<Post>([approval.WorkspaceId, approval.PostId], cancellation) is { } covered)
                    _touched.Add(covered);
                _undone++;
                break;
            case MediaFile:
                // Files stay; whoever wants one away takes it out of the workspace's media.
                break;
            case Decision or Pause or LineMove or PassedPlace or CalendarNote or SavedFilter or ChannelGroup or KeyDateTie:
                db.Remove(entity);
                _undone++;
                break;
            case KeyDate keyDate:
                await db.RemoveKeyDatesAsync(keyDate.WorkspaceId, [keyDate], cancellation);
                _undone++;
                break;
            case CalendarSource source:
                _undone += await db.RemoveSourceAsync(source, cancellation);
                break;
            case Core.Categories.Category category
                when !await db.Posts.AnyAsync(p => p.WorkspaceId == category.WorkspaceId && p.CategoryId == category.Id, cancellation)
                    && !await db.HasSlotsAsync(category.WorkspaceId, category.Id, cancellation):
                db.Remove(category);
                _undone++;
                break;
            default:
                _kept.Add("Something that is in use by now stays.");
                break;
        }
    }

    private void CancelDelivery(Delivery delivery)
    {
        // A post that stays, since somebody changed it, keeps its times.
        if (delivery.State == DeliveryState.Cancelled || _reach.ChangedSince.Contains(delivery.PostId))
            return;
        PlanChange change = PlanDoor.Withdrawn([delivery]);
        change.Apply();
        _undone += change.Done;
        if (change.Done == 0)
            _kept.Add("What has been sent stays sent.");
    }

    /// <summary>Gives a place back to the rotation, as if it had never been scheduled; what has become of it since stays.</summary>
    private async Task UnscheduleAsync(Delivery delivery, Change change, CancellationToken cancellation)
    {
        Dictionary<string, JsonElement> added = db.ByProperty(typeof(Delivery), change.After!);
        EntityEntry<Delivery> entry = db.Entry(delivery);
        bool isAsAdded = new[] { nameof(Delivery.PostId), nameof(Delivery.At) }
            .Select(entry.Property)
            .All(p => JsonElement.DeepEquals(ChangeRecorder.Json(p, p.CurrentValue), added[p.Metadata.Name]));
        if (!delivery.MayMove() || delivery.Attempts > 0 || delivery.At <= now)
        {
            _kept.Add("What has been sent stays sent, and what has ended stays as it is.");
            return;
        }
        if (
            !isAsAdded
            || await db.KeyDateTies.AnyAsync(t => t.WorkspaceId == delivery.WorkspaceId && t.DeliveryId == delivery.Id, cancellation)
        )
        {
            _kept.Add("What was changed again since stays as it is.");
            return;
        }
        db.Remove(delivery);
        _undone++;
        Workspace workspace = (await db.Workspaces.FindAsync([delivery.WorkspaceId], cancellation))!;
        LocalDate before = delivery.OriginDate.PlusDays(-1);
        if (workspace.ScheduledThrough > before)
            workspace.ScheduledThrough = before;
    }

    private void RemovePost(Post post)
    {
        if (_reach.DeliveriesOf[post.Id].Any(d => Out.Contains(d.State)))
        {
            _kept.Add($"“{post.Title}” has been sent, so it stays in the bank.");
            return;
        }
        if (_reach.ChangedSince.Contains(post.Id))
        {
            _kept.Add($"“{post.Title}” has been changed since, so it stays.");
            return;
        }
        PostRemoval.TakeOut(post, _reach.DeliveriesOf[post.Id], now);
        _undone++;
    }

    /// <summary>True for changes after which posts may stand otherwise with the networks though they say the same.</summary>
    private static bool ChangesWhatPostsRestOn(Change change)
    {
        Type type = StoredKinds.Logged(change.Entity).Type;
        return type == typeof(Contact)
            || (type == typeof(Channel) && Concerns(nameof(Channel.Figures)))
            || (type == typeof(Workspace) && Concerns(nameof(Workspace.ButtonVerbs)))
            || (type == typeof(MediaFile) && Concerns(nameof(MediaFile.AltText)));

        // The log names columns: alt_text.
        bool Concerns(string property) =>
            (change.Before ?? [])
                .Keys.Concat((change.After ?? []).Keys)
                .Any(c => string.Equals(c.Replace("_", "", StringComparison.Ordinal), property, StringComparison.OrdinalIgnoreCase));
    }

    /// <summary>States of a delivery that has gone out, may have, or is on its way.</summary>
    private static readonly DeliveryState[] Out =
    [
        DeliveryState.Sending,
        DeliveryState.Sent,
        DeliveryState.MayHaveGoneOut,
        DeliveryState.PostItYourself,
    ];

    /// <summary>Why a delivery may not be brought back to what it was; null when it may. It comes back as a whole or not at all.</summary>
    private async Task<string?> WhyNotAsync(Delivery delivery, Change change, CancellationToken cancellation)
    {
        Dictionary<string, JsonElement> before = db.ByProperty(delivery.GetType(), change.Before!);
        IEntityType type = db.Entry(delivery).Metadata;
        DeliveryState to = before.TryGetValue(nameof(Delivery.State), out JsonElement state)
            ? Value<DeliveryState>(state, type.FindProperty(nameof(Delivery.State))!)
            : delivery.State;
        Instant at = before.TryGetValue(nameof(Delivery.At), out JsonElement time)
            ? Value<Instant>(time, type.FindProperty(nameof(Delivery.At))!)
            : delivery.At;
        // Asked of the database and of what this taking back has done so far.
        List<Delivery> instead = await db
            .Deliveries.Where(d => d.WorkspaceId == delivery.WorkspaceId && d.InsteadOf == delivery.Id)
            .ToListAsync(cancellation);
        if (
            delivery.WhyNotBack(
                to,
                at,
                now,
                otherPost: before.ContainsKey(nameof(Delivery.PostId)),
                replaced: instead.Any(d => d.State != DeliveryState.Cancelled)
            ) is
            { } why
        )
            return why;
        bool comesBack = delivery.State == DeliveryState.Cancelled && to != DeliveryState.Cancelled;
        return
            comesBack
            && await db.Channels.AnyAsync(
                c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId && c.Connection == ConnectionState.Disconnected,
                cancellation
            )
            ? "What was to go to a channel that is disconnected stays cancelled. Connect it again, then plan anew."
            : null;
    }

    private async Task RestoreAsync(EntityEntry entry, Change change, CancellationToken cancellation)
    {
        if (entry.Entity is Delivery delivery && await WhyNotAsync(delivery, change, cancellation) is { } why)
        {
            _kept.Add(why);
            return;
        }
        bool any = false;
        Dictionary<string, JsonElement> all = db.ByProperty(entry.Metadata.ClrType, change.Before!),
            after = db.ByProperty(entry.Metadata.ClrType, change.After!);
        foreach ((string name, JsonElement before) in all)
        {
            if (name == nameof(Post.Version))
                continue;
            if (entry.Entity is Channel && name is nameof(Channel.Connection) or nameof(Channel.ConnectionTrouble))
            {
                _kept.Add("A connection does not come back by itself: connect the channel again.");
                continue;
            }
            if (entry.Entity is Delivery && name is nameof(Delivery.TakenDownAt))
            {
                _kept.Add("What was taken down stays down.");
                return;
            }
            PropertyEntry property = entry.Property(name);
            bool asTheActLeftIt = JsonElement.DeepEquals(ChangeRecorder.Json(property, property.CurrentValue), after[name]);
            if (!asTheActLeftIt)
            {
                _kept.Add("What was changed again since stays as it is.");
                continue;
            }
            property.CurrentValue = Value<object?>(before, property.Metadata);
            any = true;
        }
        if (!any)
            return;
        _undone++;
        if (entry.Entity is Core.Categories.Category && all.ContainsKey(nameof(Core.Categories.Category.NeedsApproval)))
            _touched.UnionWith(await db.InCategoryAsync((Core.Categories.Category)entry.Entity, cancellation));
        if (entry.Entity is Delivery brought && await db.FindAsync<Post>([brought.WorkspaceId, brought.PostId], cancellation) is { } its)
            _touched.Add(its);
        if (entry.Entity is Rota rota)
            rota.Version++;
        if (entry.Entity is Post post)
        {
            post.Version++;
            _touched.Add(post);
            // Words that come back are what this person makes of the post, whatever it was when they stood there before.
            if (needsOthers && all.ContainsKey(nameof(Post.Content)) && post.Stage is Stage.Ready or Stage.WaitingForApproval)
                post.AskForApproval();
            if (all.ContainsKey(nameof(Post.Content)))
                db.PostVersions.Add(
                    new PostVersion
                    {
                        WorkspaceId = post.WorkspaceId,
                        PostId = post.Id,
                        Number = post.Version,
                        Content = post.Content,
                        MadeAt = now,
                        MadeBy = _person,
                    }
                );
        }
    }

    private void Recreate(Type type, Change change)
    {
        EntityEntry entry = db.Entry(Activator.CreateInstance(type)!);
        foreach ((string name, JsonElement value) in db.ByProperty(type, change.Before!))
            entry.Property(name).CurrentValue = Value<object?>(value, entry.Property(name).Metadata);
        entry.State = EntityState.Added;
        _undone++;
    }

    private static T Value<T>(JsonElement json, IProperty property) => (T)json.Deserialize(property.ClrType, LarkJson.Options)!;
}
