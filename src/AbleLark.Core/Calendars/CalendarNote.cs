using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Calendars;

/// <summary>For how long a note holds.</summary>
public enum NoteSpan
{
    Day,

    /// <summary>From Monday on.</summary>
    Week,
    Month,
}

/// <summary>What a planner has written on a day, a week or a month of the calendar. Nothing is sent of it.</summary>
public sealed class CalendarNote
{
    public const int Longest = 2_000;

    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<CalendarNote> Id { get; init; }

    /// <summary>The first day that it holds for.</summary>
    public required LocalDate Date { get; set; }
    public required NoteSpan Span { get; set; }
    public required string Text { get; set; }

    /// <summary>The last day that it holds for.</summary>
    public LocalDate Last => LastOf(Date, Span);

    /// <summary>The first day of the day, week or month that a date lies in.</summary>
    public static LocalDate FirstOf(LocalDate date, NoteSpan span) =>
        span switch
        {
            NoteSpan.Week => date.PlusDays(1 - (int)date.DayOfWeek),
            NoteSpan.Month => new(date.Year, date.Month, 1),
            _ => date,
        };

    private static LocalDate LastOf(LocalDate first, NoteSpan span) =>
        span switch
        {
            NoteSpan.Week => first.PlusDays(6),
            NoteSpan.Month => first.PlusMonths(1).PlusDays(-1),
            _ => first,
        };
}
