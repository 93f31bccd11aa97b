using System.Globalization;
using AbleLark.Core.Calendars;
using AbleLark.Core.Recurrences;
using NodaTime;
using NodaTime.Text;
using NodaTime.TimeZones;

namespace AbleLark.Core.KeyDates;

/// <summary>A file is no calendar, or too much of one.</summary>
public sealed class CalendarException(string words) : Exception(words);

/// <summary>A key date as a calendar has it.</summary>
/// <param name="OutsideId">What the calendar calls it.</param>
/// <param name="Zone">Null: that of whoever looks at it.</param>
public sealed record ReadKeyDate(
    string OutsideId,
    string Title,
    string Notes,
    LocalDate Date,
    int Days,
    LocalTime? Time,
    DateTimeZone? Zone,
    string? Rule,
    List<LocalDate> Skipped,
    List<MovedKeyDate> Moved
);

/// <param name="Name">What it calls itself; null: nothing.</param>
/// <param name="LeftOut">What of it is not kept, each by name and with the reason.</param>
public sealed record ReadCalendar(string? Name, IReadOnlyList<ReadKeyDate> KeyDates, IReadOnlyList<string> LeftOut);

/// <summary>Reads key dates from a calendar file (RFC 5545). An event that can't be kept is left out by name, and the rest is
/// read.</summary>
public static class CalendarReading
{
    /// <summary>Most bytes of a file.</summary>
    public const int MostBytes = 4 * 1024 * 1024;

    /// <summary>Most events of a file.</summary>
    public const int Most = 5_000;

    private const int MostLines = 500_000;

    /// <summary>How far back an event is kept that doesn't come again, in days.</summary>
    private const int DaysBack = 400;

    /// <summary>Most dates that are looked at to find out when what comes again comes: 600 for each of 5,000 rules.</summary>
    private const int MostSteps = 3_000_000;

    /// <param name="zone">The workspace's, in which times without a zone are told.</param>
    /// <param name="ended">Nobody waits for it any longer.</param>
    /// <exception cref="CalendarException">In words that go on from the file's name.</exception>
    public static ReadCalendar Read(string file, DateTimeZone zone, LocalDate today, CancellationToken ended = default)
    {
        StepAllowance allowance = new(MostSteps, ended);
        List<CalendarEvent> events = [];
        CalendarZones zones = new(today, zone, allowance);
        (string? zoneId, List<List<ContentLine>> zoneParts) = (null, []);
        string? name = null;
        CalendarEvent? open = null;
        Stack<string> within = new();
        bool isCalendar = false;
        int lines = 0;
        foreach (ContentLine line in ContentLine.Read(file.TrimStart('\uFEFF')))
        {
            if (++lines > MostLines)
                throw new CalendarException($"has more than {MostLines:N0} lines. Export a shorter time of it.");
            ended.ThrowIfCancellationRequested();
            string value = line.Value.Trim().ToUpperInvariant();
            if (!isCalendar)
            {
                isCalendar = line.Name == "BEGIN" && value == "VCALENDAR";
                if (!isCalendar)
                    break;
                continue;
            }
            switch (line.Name)
            {
                case "BEGIN":
                    within.Push(value);
                    if (within.Count > 16)
                        throw new CalendarException("is put together as no calendar is: too many things inside each other.");
                    if (value == "VEVENT" && within.Count == 1)
                        open = new(zones);
                    else if (value == "VTIMEZONE" && within.Count == 1)
                        (zoneId, zoneParts) = (null, []);
                    else if (within.Count == 2 && within.Last() == "VTIMEZONE")
                        zoneParts.Add([]);
                    break;
                case "END":
                    if (!within.TryPop(out string? closed) || within.Count > 0)
                        break;
                    if (closed == "VTIMEZONE" && zoneId is not null)
                        zones.Add(zoneId, zoneParts);
                    if (open is not null)
                    {
                        events.Add(open);
                        open = null;
                        if (events.Count > Most)
                            throw new CalendarException($"has more than {Most:N0} events. Export a shorter time of it.");
                    }
                    break;
                case "NAME" or "X-WR-CALNAME" when within.Count == 0:
                    name ??= CalendarText.Short(line.Text, KeyDate.LongestTitle);
                    break;
                default:
                    if (within.Count == 1 && open is not null && CalendarEvent.Names.Contains(line.Name))
                        open.Lines.Add(line);
                    else if (within.Count > 0 && within.Last() == "VTIMEZONE")
                    {
                        if (within.Count == 1 && line.Name == "TZID")
                            zoneId = line.Value.Trim();
                        else if (within.Count == 2)
                            zoneParts[^1].Add(line);
                    }
                    break;
            }
        }
        if (!isCalendar)
            throw new CalendarException("is no calendar: it doesn't begin with BEGIN:VCALENDAR. Export it as an .ics file.");
        if (within.Count > 0)
            throw new CalendarException("breaks off in the middle. Export it, or fetch it, once more.");
        List<string> leftOut = [];
        IReadOnlyList<ReadKeyDate> read = KeyDates(events, zone, today, allowance, leftOut);
        return new(string.IsNullOrWhiteSpace(name) ? null : name, read, leftOut);
    }

    private static List<ReadKeyDate> KeyDates(
        List<CalendarEvent> events,
        DateTimeZone zone,
        LocalDate today,
        StepAllowance allowance,
        List<string> leftOut
    )
    {
        Dictionary<string, ReadKeyDate> read = new(StringComparer.Ordinal);
        int past = 0;
        foreach (CalendarEvent e in events.Where(e => e.Line("RECURRENCE-ID") is null && !e.IsCancelled))
        {
            try
            {
                ReadKeyDate found = KeyDateOf(e, zone, allowance);
                if (LastOf(found, zone) is { } last && last.PlusDays(found.Days) < today.PlusDays(-DaysBack))
                    past++;
                // Of an event that stands in it twice, the later holds.
                else if (found.OutsideId.Length > 0)
                    read[found.OutsideId] = found;
                else
                    leftOut.Add($"“{e.Title}” has no identity (UID), so it couldn’t be kept up to date.");
            }
            catch (NotKeptException why)
            {
                leftOut.Add($"“{e.Title}”: {why.Message}");
            }
        }
        foreach (CalendarEvent e in events.Where(e => e.Line("RECURRENCE-ID") is not null))
        {
            try
            {
                Move(e, read, zone, allowance);
            }
            catch (NotKeptException why)
            {
                leftOut.Add($"“{e.Title}”: {why.Message}");
            }
        }
        if (past > 0)
            leftOut.Add($"{past} that {(past == 1 ? "lies" : "lie")} more than a year back.");
        return [.. read.Values];
    }

    /// <summary>The last date on which it is; null: it comes again and again.</summary>
    private static LocalDate? LastOf(ReadKeyDate read, DateTimeZone zone) =>
        read.Rule is null ? read.Date : Recurrence.Parse(read.Rule, read.Zone ?? zone, read.Time).Until;

    private static ReadKeyDate KeyDateOf(CalendarEvent e, DateTimeZone zone, StepAllowance allowance)
    {
        CalendarMoment start = e.Moment(e.Line("DTSTART") ?? throw new NotKeptException("It doesn’t say when it begins (DTSTART)."));
        string[] rules = [.. e.Lines.Where(l => l.Name == "RRULE").Select(l => l.Value.Trim())];
        if (rules.Length > 1)
            throw new NotKeptException("It comes again by two rules at once, which is not kept.");
        if (e.Lines.Exists(l => l.Name is "RDATE" or "EXRULE"))
            throw new NotKeptException("It has dates beside its rule (RDATE, EXRULE), which is not kept.");
        string? rule = rules.FirstOrDefault();
        if (rule is not null)
            rule = Recurrence.Dated(rule, start.Date, start.Zone ?? zone, start.Time, allowance);
        List<LocalDate> skipped =
        [
            .. e
                .Lines.Where(l => l.Name == "EXDATE")
                .SelectMany(l => l.Value.Split(',').Select(v => e.Moment(l with { Value = v })))
                .Select(m => m.DateIn(start, zone))
                .Take(KeyDate.MostExceptions + 1),
        ];
        if (skipped.Count > KeyDate.MostExceptions)
            throw TooManyExceptions();
        return new(
            e.Uid,
            e.Title,
            CalendarText.Short(e.Line("DESCRIPTION")?.Text ?? "", KeyDate.LongestNotes),
            start.Date,
            DaysOf(e, start, zone),
            start.Time,
            start.Zone,
            rule,
            skipped,
            []
        );
    }

    /// <summary>Takes in an event that says where one coming of another stands.</summary>
    private static void Move(CalendarEvent e, Dictionary<string, ReadKeyDate> read, DateTimeZone zone, StepAllowance allowance)
    {
        ContentLine id = e.Line("RECURRENCE-ID")!;
        // Of a series that isn't in the file, this one coming is: it is kept by itself.
        if (!read.TryGetValue(e.Uid, out ReadKeyDate? of) || of.Rule is null)
        {
            if (!e.IsCancelled)
                Keep(e, read, zone, allowance, of?.Title ?? "");
            return;
        }
        if (id.Parameters.ContainsKey("RANGE"))
            throw new NotKeptException("It moves all that come after it as well (RANGE), which is not kept.");
        CalendarMoment start = new(of.Date, of.Time, of.Zone);
        LocalDate occurrence = e.Moment(id).DateIn(start, zone);
        if (of.Skipped.Count >= KeyDate.MostExceptions || of.Moved.Count >= KeyDate.MostExceptions)
            throw TooManyExceptions();
        if (e.IsCancelled)
        {
            of.Skipped.Add(occurrence);
            return;
        }
        if (e.Line("DTSTART") is not { } line)
            return;
        // A series has one title and one length: a coming that differs is no longer part of it.
        if ((e.Line("SUMMARY") is not null && e.Title != of.Title) || IsOfOtherLength(e, of, line, zone))
        {
            of.Skipped.Add(occurrence);
            Keep(e, read, zone, allowance, of.Title);
            return;
        }
        CalendarMoment there = e.Moment(line);
        LocalTime? time = there.Time is null ? null : there.TimeIn(start, zone);
        LocalDate date = there.DateIn(start, zone);
        if (date == occurrence && time == of.Time)
            return;
        of.Moved.RemoveAll(m => m.Occurrence == occurrence);
        of.Moved.Add(new(occurrence, date, time));
    }

    private static bool IsOfOtherLength(CalendarEvent e, ReadKeyDate than, ContentLine start, DateTimeZone zone) =>
        (e.Line("DTEND") ?? e.Line("DURATION")) is not null && DaysOf(e, e.Moment(start), zone) != than.Days;

    /// <summary>Keeps one coming of a series as a key date of its own.</summary>
    /// <param name="series">The series' title, which it has as well unless it says otherwise; empty: the series isn't there.</param>
    private static void Keep(
        CalendarEvent e,
        Dictionary<string, ReadKeyDate> read,
        DateTimeZone zone,
        StepAllowance allowance,
        string series
    )
    {
        if (e.Uid.Length == 0)
            throw new NotKeptException("It has no identity (UID), so it couldn’t be kept up to date.");
        ReadKeyDate own = KeyDateOf(e, zone, allowance);
        string id = CalendarText.Short($"{e.Line("RECURRENCE-ID")!.Value.Trim()}#{e.Uid}", CalendarEvent.LongestId);
        read[id] = own with
        {
            OutsideId = id,
            Title = e.Line("SUMMARY") is null && series.Length > 0 ? series : own.Title,
            Rule = null,
            Skipped = [],
            Moved = [],
        };
    }

    private static NotKeptException TooManyExceptions() =>
        new($"More than {KeyDate.MostExceptions:N0} of its dates are left out or put elsewhere, which is not kept.");

    /// <summary>How many dates it touches.</summary>
    private static int DaysOf(CalendarEvent e, CalendarMoment start, DateTimeZone zone)
    {
        LocalDate last = start.Date;
        if (e.Line("DTEND") is { } line)
        {
            CalendarMoment end = e.Moment(line);
            last =
                end.Time is null ? end.Date.PlusDays(-1)
                : end.In(start, zone) is var local && local.TimeOfDay == LocalTime.Midnight ? local.Date.PlusDays(-1)
                : local.Date;
        }
        else if (e.Line("DURATION") is { } duration)
        {
            ParseResult<Period> length = PeriodPattern.NormalizingIso.Parse(duration.Value.Trim().TrimStart('+'));
            if (!length.Success)
                throw new NotKeptException($"DURATION is no length that is known: {CalendarText.Short(duration.Value, 40)}.");
            last = LastOf(start.Date + (start.Time ?? LocalTime.Midnight), length.Value);
        }
        return Math.Clamp(Period.DaysBetween(start.Date, last) + 1, 1, KeyDate.MostDays);
    }

    private static LocalDate LastOf(LocalDateTime start, Period length)
    {
        try
        {
            LocalDateTime end = start + length;
            return end.TimeOfDay == LocalTime.Midnight ? end.Date.PlusDays(-1) : end.Date;
        }
        catch (Exception e) when (e is OverflowException or ArgumentOutOfRangeException)
        {
            throw new NotKeptException("It lasts longer than there are dates for.");
        }
    }
}
