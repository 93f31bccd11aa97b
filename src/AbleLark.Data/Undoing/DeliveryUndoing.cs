using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata;
using NodaTime;

namespace AbleLark.Data.Undoing;

/// <summary>Deliveries: what was sent stays sent, and nothing comes back that would go out twice or late.</summary>
internal static class DeliveryUndoing
{
    public static UndoRule Rule { get; } =
        UndoRule.Of<Delivery>(TakeAwayAsync) with
        {
            WhyStays = (undo, row, change, _) =>
                Task.FromResult(row is Delivery delivery && change.Kind == ChangeKind.Changed ? WhyStays(undo, delivery, change) : null),
            StaysRemoved = "What was given back to the rotation is scheduled anew, not brought back.",
            Afterwards = async (undo, row, _, cancellation) =>
            {
                Delivery delivery = (Delivery)row;
                if (await undo.Db.FindAsync<Post>([delivery.WorkspaceId, delivery.PostId], cancellation) is { } post)
                    undo.Touched.Add(post);
            },
        };

    private static async Task TakeAwayAsync(UndoScope undo, Delivery delivery, CancellationToken cancellation)
    {
        if (delivery.OriginKind == OriginKind.Place)
        {
            await UnscheduleAsync(undo, delivery, cancellation);
            return;
        }
        // A post that stays, since somebody changed it, keeps its times.
        if (delivery.State == DeliveryState.Cancelled || undo.Reach.ChangedSince.Contains(delivery.PostId))
            return;
        PlanChange change = PlanDoor.Withdrawn([delivery]);
        change.Apply();
        undo.Count(change.Done);
        if (change.Done == 0)
            undo.Keep("What has been sent stays sent.");
    }

    /// <summary>Gives a place back to the rotation, as if it had never been scheduled; what has become of it since stays.</summary>
    private static async Task UnscheduleAsync(UndoScope undo, Delivery delivery, CancellationToken cancellation)
    {
        Dictionary<string, JsonElement> added = undo.AddedAs(typeof(Delivery), delivery.Id.Value);
        EntityEntry<Delivery> entry = undo.Db.Entry(delivery);
        bool isAsAdded = new[] { nameof(Delivery.PostId), nameof(Delivery.At) }
            .Select(name => entry.Property(name))
            .All(p => JsonElement.DeepEquals(LoggedValues.Json(p, p.CurrentValue), added[p.Metadata.Name]));
        if (!delivery.MayMove() || delivery.Attempts > 0 || delivery.At <= undo.Now)
        {
            undo.Keep("What has been sent stays sent, and what has ended stays as it is.");
            return;
        }
        if (!isAsAdded || undo.Reach.Tied.Contains(delivery.Id))
        {
            undo.Keep("What was changed again since stays as it is.");
            return;
        }
        undo.Db.Remove(delivery);
        undo.Count();
        Workspace workspace = (await undo.Db.Workspaces.FindAsync([delivery.WorkspaceId], cancellation))!;
        LocalDate before = delivery.OriginDate.PlusDays(-1);
        if (workspace.ScheduledThrough > before)
            workspace.ScheduledThrough = before;
    }

    /// <summary>Why a delivery may not be brought back to what it was; null when it may. It comes back as a whole or not at all.</summary>
    private static string? WhyStays(UndoScope undo, Delivery delivery, Change change)
    {
        Dictionary<string, JsonElement> before = undo.Db.ByProperty(typeof(Delivery), change.Before!);
        if (before.ContainsKey(nameof(Delivery.TakenDownAt)))
            return "What was taken down stays down.";
        IEntityType type = undo.Db.Entry(delivery).Metadata;
        DeliveryState to = Of(nameof(Delivery.State), delivery.State);
        string? why = delivery.WhyNotBack(
            to,
            Of(nameof(Delivery.At), delivery.At),
            undo.Now,
            otherPost: before.ContainsKey(nameof(Delivery.PostId)),
            // As they are after what this taking back has done so far.
            replaced: undo.Reach.Replacements[delivery.Id].Any(d => d.State != DeliveryState.Cancelled)
        );
        if (why is not null)
            return why;
        bool comesBack = delivery.State == DeliveryState.Cancelled && to != DeliveryState.Cancelled;
        return comesBack && undo.Reach.Disconnected.Contains(delivery.ChannelId)
            ? "What was to go to a channel that is disconnected stays cancelled. Connect it again, then plan anew."
            : null;

        T Of<T>(string property, T present) =>
            before.TryGetValue(property, out JsonElement value) ? LoggedValues.Read<T>(value, type.FindProperty(property)!) : present;
    }
}
