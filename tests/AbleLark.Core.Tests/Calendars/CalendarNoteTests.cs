using AbleLark.Core.Calendars;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Tests.Calendars;

public sealed class CalendarNoteTests
{
    [Theory]
    [InlineData(NoteSpan.Day, "2028-02-29", "2028-02-29", "2028-02-29")]
    [InlineData(NoteSpan.Week, "2028-03-05", "2028-02-28", "2028-03-05")]
    [InlineData(NoteSpan.Week, "2028-02-28", "2028-02-28", "2028-03-05")]
    [InlineData(NoteSpan.Month, "2028-02-10", "2028-02-01", "2028-02-29")]
    [InlineData(NoteSpan.Month, "2027-12-31", "2027-12-01", "2027-12-31")]
    public void A_note_holds_for_its_day_its_week_from_monday_or_its_month(NoteSpan span, string on, string first, string last)
    {
        LocalDate date = Date(on);
        CalendarNote note = new()
        {
            WorkspaceId = Id<Workspace>.New(),
            Id = Id<CalendarNote>.New(),
            Date = CalendarNote.FirstOf(date, span),
            Span = span,
            Text = "x",
        };
        Assert.Equal((Date(first), Date(last)), (note.Date, note.Last));
        Assert.InRange(date, note.Date, note.Last);
    }

    private static LocalDate Date(string iso) => NodaTime.Text.LocalDatePattern.Iso.Parse(iso).Value;
}
