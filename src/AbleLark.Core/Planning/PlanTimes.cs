using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>For which times something can be planned.</summary>
public static class PlanTimes
{
    /// <summary>Why nothing can be planned for a local time; null when it can.</summary>
    /// <param name="at">Its instant then.</param>
    public static string? WhyNot(this Workspace workspace, LocalDateTime local, Instant now, out Instant at) =>
        WhyNot(workspace.Zone, local, now, out at);

    /// <param name="zone">Of the local time.</param>
    /// <inheritdoc cref="WhyNot(Workspace, LocalDateTime, Instant, out Instant)"/>
    internal static string? WhyNot(DateTimeZone zone, LocalDateTime local, Instant now, out Instant at)
    {
        (LocalDate date, LocalDate today, at) = (local.Date, now.InZone(zone).Date, default);
        if (!DateBounds.Contains(date, today))
            return DateBounds.Words(date, today);
        if (date < today)
            return $"{date.InWords()} has passed. Choose a time to come.";
        if (Occurrences.InstantOf(date, local.TimeOfDay, zone) is not { } coming)
            return $"{date.InWords()} did not happen in {zone.Id}. Choose another date.";
        at = coming;
        return at <= now ? $"{local.InWords()} has passed. Choose a time to come." : null;
    }
}
