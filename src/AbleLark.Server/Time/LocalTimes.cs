using AbleLark.Core;
using AbleLark.Core.Planning;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Problems;
using NodaTime;

namespace AbleLark.Server.Time;

/// <summary>Between a workspace's local times and instants.</summary>
public static class LocalTimes
{
    /// <summary>The instant of a local time that is still to come.</summary>
    public static Instant ComingInstant(this Workspace workspace, LocalDate date, LocalTime time, Instant now) =>
        workspace.WhyNot(date + time, now, out Instant at) is { } why ? throw ProblemException.BadInput(why) : at;

    /// <summary>A zone that somebody named.</summary>
    /// <exception cref="ProblemException">There is none of that name.</exception>
    public static DateTimeZone ZoneOf(string name) =>
        Zones.Find(name) ?? throw ProblemException.BadInput($"There is no time zone “{name}”. Choose one such as Europe/Dublin.");
}
