using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Rotas;

/// <summary>By which way a delivery comes about.</summary>
public enum OriginKind
{
    /// <summary>A place of a rota.</summary>
    Place,

    /// <summary>A date and time that a person gave a post.</summary>
    ExactTime,

    /// <summary>One of the times of a repeat.</summary>
    Repeat,

    /// <summary>Posted by a person on the network itself.</summary>
    Outside,
}

/// <summary>
/// Where a delivery comes from. Decisions stick to it, and it is unique with the channel among deliveries that still hold their place: so
/// nothing is planned twice, whatever becomes of its time, and by however many processes.
/// </summary>
/// <param name="Id">Of the slot, for a place; of the repeat; of the post, for an exact time and one made outside.</param>
/// <param name="Date">Original local date, in the zone of rota or repeat; an exact time's in the workspace's.</param>
/// <param name="Time">Original local time; null for a place, whose decisions outlast a change of its slot's time.</param>
public readonly record struct Origin(OriginKind Kind, Guid Id, LocalDate Date, LocalTime? Time)
{
    /// <summary>The slot whose place it is; null for any other kind.</summary>
    public Id<Slot>? SlotId => Kind == OriginKind.Place ? new Id<Slot>(Id) : null;

    /// <param name="date">Original local date, in the rota's zone.</param>
    public static Origin Place(Id<Slot> slot, LocalDate date) => new(OriginKind.Place, slot.Value, date, null);

    /// <param name="local">In the workspace's zone.</param>
    public static Origin ExactTime(Id<Post> post, LocalDateTime local) =>
        new(OriginKind.ExactTime, post.Value, local.Date, local.TimeOfDay);
}

/// <summary>A row that says where it comes from, or which occurrence it is about. It never changes but for an exact time
/// that moves; what makes good a failed delivery is an exact time of its own that names it.</summary>
public abstract class HasOrigin
{
    public required Origin Origin
    {
        get => new(OriginKind, OriginId, OriginDate, OriginTime);
        init => ComeFrom(value);
    }

    /// <summary>The parts of <see cref="Origin"/>, as they are kept and asked for.</summary>
    public OriginKind OriginKind { get; private set; }

    public Guid OriginId { get; private set; }
    public LocalDate OriginDate { get; private set; }
    public LocalTime? OriginTime { get; private set; }

    internal void ComeFrom(Origin origin) =>
        (OriginKind, OriginId, OriginDate, OriginTime) = (origin.Kind, origin.Id, origin.Date, origin.Time);
}
