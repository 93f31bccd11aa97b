using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>For which times something can be planned.</summary>
public static class PlanTimes
{
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
}
