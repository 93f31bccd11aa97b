using System.Globalization;
using System.Text;

namespace AbleLark.StandIns;

/// <summary>A made-up calendar of a harbour, as a sample site gives it: what comes again and again, whatever the year.</summary>
internal static class Tides
{
    public static string Calendar(string name)
    {
        StringBuilder file = new();
        Line("BEGIN:VCALENDAR");
        Line("VERSION:2.0");
        Line("PRODID:-//Sample sites//Tides//EN");
        Line($"X-WR-CALNAME:{name}");
        Event("lock", "Lock closed for repairs", ";VALUE=DATE:20260309", "FREQ=MONTHLY;INTERVAL=3;BYDAY=2MO", "DURATION:P3D");
        Event("market", "Quay market", ";TZID=Europe/Dublin:20260307T100000", "FREQ=MONTHLY;BYDAY=1SA", "DURATION:PT5H");
        Event("race", "Old boats\\, race round the buoy", ";VALUE=DATE:20260627", "FREQ=YEARLY;BYMONTH=6;BYDAY=-1SA", "DURATION:P1D");
        Event("chimes", "Noon chimes", ":20260101T120000Z", "FREQ=HOURLY;INTERVAL=24", "DURATION:PT5M");
        Line("END:VCALENDAR");
        return file.ToString();

        void Event(string id, string title, string start, string rule, string length)
        {
            Line("BEGIN:VEVENT");
            Line($"UID:{id}@harbour.example.org");
            Line("DTSTAMP:20260101T000000Z");
            Line($"DTSTART{start}");
            Line(length);
            Line($"RRULE:{rule}");
            Line($"SUMMARY:{title}");
            Line("END:VEVENT");
        }

        void Line(string line) => file.Append(CultureInfo.InvariantCulture, $"{line}\r\n");
    }
}
