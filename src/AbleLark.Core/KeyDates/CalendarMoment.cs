using System.Globalization;
using AbleLark.Core.Calendars;
using AbleLark.Core.Recurrences;
using NodaTime;
using NodaTime.TimeZones;

namespace AbleLark.Core.KeyDates;

/// <summary>A date, or a date and time, as a calendar tells it.</summary>
/// <param name="Time">Null: all day.</param>
/// <param name="Zone">Null: that of whoever looks at it.</param>
internal sealed record CalendarMoment(LocalDate Date, LocalTime? Time, DateTimeZone? Zone)
{
    public LocalDate DateIn(CalendarMoment other, DateTimeZone zone) => Time is null ? Date : In(other, zone).Date;

    public LocalTime TimeIn(CalendarMoment other, DateTimeZone zone) => In(other, zone).TimeOfDay;

    /// <summary>In the zone in which another is told.</summary>
    public LocalDateTime In(CalendarMoment other, DateTimeZone zone) =>
        (Date + (Time ?? LocalTime.Midnight)).InZoneLeniently(Zone ?? zone).WithZone(other.Zone ?? zone).LocalDateTime;

    /// <summary>More than any name of a zone has.</summary>
    private const int LongestZone = 200;

    /// <summary>As many parts as a zone's name has: America/Argentina/Ushuaia.</summary>
    private const int MostZoneParts = 3;

    /// <param name="zones">Those that the file defines; null: none.</param>
    /// <exception cref="NotKeptException">It is no date that is known.</exception>
    public static CalendarMoment Of(ContentLine line, CalendarZones? zones)
    {
        string value = line.Value.Trim();
        bool isDate = value.Length == 8;
        string format =
            isDate ? "yyyyMMdd"
            : value.EndsWith('Z') ? "yyyyMMdd'T'HHmmss'Z'"
            : "yyyyMMdd'T'HHmmss";
        if (
            !DateTime.TryParseExact(value, format, CultureInfo.InvariantCulture, DateTimeStyles.None, out DateTime read)
            || read.Year is < 1900 or > 2200
        )
            throw new NotKeptException($"{line.Name} is no date that is known: {CalendarText.Short(value, 40)}.");
        LocalDateTime local = LocalDateTime.FromDateTime(read);
        if (isDate)
            return new(local.Date, null, null);
        DateTimeZone? zone =
            value.EndsWith('Z') ? DateTimeZone.Utc
            : line.Parameters.TryGetValue("TZID", out string? id) ? ZoneOf(id, zones)
            : null;
        return new(local.Date, local.TimeOfDay, zone);
    }

    /// <summary>A zone by the name that calendars give it: the tz database's, with or without a path before it, or Windows'; else as the
    /// file itself defines it.</summary>
    private static DateTimeZone ZoneOf(string id, CalendarZones? zones)
    {
        if (id.Length > LongestZone)
            throw new NotKeptException($"It is told in a zone that nobody knows: {CalendarText.Short(id, 60)}.");
        string[] parts = id.Trim().TrimStart('/').Split('/');
        for (int i = Math.Max(0, parts.Length - MostZoneParts); i < parts.Length; i++)
        {
            if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(string.Join('/', parts[i..])) is { } zone)
                return zone;
        }
        return TzdbDateTimeZoneSource.Default.WindowsMapping.PrimaryMapping.TryGetValue(id.Trim(), out string? windows)
            ? DateTimeZoneProviders.Tzdb[windows]
            : zones?.Find(id) ?? throw new NotKeptException($"It is told in a zone that nobody knows: {CalendarText.Short(id, 60)}.");
    }
}

/// <summary>Texts as they are kept.</summary>
internal static class CalendarText
{
    /// <summary>Without the space around it, and no longer than it may be.</summary>
    public static string Short(string text, int most)
    {
        string trimmed = text.Trim();
        if (trimmed.Length <= most)
            return trimmed;
        int end = char.IsHighSurrogate(trimmed[most - 2]) ? most - 2 : most - 1;
        return $"{trimmed[..end].TrimEnd()}…";
    }
}
