using System.Text;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Core.Calendars;

/// <summary>What is written into a calendar file.</summary>
/// <param name="Uid">The same whenever it is written, and no other's.</param>
/// <param name="At">When it begins; null: it takes <paramref name="Date"/> to <paramref name="Last"/>, all day.</param>
/// <param name="Address">Where there is more about it; null: nowhere.</param>
/// <param name="Sequence">Greater whenever it was moved or changed since (RFC 5545, 3.8.7.4).</param>
public sealed record CalendarItem(
    string Uid,
    string Title,
    string Details,
    Instant? At,
    LocalDate Date,
    LocalDate Last,
    string? Address = null,
    int Sequence = 0
);

/// <summary>Writes calendars as RFC 5545 has them.</summary>
public static class CalendarFile
{
    /// <summary>Media type of a calendar.</summary>
    public const string Kind = "text/calendar";

    /// <summary>What goes out takes no time; so long it stands in a calendar.</summary>
    private static readonly Duration Shown = Duration.FromMinutes(15);

    private static readonly InstantPattern Time = InstantPattern.CreateWithInvariantCulture("uuuuMMdd'T'HHmmss'Z'");
    private static readonly LocalDatePattern Day = LocalDatePattern.CreateWithInvariantCulture("uuuuMMdd");

    /// <param name="name">Of the calendar, for whoever takes it in.</param>
    /// <param name="written">By machine time.</param>
    public static string Write(string name, IEnumerable<CalendarItem> items, Instant written)
    {
        StringBuilder file = new();
        Line("BEGIN", "VCALENDAR");
        Line("VERSION", "2.0");
        Line("PRODID", "-//Able Lark//Calendar//EN");
        Line("CALSCALE", "GREGORIAN");
        Line("METHOD", "PUBLISH");
        // NAME is RFC 7986's; the other is what came before it.
        Line("NAME", ContentLine.Escaped(name));
        Line("X-WR-CALNAME", ContentLine.Escaped(name));
        Line("REFRESH-INTERVAL;VALUE=DURATION", "PT1H");
        foreach (CalendarItem item in items)
        {
            Line("BEGIN", "VEVENT");
            Line("UID", item.Uid);
            Line("SEQUENCE", item.Sequence.ToString(System.Globalization.CultureInfo.InvariantCulture));
            Line("DTSTAMP", Time.Format(written));
            if (item.At is { } at)
            {
                Line("DTSTART", Time.Format(at));
                Line("DTEND", Time.Format(at + Shown));
            }
            else
            {
                Line("DTSTART;VALUE=DATE", Day.Format(item.Date));
                Line("DTEND;VALUE=DATE", Day.Format(item.Last.PlusDays(1)));
                Line("TRANSP", "TRANSPARENT");
            }
            Line("SUMMARY", ContentLine.Escaped(item.Title));
            if (item.Details.Length > 0)
                Line("DESCRIPTION", ContentLine.Escaped(item.Details));
            if (item.Address is { } address)
                Line("URL", new Uri(address).AbsoluteUri);
            Line("END", "VEVENT");
        }
        Line("END", "VCALENDAR");
        return file.ToString();

        void Line(string property, string value) => ContentLine.Write(file, property, value);
    }
}
