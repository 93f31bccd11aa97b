using System.Collections.Frozen;
using AbleLark.Core.Calendars;

namespace AbleLark.Core.KeyDates;

/// <summary>The lines of one event that matter here.</summary>
internal sealed class CalendarEvent(CalendarZones zones)
{
    public const int LongestId = 300;

    public CalendarMoment Moment(ContentLine line) => CalendarMoment.Of(line, zones);

    public static readonly FrozenSet<string> Names = FrozenSet.ToFrozenSet([
        "UID",
        "SUMMARY",
        "DESCRIPTION",
        "STATUS",
        "DTSTART",
        "DTEND",
        "DURATION",
        "RRULE",
        "EXRULE",
        "RDATE",
        "EXDATE",
        "RECURRENCE-ID",
    ]);

    public List<ContentLine> Lines { get; } = [];

    public ContentLine? Line(string name) => Lines.Find(l => l.Name == name);

    public string Uid => CalendarText.Short(Line("UID")?.Text ?? "", LongestId);
    public bool IsCancelled => Line("STATUS")?.Value.Trim().Equals("CANCELLED", StringComparison.OrdinalIgnoreCase) == true;

    public string Title =>
        CalendarText.Short(Line("SUMMARY")?.Text ?? "", KeyDate.LongestTitle) is { Length: > 0 } title ? title : "Without a title";
}
