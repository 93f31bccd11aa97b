using AbleLark.Core.Bookings;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What somebody wants done with deliveries and places. <see cref="PlanDoor"/> says what comes of it.</summary>
public abstract record PlanAct
{
    private PlanAct() { }

    /// <summary>Each goes out at another time, as the same delivery. What goes out in its place moves along.</summary>
    public sealed record Move(IReadOnlyList<MoveWish> Wishes) : PlanAct;

    /// <summary>Each goes out so much later, or earlier. A place keeps the posts that it would send now.</summary>
    public sealed record Shift(IReadOnlyList<Delivery> Deliveries, IReadOnlyList<SeenPlace> Places, TimeShift By) : PlanAct;

    /// <summary>Two deliveries take each other's time. Places, or a place and a delivery of one, take each other's post. Both or
    /// none.</summary>
    /// <param name="Channel">On which; null: on all that both have.</param>
    public sealed record Exchange(PlanSide One, PlanSide Other, Id<Channel>? Channel = null) : PlanAct
    {
        public Exchange(Delivery one, Delivery other)
            : this(new PlanSide(one), new PlanSide(other)) { }
    }

    /// <summary>Posts go out at exact times.</summary>
    public sealed record Copy(IReadOnlyList<CopyWish> Wishes) : PlanAct;

    /// <summary>What goes out there goes out once more, so much later or earlier, at an exact time.</summary>
    public sealed record CopyBy(IReadOnlyList<Delivery> Deliveries, IReadOnlyList<SeenPlace> Places, TimeShift By) : PlanAct;

    /// <summary>None of them goes out, nor anything in their place; places are skipped.</summary>
    public sealed record Cancel(IReadOnlyList<Delivery> Deliveries, IReadOnlyList<SeenPlace> Places) : PlanAct
    {
        public Cancel(IReadOnlyList<Delivery> deliveries)
            : this(deliveries, []) { }
    }

    /// <summary>What was for something that is no longer there, such as a channel, doesn't go out, as far as it can be kept
    /// back.</summary>
    public sealed record Withdraw(IReadOnlyList<Delivery> Deliveries) : PlanAct;

    /// <summary>What failed is planned anew, as a delivery with a key of its own; what is still to come moves.</summary>
    /// <param name="To">In the workspace's zone.</param>
    public sealed record Reschedule(Delivery Delivery, LocalDateTime To) : PlanAct;

    /// <summary>Nothing more is to be done about a failure.</summary>
    public sealed record Dismiss(Delivery Delivery) : PlanAct;

    /// <summary>What people decide about places that may still change.</summary>
    public sealed record Decide(IReadOnlyList<PlaceWish> Wishes) : PlanAct;

    /// <summary>A scheduled place goes to another post; the one that had it goes to the front of its line.</summary>
    public sealed record Take(Delivery Delivery, Id<Post> PostId) : PlanAct;

    /// <summary>A post gets a place of the rota on each of its channels, instead of waiting for its turn.</summary>
    /// <param name="Shown">What it was said to do; null: it is done whatever it does.</param>
    public sealed record Book(Id<Post> PostId, BookingKind Kind, IReadOnlyList<ShownMove>? Shown = null) : PlanAct;

    /// <summary>A post goes to the front or the back of its lines, or back into the order.</summary>
    /// <param name="Side">Null: into the order.</param>
    public sealed record MoveInLines(Id<Post> PostId, IReadOnlyList<Id<Channel>> Channels, Side? Side) : PlanAct;

    /// <summary>The network is looked through once more for what may have gone out; nothing is sent.</summary>
    public sealed record LookAgain(Delivery Delivery) : PlanAct;

    /// <summary>A person looked, and what may have gone out isn't there: it goes out now.</summary>
    /// <param name="HonoursKeys">The network takes what it has under the same key once only, so the same delivery goes once more; false: a
    /// delivery of its own does.</param>
    public sealed record SendAgain(Delivery Delivery, bool HonoursKeys) : PlanAct;

    /// <summary>What is out is off the network again.</summary>
    public sealed record TakeDown(Delivery Delivery) : PlanAct;

    /// <summary>What was taken down goes out again, as its post says it now.</summary>
    /// <param name="To">In the workspace's zone; null: now.</param>
    /// <param name="Latest">The newest of the post's versions.</param>
    public sealed record SendCorrected(Delivery Delivery, LocalDateTime? To, int Latest) : PlanAct;
}

/// <param name="To">In the workspace's zone; a time that a clock change leaves out is the one after it.</param>
public sealed record MoveWish(Delivery Delivery, LocalDateTime To);

/// <summary>So much later by the clock; below nought: earlier.</summary>
public readonly record struct TimeShift(int Days, int Minutes = 0)
{
    public LocalDateTime From(LocalDateTime local) => local.PlusDays(Days).PlusMinutes(Minutes);
}

/// <param name="Wording">The one to take while it can go; null: the first that can.</param>
/// <param name="From">When it goes out that is copied, in the workspace's zone.</param>
/// <param name="To">In the workspace's zone; null: now, unless it went out there just now.</param>
/// <param name="InsteadOf">The delivery that it makes good; null: none.</param>
public sealed record CopyWish(
    Id<Post> PostId,
    Id<Channel> ChannelId,
    int? Wording,
    LocalDateTime From,
    LocalDateTime? To,
    Id<Delivery>? InsteadOf = null
);

/// <summary>A post's way to another place, as somebody was shown it.</summary>
/// <param name="To">In the workspace's zone; null: no place, but the front of its line.</param>
public sealed record ShownMove(Id<Post> PostId, Id<Channel> ChannelId, LocalDateTime? To);

/// <summary>A place that may still change, as somebody saw it.</summary>
/// <param name="Revision">Of what was decided about it; nought: nothing was.</param>
public sealed record SeenPlace(Origin Place, int Revision);

/// <summary>One of two that are exchanged: a delivery, or a place.</summary>
/// <param name="Expected">What was to go out there when it was looked at; null: it doesn't matter.</param>
public sealed record PlanSide(Delivery? Delivery, SeenPlace? Place = null, Id<Post>? Expected = null);

/// <summary>What a person decides about one place; what isn't named stays as it is.</summary>
/// <param name="IsFreed">True: back to the rotation first, with only its note kept.</param>
/// <param name="MovedTo">In the rota's zone. What its channels would send is fixed to it.</param>
/// <param name="Note">Empty takes it away.</param>
/// <param name="Picks">Posts that these channels shall send; nothing but a person changes them.</param>
public sealed record PlaceWish(
    SeenPlace Place,
    bool IsFreed = false,
    bool? IsSkipped = null,
    LocalDateTime? MovedTo = null,
    string? Note = null,
    IReadOnlyList<(Id<Channel> Channel, Id<Post> Post)>? Picks = null
);
