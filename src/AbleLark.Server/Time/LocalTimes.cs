using AbleLark.Core;
using AbleLark.Core.Rotas;
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

    /// <summary>Why nothing can be planned for a local time; null when it can.</summary>
    /// <param name="at">Its instant then.</param>
    public static string? WhyNot(this Workspace workspace, LocalDateTime local, Instant now, out Instant at)
    {
        (LocalDate date, LocalTime time, at) = (local.Date, local.TimeOfDay, default);
        if (!DateBounds.Contains(date, workspace.DateOf(now)))
            return DateBounds.Words(date, workspace.DateOf(now));
        if (date < workspace.DateOf(now))
            return $"{date.InWords()} has passed. Choose a time to come.";
        if (Occurrences.InstantOf(date, time, workspace.Zone) is not { } coming)
            return $"{date.InWords()} did not happen in {workspace.Zone.Id}. Choose another date.";
        at = coming;
        return at <= now ? $"{local.InWords()} has passed. Choose a time to come." : null;
    }

    /// <summary>A zone that somebody named.</summary>
    /// <exception cref="ProblemException">There is none of that name.</exception>
    public static DateTimeZone ZoneOf(string name) =>
        Zones.Find(name) ?? throw ProblemException.BadInput($"There is no time zone “{name}”. Choose one such as Europe/Dublin.");
}
