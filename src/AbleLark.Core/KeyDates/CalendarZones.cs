using AbleLark.Core.Calendars;
using AbleLark.Core.Recurrences;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Core.KeyDates;

/// <summary>
/// The zones that a calendar file defines itself (VTIMEZONE, RFC 5545, 3.6.5): each is told by a zone of the tz database that does the same
/// in these years, since what is kept has to go on when rules change.
/// </summary>
internal sealed class CalendarZones(LocalDate today, DateTimeZone workspace, StepAllowance allowance)
{
    /// <summary>More than any zone has had.</summary>
    private const int MostParts = 50;

    private const int MostDates = 500;

    /// <summary>Years round today in which a zone has to do the same.</summary>
    private const int YearsBack = 1,
        YearsAhead = 3;

    private static readonly LocalDateTimePattern Local = LocalDateTimePattern.CreateWithInvariantCulture("uuuuMMdd'T'HHmmss");

    private readonly Dictionary<string, List<List<ContentLine>>> _parts = new(StringComparer.Ordinal);
    private readonly Dictionary<string, DateTimeZone?> _found = new(StringComparer.Ordinal);

    /// <summary>Takes in the parts (STANDARD, DAYLIGHT) of a zone, each by its lines.</summary>
    public void Add(string id, List<List<ContentLine>> parts)
    {
        if (parts.Count is > 0 and <= MostParts)
            _parts.TryAdd(id, parts);
    }

    /// <summary>Null: the file defines no such zone, or one like no other.</summary>
    public DateTimeZone? Find(string id)
    {
        if (_found.TryGetValue(id, out DateTimeZone? known))
            return known;
        return _found[id] = _parts.TryGetValue(id, out List<List<ContentLine>>? parts) ? Alike([.. parts.SelectMany(Changes)]) : null;
    }

    /// <summary>When the clock changes, and what it is from UTC from then on.</summary>
    private readonly record struct ClockChange(Instant At, Offset Before, Offset After);

    private DateTimeZone? Alike(List<ClockChange> changes)
    {
        if (changes.Count == 0)
            return null;
        changes.Sort((a, b) => a.At.CompareTo(b.At));
        (Instant from, Instant to) = (Begin(-YearsBack), Begin(YearsAhead));
        // A second on either side of each change, and once a month.
        List<Instant> looked =
        [
            .. changes.Where(c => c.At >= from && c.At < to).SelectMany(c => new[] { c.At - Duration.FromSeconds(1), c.At }),
        ];
        for (Instant at = from; at < to; at += Duration.FromDays(30))
            looked.Add(at);
        Offset[] wanted = [.. looked.Select(At)];
        if (Does(workspace))
            return workspace;
        if (wanted.Distinct().Count() == 1)
            return DateTimeZone.ForOffset(wanted[0]);
        return DateTimeZoneProviders.Tzdb.Ids.Where(i => i.Contains('/')).Select(i => DateTimeZoneProviders.Tzdb[i]).FirstOrDefault(Does);

        Offset At(Instant at) =>
            changes.FindLast(c => c.At <= at) is { At: var found } last && found != default ? last.After : changes[0].Before;

        bool Does(DateTimeZone zone)
        {
            if (!allowance.Spend(looked.Count))
                throw new NotKeptException("Working out its zone takes more steps than one calendar gets.");
            for (int i = 0; i < looked.Count; i++)
            {
                if (zone.GetUtcOffset(looked[i]) != wanted[i])
                    return false;
            }
            return true;
        }
    }

    private Instant Begin(int years) => today.PlusYears(years).AtMidnight().InUtc().ToInstant();

    private IEnumerable<ClockChange> Changes(List<ContentLine> part)
    {
        if (
            part.Find(l => l.Name == "DTSTART") is not { } start
            || OffsetOf(part, "TZOFFSETFROM") is not { } before
            || OffsetOf(part, "TZOFFSETTO") is not { } after
        )
            return [];
        LocalDateTime first = LocalOf(start.Value);
        IEnumerable<LocalDateTime> times = [first];
        if (part.Find(l => l.Name == "RRULE") is { } rule)
        {
            Recurrence recurrence = Recurrence.Parse(rule.Value.Trim(), DateTimeZone.ForOffset(before), first.TimeOfDay);
            LocalDate from = LocalDate.Max(first.Date, today.PlusYears(-YearsBack - 1)),
                to = today.PlusYears(YearsAhead + 1);
            times = recurrence.Between(first.Date, from, to, allowance).Select(d => d + first.TimeOfDay).Append(first);
        }
        times = times.Concat(part.Where(l => l.Name == "RDATE").SelectMany(l => l.Value.Split(',')).Select(LocalOf));
        return times.Take(MostDates).Select(t => new ClockChange(t.WithOffset(before).ToInstant(), before, after));
    }

    /// <summary>Some programs begin their zones in 1601.</summary>
    private static LocalDateTime LocalOf(string value) =>
        Local.Parse(value.Split('/')[0].Trim()) is { Success: true } read
            ? read.Value
            : throw new NotKeptException($"Its zone changes at no time that is known: {CalendarText.Short(value, 40)}.");

    private static Offset? OffsetOf(List<ContentLine> part, string name)
    {
        string? value = part.Find(l => l.Name == name)?.Value.Trim();
        foreach (string pattern in new[] { "+HHmm", "+HHmmss" })
        {
            if (value is not null && OffsetPattern.CreateWithInvariantCulture(pattern).Parse(value) is { Success: true } read)
                return read.Value;
        }
        return null;
    }
}
