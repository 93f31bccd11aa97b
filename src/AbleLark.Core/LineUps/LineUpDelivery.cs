using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>A delivery as the line-up knows it: whose turn it was or will be, not what was sent. See
/// <see cref="Deliveries.Delivery"/>.</summary>
public sealed record LineUpDelivery
{
    public required Id<Delivery> Id { get; init; }
    public required Id<Post> PostId { get; init; }
    public required Id<Channel> ChannelId { get; init; }
    public required Origin Origin { get; init; }
    public required DeliveryState State { get; init; }
    public required bool DealtWith { get; init; }
    public required Instant At { get; init; }
    public required LocalDate LocalDate { get; init; }
    public required Instant? SentAt { get; init; }
    public required Guid? DrawnBy { get; init; }
    public required Order? DrawnInOrder { get; init; }
    public required int? Round { get; init; }
    public required int Wording { get; init; }
    public required string? TextFingerprint { get; init; }
    public required int Revision { get; init; }

    /// <summary>When it counts as the post's turn.</summary>
    public Instant TurnAt => SentAt ?? At;

    /// <summary>True while a failure keeps its post back on the channel.</summary>
    public bool HoldsBack => State is DeliveryState.Refused or DeliveryState.MayHaveGoneOut && !DealtWith;

    /// <summary>True when its post went to the front of its line, since it didn't go out.</summary>
    public bool PutsToFront => State == DeliveryState.Missed || (State == DeliveryState.Refused && DealtWith);

    public static LineUpDelivery Of(Delivery delivery) =>
        new()
        {
            Id = delivery.Id,
            PostId = delivery.PostId,
            ChannelId = delivery.ChannelId,
            Origin = delivery.Origin,
            State = delivery.State,
            DealtWith = delivery.DealtWith,
            At = delivery.At,
            LocalDate = delivery.LocalDate,
            SentAt = delivery.SentAt,
            DrawnBy = delivery.DrawnBy,
            DrawnInOrder = delivery.DrawnInOrder,
            Round = delivery.Round,
            Wording = delivery.Wording,
            TextFingerprint = delivery.TextFingerprint,
            Revision = delivery.Revision,
        };
}
