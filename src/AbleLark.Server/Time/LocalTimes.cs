using System.Globalization;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Problems;
using NodaTime;

namespace AbleLark.Server.Time;

/// <summary>Between a workspace's local times and instants.</summary>
public static class LocalTimes
{
    /// <summary>The instant of a local time that is still to come.</summary>
    public static Instant ComingInstant(this Workspace workspace, LocalDate date, LocalTime time, Instant now)
    {
        if (!DateBounds.Contains(date, workspace.DateOf(now)))
            throw ProblemException.BadInput(DateBounds.Words(date, workspace.DateOf(now)));
        if (date < workspace.DateOf(now))
            throw ProblemException.BadInput($"{Words(date)} has passed. Choose a time to come.");
        Instant at =
            Occurrences.InstantOf(date, time, workspace.Zone)
            ?? throw ProblemException.BadInput($"{Words(date)} did not happen in {workspace.Zone.Id}. Choose another date.");
        if (at <= now)
            throw ProblemException.BadInput($"{Words(date)}, {time:HH:mm} has passed. Choose a time to come.");
        return at;
    }

    private static string Words(LocalDate date) => date.ToString("d MMM yyyy", CultureInfo.InvariantCulture);
}
