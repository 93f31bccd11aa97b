using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>One cell that holds a time of day.</summary>
public static partial class TimeCell
{
    /// <summary>The time, to the minute; null: it is none, or could be more than one.</summary>
    /// <param name="zone">What stands behind it: a zone, or how far it is from UTC; empty: nothing.</param>
    public static LocalTime? Read(string text, out string zone)
    {
        zone = "";
        string cell = text.Trim();
        if (SharePattern().IsMatch(cell))
        {
            // As spreadsheets keep it: a share of the day.
            int minutes = (int)Math.Round(double.Parse(cell, CultureInfo.InvariantCulture) * 24 * 60);
            return minutes < 24 * 60 ? new LocalTime(minutes / 60, minutes % 60) : null;
        }
        Match match = Pattern().Match(cell);
        if (!match.Success)
            return null;
        (Group hour, Group minute, Group half) = (match.Groups["hour"], match.Groups["minute"], match.Groups["half"]);
        int h = int.Parse(hour.ValueSpan, CultureInfo.InvariantCulture);
        int m = minute.Success ? int.Parse(minute.ValueSpan, CultureInfo.InvariantCulture) : 0;
        if (half.Success)
        {
            if (h is < 1 or > 12)
                return null;
            bool isAfternoon = half.ValueSpan[0] is 'p' or 'P';
            h = (h % 12) + (isAfternoon ? 12 : 0);
        }
        if (h > 23 || m > 59)
            return null;
        zone = match.Groups["zone"].Value.Trim();
        return new LocalTime(h, m);
    }

    [GeneratedRegex(@"^0?\.\d+$|^0$")]
    private static partial Regex SharePattern();

    [GeneratedRegex(
        @"^(?:(?<hour>\d{1,2})[:.h](?<minute>\d\d)(?:[:.]\d\d(?:[.,]\d+)?)?\s*(?<half>[ap]\.?m\.?)?|(?<hour>\d{1,2})\s*(?<half>[ap]\.?m\.?)"
            + @"|(?<hour>\d{1,2})\s*h|(?<hour>\d\d)(?<minute>\d\d)\s*h?)\s*(?<zone>z|utc|gmt|[+\-]\d\d:?\d\d|\p{L}+/[\p{L}_/\-]+)?$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Pattern();
}
