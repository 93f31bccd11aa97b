using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What speaks against something that is done all the same.</summary>
public enum DoubtCode
{
    /// <summary>The post is meant for the date at the earliest.</summary>
    BeforeItsDates,

    /// <summary>The post is meant for the date at the latest.</summary>
    AfterItsDates,

    /// <summary>It would be the number of that date there, and the limit is the most.</summary>
    DailyLimit,

    /// <summary>Another goes out there less than the limit of minutes away.</summary>
    Spacing,

    /// <summary>The post goes out there on that date, and the limit of days is to lie between.</summary>
    Gap,

    /// <summary>A clock change leaves the time out: it goes out at the first one after it.</summary>
    ClockChange,

    /// <summary>The network wouldn't take it as it is.</summary>
    DoesNotFit,

    /// <summary>Rotation wouldn't send it there, by the rule.</summary>
    Rule,

    /// <summary>The same text goes to an account of its network on that date, and the network refuses it within so many days.</summary>
    IdenticalText,

    /// <summary>It waits for approval, and less time is left for that, or none was asked for until now.</summary>
    Waits,
}

/// <param name="Number">As the code says.</param>
/// <param name="Limit">As the code says.</param>
/// <param name="Local">The time that was asked for, where a clock change leaves it out.</param>
/// <param name="Time">The one that it goes out at then.</param>
/// <param name="Detail">A sentence, for codes that need one.</param>
public sealed record PlanDoubt(
    DoubtCode Code,
    LocalDate? Date = null,
    int? Number = null,
    int? Limit = null,
    LocalDateTime? Local = null,
    LocalTime? Time = null,
    string? Detail = null,
    Rule? Rule = null
);

/// <summary>What speaks against a post's going out somewhere.</summary>
/// <param name="Local">When, in the workspace's zone.</param>
public sealed record PlanRemark(Id<Post> PostId, Id<Channel> ChannelId, LocalDateTime Local, PlanDoubt Doubt);

/// <param name="From">When it went out until now.</param>
/// <param name="IsAlong">True for what goes out in the place of another that moves.</param>
public sealed record PlanMove(Delivery Delivery, PlannedTime From, PlannedTime To, bool IsAlong, IReadOnlyList<PlanDoubt> Doubts);

/// <summary>A new delivery.</summary>
public sealed record PlanAddition(Delivery Delivery, IReadOnlyList<PlanDoubt> Doubts);

/// <summary>A scheduled delivery that goes to another post.</summary>
public sealed record PlanGift(Delivery Delivery, Post Post, Channel Channel, Reason Why, IReadOnlyList<PlanDoubt> Doubts);

/// <summary>A post that goes to the front or the back of its line on a channel.</summary>
/// <param name="Side">Null: back into the order.</param>
public sealed record PlanLineMove(Id<Post> PostId, Id<Channel> ChannelId, Side? Side);

/// <summary>What comes of an act: nothing of it is done before it is applied.</summary>
public sealed record PlanChange
{
    public IReadOnlyList<PlanMove> Moves { get; init; } = [];

    /// <summary>What no longer goes out.</summary>
    public IReadOnlyList<Delivery> Cancelled { get; init; } = [];

    public IReadOnlyList<PlanAddition> Added { get; init; } = [];
    public IReadOnlyList<PlanGift> Given { get; init; } = [];

    /// <summary>Failures that nobody has to mind any more.</summary>
    public IReadOnlyList<Delivery> DealtWith { get; init; } = [];

    public IReadOnlyList<(Delivery Delivery, AfterSending Becomes, PlannedTime Now)> After { get; init; } = [];
    public IReadOnlyList<PlaceDecision> Decided { get; init; } = [];
    public IReadOnlyList<PlanLineMove> InLines { get; init; } = [];
    public IReadOnlyList<PlanStay> Stays { get; init; } = [];

    /// <summary>With how many of the things named it is done.</summary>
    public int Done { get; init; }

    /// <summary>What speaks against what is done.</summary>
    public IEnumerable<PlanRemark> Remarks =>
        [
            .. Moves.SelectMany(m => Of(m.Delivery, m.Delivery.PostId, m.To, m.Doubts)),
            .. Added.SelectMany(a => Of(a.Delivery, a.Delivery.PostId, a.Delivery.Time, a.Doubts)),
            .. Given.SelectMany(g => Of(g.Delivery, g.Post.Id, g.Delivery.Time, g.Doubts)),
            .. Decided.SelectMany(d => d.Remarks),
        ];

    private static IEnumerable<PlanRemark> Of(Delivery d, Id<Post> post, PlannedTime time, IReadOnlyList<PlanDoubt> doubts) =>
        doubts.Select(doubt => new PlanRemark(post, d.ChannelId, time.Local, doubt));

    /// <summary>The same, for what decides about no place.</summary>
    public void Apply() => Apply(o => throw new InvalidOperationException($"It is decided about {o}, and nobody opens decisions."));

    /// <summary>Does it with what is there; whoever keeps deliveries and posts' lines adds the new ones.</summary>
    /// <param name="open">The decision about a place that is decided about, a new one where there is none: whoever keeps them takes away
    /// those that are empty afterwards.</param>
    public void Apply(Func<Origin, Decision> open)
    {
        foreach (PlanMove move in Moves)
            move.Delivery.MoveTo(move.To);
        foreach (Delivery cancelled in Cancelled)
            cancelled.Become(DeliveryState.Cancelled);
        foreach (PlanGift gift in Given)
            gift.Delivery.GiveTo(gift.Post, gift.Channel, gift.Why);
        foreach ((Delivery delivery, AfterSending becomes, PlannedTime now) in After)
            delivery.BecomeAfter(becomes, now);
        foreach (Delivery delivery in DealtWith)
            delivery.DealWith();
        foreach (PlaceDecision place in Decided)
            open(place.Place).Be(place.IsSkipped, place.MovedTo, place.Note, place.Posts);
    }

    /// <summary>The two as one.</summary>
    internal PlanChange And(PlanChange other) =>
        new()
        {
            Moves = [.. Moves, .. other.Moves],
            Cancelled = [.. Cancelled, .. other.Cancelled],
            Added = [.. Added, .. other.Added],
            Given = [.. Given, .. other.Given],
            DealtWith = [.. DealtWith, .. other.DealtWith],
            After = [.. After, .. other.After],
            Decided = [.. Decided, .. other.Decided],
            InLines = [.. InLines, .. other.InLines],
            Stays = [.. Stays, .. other.Stays],
            Done = Done + other.Done,
        };
}
