using System.Globalization;
using NodaTime;

namespace AbleLark.Core.KeyDates;

public enum Frequency
{
    Daily,
    Weekly,
    Monthly,
    Yearly,
}

/// <summary>A rule, or something of an event, can't be kept; in words that name what of it.</summary>
public sealed class NotKeptException(string words) : Exception(words);

/// <summary>A day of the week in a rule.</summary>
/// <param name="Ordinal">Which of them in the month or year, from its end when below nought; nought: each.</param>
public readonly record struct WeekdayRule(int Ordinal, IsoDayOfWeek Day);

/// <summary>
/// By what a key date comes again: a recurrence rule of RFC 5545, 3.3.10, over dates. Of that rule's parts all are kept but those that
/// tell
/// times of a day, and the numbers of weeks and of days in a year.
/// </summary>
public sealed record Recurrence
{
    public const int Longest = 500;

    private const int MostInterval = 1_000;
    private const int MostCount = 10_000;

    private static readonly Dictionary<string, IsoDayOfWeek> Weekdays = new(StringComparer.Ordinal)
    {
        ["MO"] = IsoDayOfWeek.Monday,
        ["TU"] = IsoDayOfWeek.Tuesday,
        ["WE"] = IsoDayOfWeek.Wednesday,
        ["TH"] = IsoDayOfWeek.Thursday,
        ["FR"] = IsoDayOfWeek.Friday,
        ["SA"] = IsoDayOfWeek.Saturday,
        ["SU"] = IsoDayOfWeek.Sunday,
    };

    public Frequency Frequency { get; private init; }
    public int Interval { get; private init; } = 1;
    public int? Count { get; private init; }

    /// <summary>The last date on which it may come.</summary>
    public LocalDate? Until { get; private init; }
    public IReadOnlyList<int> Months { get; private init; } = [];
    public IReadOnlyList<int> MonthDays { get; private init; } = [];
    public IReadOnlyList<WeekdayRule> Days { get; private init; } = [];

    /// <summary>Which of a period's dates, from its end when below nought; empty: all.</summary>
    public IReadOnlyList<int> Positions { get; private init; } = [];
    public IsoDayOfWeek WeekStart { get; private init; } = IsoDayOfWeek.Monday;

    /// <summary>Reads a rule as RFC 5545 writes it.</summary>
    /// <param name="zone">In which it is told what date an UNTIL in universal time is.</param>
    /// <param name="time">Of the day at which it comes; null: all day.</param>
    /// <exception cref="NotKeptException">It is no rule, or none that is kept.</exception>
    public static Recurrence Parse(string rule, DateTimeZone zone, LocalTime? time)
    {
        if (rule.Length > Longest)
            throw new NotKeptException("The rule is longer than any rule needs to be.");
        Dictionary<string, string> parts = new(StringComparer.OrdinalIgnoreCase);
        foreach (string part in rule.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            string[] pair = part.Split('=', 2, StringSplitOptions.TrimEntries);
            if (pair.Length < 2 || !parts.TryAdd(pair[0], pair[1].ToUpperInvariant()))
                throw new NotKeptException($"“{part}” is no part of a rule, or stands in it twice.");
        }
        Recurrence read = new();
        foreach ((string name, string value) in parts)
            read = read.With(name.ToUpperInvariant(), value, zone, time);
        if (!parts.ContainsKey("FREQ"))
            throw new NotKeptException("The rule doesn't say how often (FREQ).");
        if (read is { Count: not null, Until: not null })
            throw new NotKeptException("The rule ends twice: by COUNT and by UNTIL. It takes one of them.");
        if (read.Frequency == Frequency.Weekly && read.MonthDays.Count > 0)
            throw new NotKeptException("A weekly rule has no days of the month (BYMONTHDAY).");
        if (read is { Frequency: Frequency.Yearly, MonthDays.Count: > 0, Months.Count: 0 })
            throw new NotKeptException(
                "By year, days of a month (BYMONTHDAY) need their months (BYMONTH): without them programs read it differently."
            );
        if (read.Frequency is Frequency.Daily or Frequency.Weekly && read.Days.Any(d => d.Ordinal != 0))
            throw new NotKeptException("Only a rule by month or year counts its weekdays, as in 2TU.");
        if (read.Positions.Count > 0 && read is { Days.Count: 0, MonthDays.Count: 0, Months.Count: 0 })
            throw new NotKeptException("BYSETPOS chooses among days that other parts name, and the rule has none.");
        return read;
    }

    /// <summary>The same rule, ending on a date instead of after so many: what is looked at from its middle needn't be counted from its
    /// start.</summary>
    /// <exception cref="NotKeptException">It is no rule that is kept, or never comes.</exception>
    public static string Dated(string rule, LocalDate first, DateTimeZone zone, LocalTime? time)
    {
        Recurrence read = Parse(rule, zone, time);
        LocalDate horizon = first.PlusYears(YearsAhead);
        if (read.Count is null)
            return read.Between(first, first, horizon).Any() ? rule : throw Never();
        LocalDate[] all = [.. read.Between(first, first, horizon)];
        if (all.Length == 0)
            throw Never();
        IEnumerable<string> others = rule.Split(';').Where(p => !p.TrimStart().StartsWith("COUNT=", StringComparison.OrdinalIgnoreCase));
        return string.Join(';', others.Append($"UNTIL={all[^1].ToString("uuuuMMdd", CultureInfo.InvariantCulture)}"));

        static NotKeptException Never() => new("By that rule it never comes. Change the rule, or the date that it begins on.");
    }

    /// <summary>What first comes later than that never does.</summary>
    private const int YearsAhead = 60;

    private Recurrence With(string name, string value, DateTimeZone zone, LocalTime? time) =>
        name switch
        {
            "FREQ" => this with { Frequency = FrequencyOf(value) },
            "INTERVAL" => this with { Interval = Number(name, value, 1, MostInterval) },
            "COUNT" => this with { Count = Number(name, value, 1, MostCount) },
            "UNTIL" => this with { Until = UntilOf(value, zone, time) },
            "BYMONTH" => this with { Months = Numbers(name, value, 1, 12) },
            "BYMONTHDAY" => this with { MonthDays = Signed(name, value, 31) },
            "BYDAY" => this with { Days = [.. value.Split(',').Select(DayOf)] },
            "BYSETPOS" => this with { Positions = Signed(name, value, 366) },
            "WKST" => this with { WeekStart = DayOf(value).Day },
            "BYHOUR" or "BYMINUTE" or "BYSECOND" => throw new NotKeptException(
                $"The rule tells times of a day ({name}); a key date comes at most once a day."
            ),
            "BYWEEKNO" or "BYYEARDAY" => throw new NotKeptException(
                $"The rule counts weeks or days of the year ({name}), which is not kept. Say it by months (BYMONTH) and days."
            ),
            _ => throw new NotKeptException($"{name} is no part of a rule that is known."),
        };

    private static Frequency FrequencyOf(string value) =>
        value switch
        {
            "DAILY" => Frequency.Daily,
            "WEEKLY" => Frequency.Weekly,
            "MONTHLY" => Frequency.Monthly,
            "YEARLY" => Frequency.Yearly,
            "HOURLY" or "MINUTELY" or "SECONDLY" => throw new NotKeptException(
                $"It comes more often than once a day (FREQ={value}), which is not kept."
            ),
            _ => throw new NotKeptException($"FREQ={value} is no frequency. It is DAILY, WEEKLY, MONTHLY or YEARLY."),
        };

    private static int Number(string name, string value, int least, int most) =>
        int.TryParse(value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int number)
        && number >= least
        && number <= most
            ? number
            : throw new NotKeptException($"{name}={value} is no number from {least} to {most}.");

    private static int[] Numbers(string name, string value, int least, int most) =>
        [.. value.Split(',').Select(v => Number(name, v, least, most)).Distinct()];

    private static int[] Signed(string name, string value, int most)
    {
        int[] numbers = Numbers(name, value, -most, most);
        return numbers.Contains(0) ? throw new NotKeptException($"{name} has a nought in it, which counts nothing.") : numbers;
    }

    private static WeekdayRule DayOf(string value)
    {
        if (value.Length < 2 || !Weekdays.TryGetValue(value[^2..], out IsoDayOfWeek day))
            throw new NotKeptException($"“{value}” is no day of the week. They are MO, TU, WE, TH, FR, SA and SU.");
        int ordinal = value.Length == 2 ? 0 : Number("BYDAY", value[..^2], -53, 53);
        return new(ordinal, day);
    }

    private static LocalDate UntilOf(string value, DateTimeZone zone, LocalTime? time)
    {
        string format =
            value.EndsWith('Z') ? "yyyyMMdd'T'HHmmss'Z'"
            : value.Contains('T', StringComparison.Ordinal) ? "yyyyMMdd'T'HHmmss"
            : "yyyyMMdd";
        if (!DateTime.TryParseExact(value, format, CultureInfo.InvariantCulture, DateTimeStyles.None, out DateTime read))
            throw new NotKeptException($"UNTIL={value} is no date.");
        LocalDateTime local = LocalDateTime.FromDateTime(read);
        if (value.EndsWith('Z'))
            local = local.InUtc().WithZone(zone).LocalDateTime;
        return format.Length > 8 && time > local.TimeOfDay ? local.Date.PlusDays(-1) : local.Date;
    }

    /// <summary>The dates on which what begins on a date comes, in order, of those from <paramref name="from"/> to <paramref name="to"/>,
    /// both included.</summary>
    public IEnumerable<LocalDate> Between(LocalDate first, LocalDate from, LocalDate to)
    {
        LocalDate last = Until is { } until && until < to ? until : to;
        int found = 0;
        // Where they are counted, from the first on; else periods that lie before can't matter.
        for (int period = Count is null ? FirstPeriod(first, from) : 0; StartOf(first, period) <= last; period++)
        {
            foreach (LocalDate date in Positioned([.. DatesIn(first, period).Where(d => d >= first || Positions.Count > 0)]))
            {
                if (date < first)
                    continue;
                if (date > last || found++ >= Count)
                    yield break;
                if (date >= from)
                    yield return date;
            }
        }
    }

    /// <summary>The last period that begins before a date, but for one; nought where that lies before the first.</summary>
    private int FirstPeriod(LocalDate first, LocalDate from)
    {
        if (from <= first)
            return 0;
        int units = Frequency switch
        {
            Frequency.Daily => Period.DaysBetween(first, from),
            Frequency.Weekly => Period.DaysBetween(first, from) / 7,
            Frequency.Monthly => ((from.Year - first.Year) * 12) + from.Month - first.Month,
            _ => from.Year - first.Year,
        };
        return Math.Max(0, (units / Interval) - 1);
    }

    /// <summary>First date of a period, counted from the one in which the first date lies.</summary>
    private LocalDate StartOf(LocalDate first, int period)
    {
        long by = (long)period * Interval;
        // Periods end with the calendar; nothing comes after it.
        return Frequency switch
        {
            Frequency.Daily => Plus(first, by),
            Frequency.Weekly => Plus(WeekOf(first), by * 7),
            Frequency.Monthly => by > MostMonths ? LocalDate.MaxIsoValue : new LocalDate(first.Year, first.Month, 1).PlusMonths((int)by),
            _ => first.Year + by > LocalDate.MaxIsoValue.Year ? LocalDate.MaxIsoValue : new LocalDate(first.Year + (int)by, 1, 1),
        };
    }

    private const long MostMonths = 12L * 5_000;

    private static LocalDate Plus(LocalDate date, long days) => days > 2_000_000 ? LocalDate.MaxIsoValue : date.PlusDays((int)days);

    private LocalDate WeekOf(LocalDate date) => date.PlusDays(-(((int)date.DayOfWeek - (int)WeekStart + 7) % 7));

    private IEnumerable<LocalDate> DatesIn(LocalDate first, int period)
    {
        LocalDate start = StartOf(first, period);
        return Frequency switch
        {
            Frequency.Daily => new[] { start }.Where(d => IsInMonths(d) && IsOnMonthDays(d) && IsOnDays(d)),
            Frequency.Weekly => Enumerable
                .Range(0, 7)
                .Select(start.PlusDays)
                .Where(d => IsInMonths(d) && (Days.Count > 0 ? IsOnDays(d) : d.DayOfWeek == first.DayOfWeek)),
            Frequency.Monthly => IsInMonths(start) ? InMonth(start, first.Day) : [],
            _ => InYear(start.Year, first),
        };
    }

    private IEnumerable<LocalDate> InYear(int year, LocalDate first)
    {
        if (Months.Count > 0)
            return Months.Order().SelectMany(m => InMonth(new(year, m, 1), first.Day));
        if (Days.Count == 0)
            return first.Day <= CalendarSystem.Iso.GetDaysInMonth(year, first.Month) ? [new(year, first.Month, first.Day)] : [];
        return Weekday(new(year, 1, 1), new(year, 12, 31));
    }

    /// <summary>The dates of a month that the rule names; where it names none, the day on which it all began.</summary>
    private IEnumerable<LocalDate> InMonth(LocalDate month, int day)
    {
        int length = CalendarSystem.Iso.GetDaysInMonth(month.Year, month.Month);
        if (MonthDays.Count == 0 && Days.Count == 0)
            return day <= length ? [month.PlusDays(day - 1)] : [];
        LocalDate last = month.PlusDays(length - 1);
        if (MonthDays.Count == 0)
            return Weekday(month, last);
        IEnumerable<LocalDate> dates = Enumerable.Range(0, length).Select(month.PlusDays).Where(IsOnMonthDays);
        return Days.Count == 0 ? dates : dates.Intersect(Weekday(month, last));
    }

    /// <summary>The rule's weekdays between two dates, counted among those.</summary>
    private IEnumerable<LocalDate> Weekday(LocalDate from, LocalDate to)
    {
        int length = Period.DaysBetween(from, to) + 1;
        HashSet<LocalDate> dates = [];
        foreach (WeekdayRule rule in Days)
        {
            LocalDate[] all = [.. Enumerable.Range(0, length).Select(from.PlusDays).Where(d => d.DayOfWeek == rule.Day)];
            if (rule.Ordinal == 0)
                dates.UnionWith(all);
            else if (Math.Abs(rule.Ordinal) <= all.Length)
                dates.Add(rule.Ordinal > 0 ? all[rule.Ordinal - 1] : all[^-rule.Ordinal]);
        }
        return dates.Order();
    }

    private List<LocalDate> Positioned(List<LocalDate> dates) =>
        Positions.Count == 0
            ? dates
            : [.. Positions.Where(p => Math.Abs(p) <= dates.Count).Select(p => p > 0 ? dates[p - 1] : dates[^-p]).Distinct().Order()];

    private bool IsInMonths(LocalDate date) => Months.Count == 0 || Months.Contains(date.Month);

    private bool IsOnDays(LocalDate date) => Days.Count == 0 || Days.Any(d => d.Day == date.DayOfWeek);

    private bool IsOnMonthDays(LocalDate date) =>
        MonthDays.Count == 0
        || MonthDays.Any(d => d > 0 ? d == date.Day : date.Day == CalendarSystem.Iso.GetDaysInMonth(date.Year, date.Month) + d + 1);
}
