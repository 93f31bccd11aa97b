using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>Why something stays as it is.</summary>
public enum StayCode
{
    /// <summary>The delivery's state doesn't allow it.</summary>
    State,

    /// <summary>The place's state doesn't allow it.</summary>
    PlaceState,
    Disconnected,

    /// <summary>The time isn't to come, or can't be planned with; the detail says which.</summary>
    Time,

    /// <summary>The post goes out there at that time already.</summary>
    Taken,

    /// <summary>The post went out there a moment ago.</summary>
    JustNow,

    /// <summary>The post isn't ready, or no longer in the bank.</summary>
    NotReady,

    /// <summary>It waits for approval, so it can't go out at once.</summary>
    Waits,

    /// <summary>The network wouldn't take it; the detail says why.</summary>
    DoesNotFit,

    /// <summary>The place has passed, or doesn't come round.</summary>
    Gone,

    /// <summary>The place is deliveries already.</summary>
    Scheduled,

    /// <summary>Somebody changed it since it was looked at.</summary>
    ChangedSince,

    /// <summary>What would be done isn't what was shown.</summary>
    PlanChanged,

    /// <summary>The channel isn't the place's, or not that of the other.</summary>
    NotItsChannel,

    /// <summary>The post isn't in the bank.</summary>
    NotInBank,

    /// <summary>It sends nothing there that could be given away.</summary>
    SendsNothing,

    /// <summary>It would be the same as before.</summary>
    Same,

    /// <summary>The post has the place already.</summary>
    HasIt,

    /// <summary>It stands at an exact time, and the other in a place that may still change.</summary>
    ExactTime,

    /// <summary>It isn't a scheduled place to come.</summary>
    NotToBeTaken,

    /// <summary>No channel of the post has a place for it.</summary>
    NoPlace,

    /// <summary>It is still out.</summary>
    StillOut,

    /// <summary>Another goes out in its place already.</summary>
    Replaced,

    /// <summary>The post says what it said when it went out.</summary>
    SaysTheSame,
}

/// <summary>What wasn't done, and why.</summary>
/// <param name="PostId">Null: it is about a place.</param>
/// <param name="ChannelId">Null: it is about all of a place's.</param>
/// <param name="Local">When it goes out now, in the workspace's zone.</param>
/// <param name="DeliveryId">Null: it is about a place, or was to become one.</param>
/// <param name="Detail">A sentence, for codes that need one.</param>
public sealed record PlanStay(
    Id<Post>? PostId,
    Id<Channel>? ChannelId,
    LocalDateTime Local,
    Id<Delivery>? DeliveryId,
    StayCode Code,
    DeliveryState? State = null,
    string? Detail = null
)
{
    /// <summary>Null: it is about a delivery.</summary>
    public Origin? Place { get; init; }

    public PlaceState? PlaceState { get; init; }

    internal static PlanStay Of(Delivery d, StayCode code, string? detail = null) =>
        new(d.PostId, d.ChannelId, d.Time.Local, d.Id, code, d.State, detail);

    internal static PlanStay Of(LineUpPlace place, StayCode code, DateTimeZone zone, string? detail = null) =>
        new(null, null, place.Occurrence.At.InZone(zone).LocalDateTime, null, code, Detail: detail)
        {
            Place = place.Occurrence.Origin,
            PlaceState = place.State,
        };

    internal static PlanStay Gone(Origin place) => new(null, null, place.Date.AtMidnight(), null, StayCode.Gone) { Place = place };
}
