using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Orders;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>All that the line-up is worked out from; the same input always gives the same line-up.</summary>
/// <param name="Zone">The workspace's zone: gaps, lifespans and pauses are read in it.</param>
/// <param name="Bank">Posts that are not removed; ideas may be among them.</param>
/// <param name="Deliveries">Every delivery whose place or turn still matters, in any state; what lies back further may be summed
/// up in <see cref="Older"/>.</param>
public sealed record LineUpInput(
    DateTimeZone Zone,
    IReadOnlyList<Rota> Rotas,
    IReadOnlyList<Category> Categories,
    IReadOnlyList<Channel> Channels,
    IReadOnlyList<LineUpPost> Bank,
    IReadOnlyList<LineUpDelivery> Deliveries,
    NetworkBook Networks
)
{
    /// <summary>Deliveries before <see cref="OlderDeliveries.Before"/> the first instant that is asked about, summed up.</summary>
    public OlderDeliveries Older { get; init; } = OlderDeliveries.None;

    /// <summary>When posts were made on channels themselves that aren't deliveries: for spacing and the daily limit.</summary>
    public IReadOnlyList<(Id<Channel> Channel, Instant At)> Outside { get; init; } = [];

    public IReadOnlyList<Decision> Decisions { get; init; } = [];
    public IReadOnlyList<Pause> Pauses { get; init; } = [];
    public IReadOnlyList<LineMove> Moves { get; init; } = [];

    /// <summary>How well a post did on a channel, ½ to 2; one that isn't here counts 1. They stand still over one look-ahead.</summary>
    public IReadOnlyDictionary<(Id<Post>, Id<Channel>), double> Scores { get; init; } = new Dictionary<(Id<Post>, Id<Channel>), double>();
}

public enum Side
{
    Front,
    Back,
}

/// <summary>A post that a planner moved in its lines on a channel: to the front until its next turn, or to the back until every other
/// candidate has had one.</summary>
public sealed class LineMove
{
    public required Id<Workspaces.Workspace> WorkspaceId { get; init; }
    public Id<LineMove> Id { get; init; }
    public required Id<Post> PostId { get; init; }
    public required Id<Channel> ChannelId { get; init; }
    public required Side Side { get; set; }
    public required Instant At { get; set; }
}

/// <summary>The line that gave a post, for the delivery to keep.</summary>
/// <param name="Line">A category's identity, or a slot's where that is a pool.</param>
/// <param name="Round">See <see cref="Order.Shuffled"/>.</param>
public sealed record DrawnBy(Guid Line, Order Order, int? Round);

/// <summary>One channel of an occurrence: what it sends, or why it sends nothing.</summary>
/// <param name="Scheduled">The delivery it has become; null while it is a projection.</param>
public sealed record Pick(Id<Channel> ChannelId, Id<Post>? PostId, LineUpDelivery? Scheduled, Reason Reason)
{
    public DrawnBy? DrawnBy { get; init; }

    /// <summary>Which wording goes: 0 the common one, then the wordings in their order.</summary>
    public int Wording { get; init; }

    /// <summary>True while its post waits for approval.</summary>
    public bool IsWaiting { get; init; }

    /// <summary>True when a person gave the post to this place.</summary>
    public bool IsGiven { get; init; }

    /// <summary>Who goes if the post that waits has no approval in time.</summary>
    public Pick? Substitute { get; init; }

    /// <summary>The category whose turn it was, where the slot has several.</summary>
    public Id<Categories.Category>? CategoryId { get; init; }
}

public enum PlaceState
{
    Open,
    Skipped,
    Paused,

    /// <summary>Another rota replaces its own.</summary>
    Replaced,
}

/// <summary>One occurrence in the line-up.</summary>
public sealed record LineUpPlace(Occurrence Occurrence, IReadOnlyList<Pick> Picks, Reason Reason, PlaceState State = PlaceState.Open)
{
    public bool IsScheduled => Picks.Any(p => p.Scheduled is not null);
    public bool IsEmpty => Picks.All(p => p.PostId is null);
}
