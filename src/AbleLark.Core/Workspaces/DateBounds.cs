using NodaTime;

namespace AbleLark.Core.Workspaces;

/// <summary>The dates that anybody may plan with: none that every zone, clock and database can't reckon with, and no mistyped
/// year.</summary>
public static class DateBounds
{
    public const int YearsAhead = 5;

    public static LocalDate Earliest { get; } = new(2000, 1, 1);

    public static LocalDate Latest(LocalDate today) => today.PlusYears(YearsAhead);

    public static bool Contains(LocalDate date, LocalDate today) => date >= Earliest && date <= Latest(today);

    /// <summary>What to tell whoever named a date outside the bounds.</summary>
    public static string Words(LocalDate date, LocalDate today) =>
        $"{date.InWords()} is not a date to plan with: dates lie between {Earliest.InWords()} and {Latest(today).InWords()}. "
        + "Is the year right?";
}
