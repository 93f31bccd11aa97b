using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What somebody wants done with deliveries. <see cref="PlanDoor"/> says what comes of it.</summary>
public abstract record PlanAct
{
    private PlanAct() { }

    /// <summary>Each goes out at another time, as the same delivery. What goes out in its place moves along.</summary>
    public sealed record Move(IReadOnlyList<MoveWish> Wishes) : PlanAct;

    /// <summary>Each takes the other's time; both or none.</summary>
    public sealed record Exchange(Delivery One, Delivery Other) : PlanAct;

    /// <summary>Posts go out once more, at exact times.</summary>
    public sealed record Copy(IReadOnlyList<CopyWish> Wishes) : PlanAct;

    /// <summary>None of them goes out, nor anything in their place.</summary>
    public sealed record Cancel(IReadOnlyList<Delivery> Deliveries) : PlanAct;

    /// <summary>What failed is planned anew, as a delivery with a key of its own; what is still to come moves.</summary>
    /// <param name="To">In the workspace's zone.</param>
    public sealed record Reschedule(Delivery Delivery, LocalDateTime To) : PlanAct;

    /// <summary>Nothing more is to be done about a failure.</summary>
    public sealed record Dismiss(Delivery Delivery) : PlanAct;
}

/// <param name="To">In the workspace's zone; a time that a clock change leaves out is the one after it.</param>
public sealed record MoveWish(Delivery Delivery, LocalDateTime To);

/// <param name="Wording">The one to take while it can go; null: the first that can.</param>
/// <param name="From">When it goes out that is copied, in the workspace's zone.</param>
/// <param name="To">In the workspace's zone.</param>
/// <param name="InsteadOf">The delivery that it makes good; null: none.</param>
public sealed record CopyWish(
    Id<Post> PostId,
    Id<Channel> ChannelId,
    int? Wording,
    LocalDateTime From,
    LocalDateTime To,
    Id<Delivery>? InsteadOf = null
);
