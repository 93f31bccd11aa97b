using NodaTime;

namespace AbleLark.Core.Workspaces;

/// <summary>One client or brand: its own channels, categories, posts, people and time zone.</summary>
public sealed class Workspace
{
    public required Id<Workspace> Id { get; init; }

    /// <summary>Name in addresses: lower-case letters, digits and hyphens; unique.</summary>
    public required string Slug { get; init; }

    public required string Name { get; set; }

    /// <summary>Colour of the palette, by name, that tells it from others.</summary>
    public string Colour { get; set; } = "slate";

    /// <summary>Identity of a picture among its media; null: none.</summary>
    public Guid? LogoId { get; set; }

    /// <summary>The zone in which all its local dates and times are read.</summary>
    public required DateTimeZone Zone { get; set; }

    /// <summary>How long before its time an occurrence becomes a delivery.</summary>
    public Duration ScheduleAhead { get; set; } = Duration.FromHours(24);

    /// <summary>A delivery later than this becomes missed and never goes by itself.</summary>
    public Duration LateAfter { get; set; } = Duration.FromMinutes(60);

    /// <summary>Share of repeats, 0 to 1, above which a channel has too many repeats.</summary>
    public double WarnAboveRepeats { get; set; } = 0.6;

    /// <summary>True: whoever changed a post last may approve it as well.</summary>
    public bool AllowsOwnApproval { get; set; }

    /// <summary>What buttons say, where a network has them; empty: anything.</summary>
    public IReadOnlyList<string> ButtonVerbs { get; set; } = [];

    /// <summary>Last local date that has been scheduled as a whole.</summary>
    public LocalDate? ScheduledThrough { get; set; }

    /// <summary>Grows with every change that may alter the line-up.</summary>
    public long PlanStamp { get; set; }

    /// <summary>The <see cref="PlanStamp"/> that the last scheduling saw.</summary>
    public long ScheduledStamp { get; set; } = -1;

    /// <summary>When, as the last scheduling saw it, the next place passes that is still unscheduled; null before the first.</summary>
    public Instant? NextToPass { get; set; }

    /// <summary>The local date of an instant.</summary>
    public LocalDate DateOf(Instant instant) => instant.InZone(Zone).Date;

    /// <summary>The instant at which a local date begins.</summary>
    public Instant StartOf(LocalDate date) => Zone.AtStartOfDay(date).ToInstant();
}
