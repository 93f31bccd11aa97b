using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>A time of day as a cell has it, to the minute.</summary>
/// <param name="Zone">What stands behind it: a zone, or how far it is from UTC; empty: nothing.</param>
/// <param name="Until">Where the cell is a range, its end: only its beginning counts. Null: it is none.</param>
public readonly record struct CellTime(LocalTime Time, string Zone, LocalTime? Until);

/// <summary>One cell that holds a time of day.</summary>
public static partial class TimeCell
{
    /// <summary>Null: it is no time, or could be more than one.</summary>
    /// <param name="isTimestamp">True: it is what follows the `T` of a timestamp as ISO 8601 has it. Only there a bare offset from UTC is
    /// one; elsewhere `09:00-10:00` is a range.</param>
    public static CellTime? Read(string text, bool isTimestamp = false)
    {
        string cell = text.Trim();
        if (SharePattern().IsMatch(cell))
        {
            // As spreadsheets keep it: a share of the day.
            int minutes = (int)Math.Round(double.Parse(cell, CultureInfo.InvariantCulture) * 24 * 60);
            return minutes < 24 * 60 ? new(new LocalTime(minutes / 60, minutes % 60), "", null) : null;
        }
        if (isTimestamp && OffsetPattern().Match(cell) is { Success: true, Index: > 0 } offset)
            return Clock(cell[..offset.Index]) is { } stamped ? new(stamped, offset.Value.Trim(), null) : null;
        if (ZonePattern().Match(cell) is { Success: true, Index: > 0 } zone)
            return Clock(cell[..zone.Index]) is { } there ? new(there, zone.Groups["zone"].Value.Trim(), null) : null;
        if (RangePattern().Match(cell) is { Success: true } range)
            return Range(range.Groups["from"].Value, range.Groups["until"].Value);
        return Clock(cell) is { } time ? new(time, "", null) : null;
    }

    /// <summary>Both sides are written alike: `09:00 -0500` might be an offset.</summary>
    private static CellTime? Range(string from, string until)
    {
        if (ColonPattern().IsMatch(from) != ColonPattern().IsMatch(until) || Clock(until) is not { } end)
            return null;
        // “9:00–10:30 pm” is in the evening at both ends.
        if (HalfPattern().Match(until) is { Success: true } half && !HalfPattern().IsMatch(from))
            from += half.Value;
        return Clock(from) is { } begin && begin != end ? new(begin, "", end) : null;
    }

    private static LocalTime? Clock(string text)
    {
        Match match = Pattern().Match(text.Trim());
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
        return h > 23 || m > 59 ? null : new LocalTime(h, m);
    }

    [GeneratedRegex(@"^0?\.\d+$|^0$")]
    private static partial Regex SharePattern();

    [GeneratedRegex(
        @"^(?:(?<hour>\d{1,2})[:.h](?<minute>\d\d)(?:[:.]\d\d(?:[.,]\d+)?)?\s*(?:(?<half>[ap]\.?m\.?)|uhr)?"
            + @"|(?<hour>\d{1,2})\s*(?<half>[ap]\.?m\.?)|(?<hour>\d{1,2})\s*(?:h|uhr)|(?<hour>\d\d)(?<minute>\d\d)\s*h?)$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Pattern();

    [GeneratedRegex(@"^(?<from>[^\-\u2010-\u2015]+?)\s*(?:[\-\u2010-\u2015]|\bto\b|\buntil\b)\s*(?<until>\d.*)$", RegexOptions.IgnoreCase)]
    private static partial Regex RangePattern();

    [GeneratedRegex(@"[:.h]\d\d")]
    private static partial Regex ColonPattern();

    [GeneratedRegex(@"\s*[ap]\.?m\.?$", RegexOptions.IgnoreCase)]
    private static partial Regex HalfPattern();

    [GeneratedRegex(@"\s*[+\-\u2212]\d\d(?::?\d\d)?$")]
    private static partial Regex OffsetPattern();

    // Beside a zone's name an offset says nothing more (RFC 9557 puts the name in brackets behind it).
    [GeneratedRegex(
        @"\s*(?:(?<zone>z|(?:utc|gmt)(?:\s*[+\-\u2212]\s*\d{1,2}(?::?\d\d)?)?)|(?:[+\-]\d\d:?\d\d\s*)?\[?(?<zone>\p{L}+/[\p{L}_/\-]+)\]?)$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex ZonePattern();
}
