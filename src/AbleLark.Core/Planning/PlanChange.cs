using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>Why something stays as it is.</summary>
public enum StayCode
{
    /// <summary>Its state doesn't allow it.</summary>
    State,
    Disconnected,

    /// <summary>The time isn't to come, or can't be planned with; the detail says which.</summary>
    Time,

    /// <summary>The post goes out there at that time already.</summary>
    Taken,

    /// <summary>The post isn't ready, or no longer in the bank.</summary>
    NotReady,

    /// <summary>The network wouldn't take it; the detail says why.</summary>
    DoesNotFit,
}

/// <summary>What wasn't done, and why.</summary>
/// <param name="Local">When it goes out now, in the workspace's zone.</param>
/// <param name="DeliveryId">Null: it was to become one.</param>
/// <param name="Detail">A sentence, for codes that need one.</param>
public sealed record PlanStay(
    Id<Post> PostId,
    Id<Channel> ChannelId,
    LocalDateTime Local,
    Id<Delivery>? DeliveryId,
    StayCode Code,
    DeliveryState? State = null,
    string? Detail = null
)
{
    internal static PlanStay Of(Delivery d, StayCode code, string? detail = null) =>
        new(d.PostId, d.ChannelId, d.Time.Local, d.Id, code, d.State, detail);
}

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
    string? Detail = null
);

/// <param name="From">When it went out until now.</param>
/// <param name="IsAlong">True for what goes out in the place of another that moves.</param>
public sealed record PlanMove(Delivery Delivery, PlannedTime From, PlannedTime To, bool IsAlong, IReadOnlyList<PlanDoubt> Doubts);

/// <summary>A new delivery.</summary>
public sealed record PlanAddition(Delivery Delivery, IReadOnlyList<PlanDoubt> Doubts);

/// <summary>What comes of an act: nothing of it is done before <see cref="Apply"/>.</summary>
public sealed record PlanChange
{
    public IReadOnlyList<PlanMove> Moves { get; init; } = [];

    /// <summary>What no longer goes out.</summary>
    public IReadOnlyList<Delivery> Cancelled { get; init; } = [];

    public IReadOnlyList<PlanAddition> Added { get; init; } = [];

    /// <summary>Failures that nobody has to mind any more.</summary>
    public IReadOnlyList<Delivery> DealtWith { get; init; } = [];

    public IReadOnlyList<PlanStay> Stays { get; init; } = [];

    /// <summary>With how many of the things named it is done.</summary>
    public int Done { get; init; }

    /// <summary>What speaks against what is done, by delivery.</summary>
    public IEnumerable<(Delivery Delivery, IReadOnlyList<PlanDoubt> Doubts)> Doubts =>
        Moves.Select(m => (m.Delivery, m.Doubts)).Concat(Added.Select(a => (a.Delivery, a.Doubts)));

    /// <summary>Does it; whoever keeps deliveries adds the new ones.</summary>
    public void Apply()
    {
        foreach (PlanMove move in Moves)
            move.Delivery.MoveTo(move.To);
        foreach (Delivery cancelled in Cancelled)
            cancelled.Become(DeliveryState.Cancelled);
        foreach (Delivery delivery in DealtWith)
            delivery.DealtWith = true;
    }
}
