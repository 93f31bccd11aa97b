using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>When something goes out: an instant, and what clocks of the workspace's zone show then. The two can't disagree, also where a
/// clock change leaves out the time that somebody asked for.</summary>
public sealed record PlannedTime
{
    /// <summary>As it was kept.</summary>
    internal PlannedTime(Instant at, LocalDateTime local) => (At, Local) = (at, local);

    public Instant At { get; }

    public LocalDateTime Local { get; }

    /// <param name="zone">The workspace's.</param>
    public static PlannedTime Of(Instant at, DateTimeZone zone) => new(at, at.InZone(zone).LocalDateTime);
}
