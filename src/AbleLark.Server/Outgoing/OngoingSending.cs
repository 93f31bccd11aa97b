using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Outgoing;

/// <summary>A delivery on its way out, with all that its sending rests on.</summary>
public sealed class OngoingSending
{
    public required Delivery Delivery { get; init; }
    public required Workspace Workspace { get; init; }
    public required Channel Channel { get; init; }
    public required Post Post { get; init; }

    /// <summary>Oldest first.</summary>
    public required List<DeliveryAttempt> Attempts { get; init; }

    public NetworkRules Rules { get; set; } = null!;
    public SendingPlan Plan { get; set; } = null!;

    /// <summary>In the order in which they are run.</summary>
    public IReadOnlyList<SendingStep> Steps { get; set; } = [];

    /// <summary>The files that its steps need, as far as they are there.</summary>
    public Dictionary<Id<MediaFile>, MediaFile> Files { get; set; } = [];

    /// <summary>The step that posts the post itself.</summary>
    public SendingStep Main => Steps.First(s => s.Publishes);

    /// <summary>The attempt that posted the post itself; null: it isn't known to be out.</summary>
    public DeliveryAttempt? Posted => Steps.Count == 0 ? null : SendingPlan.DoneOf(Main.Key, Attempts);

    /// <summary>Loads a delivery; null when it isn't under that lease any more.</summary>
    public static async Task<OngoingSending?> LoadAsync(LarkDb db, Id<Workspace> workspace, Id<Delivery> id, Guid lease)
    {
        Delivery delivery = await db.Deliveries.SingleAsync(d => d.WorkspaceId == workspace && d.Id == id);
        if (delivery.Lease != lease || delivery.State != DeliveryState.Sending)
            return null;
        return new()
        {
            Delivery = delivery,
            Channel = await db.Channels.SingleAsync(c => c.WorkspaceId == workspace && c.Id == delivery.ChannelId),
            Workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspace),
            Post = await db.Posts.AsNoTracking().SingleAsync(p => p.WorkspaceId == workspace && p.Id == delivery.PostId),
            Attempts = await db
                .DeliveryAttempts.Where(a => a.WorkspaceId == workspace && a.DeliveryId == id)
                .OrderBy(a => a.StartedAt)
                .ToListAsync(),
        };
    }

    /// <summary>A try at a step, to be written down before its call.</summary>
    public DeliveryAttempt Begin(SendingStep step, NodaTime.Instant startedAt, NodaTime.Instant since)
    {
        DeliveryAttempt attempt = new()
        {
            WorkspaceId = Delivery.WorkspaceId,
            Id = Id<DeliveryAttempt>.New(),
            DeliveryId = Delivery.Id,
            Step = step.Key,
            Publishes = step.Publishes,
            StartedAt = startedAt,
            Since = since,
        };
        Attempts.Add(attempt);
        return attempt;
    }
}
