using System.Globalization;
using NodaTime;

namespace AbleLark.Core.Recurrences;

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
/// By what a key date comes again: a recurrence rule of RFC 5545, 3.3.10, over dates. Of that rule's parts all are kept but those that tell
/// times of a day, and the numbers of weeks and of days in a year.
/// </summary>
public sealed partial record Recurrence
{
    public const int Longest = 500;

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

    /// <summary>The same rule, ending on a date instead of after so many: what is looked at from its middle needn't be counted from its
    /// start.</summary>
    /// <param name="allowance">What may be spent on finding out when it comes; null: what the calendar has room for.</param>
    /// <exception cref="NotKeptException">It is no rule that is kept, never comes, or takes more to work out than there is.</exception>
    public static string Dated(string rule, LocalDate first, DateTimeZone zone, LocalTime? time, StepAllowance? allowance = null)
    {
        Recurrence read = Parse(rule, zone, time);
        LocalDate horizon = first.PlusYears(YearsAhead);
        if (read.Count is null)
            return read.Between(first, first, horizon, allowance).Any() ? rule : throw Never();
        LocalDate[] all = [.. read.Between(first, first, horizon, allowance)];
        if (all.Length == 0)
            throw Never();
        IEnumerable<string> others = rule.Split(';').Where(p => !p.TrimStart().StartsWith("COUNT=", StringComparison.OrdinalIgnoreCase));
        return string.Join(';', others.Append($"UNTIL={all[^1].ToString("uuuuMMdd", CultureInfo.InvariantCulture)}"));

        static NotKeptException Never() => new("By that rule it never comes. Change the rule, or the date that it begins on.");
    }

    /// <summary>What first comes later than that never does.</summary>
    private const int YearsAhead = 60;

    /// <summary>The dates on which what begins on a date comes, in order, of those from <paramref name="from"/> to <paramref name="to"/>,
    /// both included.</summary>
    /// <exception cref="NotKeptException">Finding them takes more than may be spent.</exception>
    public IEnumerable<LocalDate> Between(LocalDate first, LocalDate from, LocalDate to, StepAllowance? allowance = null)
    {
        int steps = StepsOfPeriod;
        LocalDate last = Until is { } until && until < to ? until : to;
        int found = 0;
        // Where they are counted, from the first on; else periods that lie before can't matter.
        for (int period = Count is null ? FirstPeriod(first, from) : 0; StartOf(first, period) <= last; period++)
        {
            if (allowance?.Spend(steps) == false)
                throw new NotKeptException(
                    "Working out when it comes takes more steps than one calendar gets. Take out rules that hardly ever come."
                );
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

    /// <summary>How many dates are looked at to find those of one period.</summary>
    private int StepsOfPeriod =>
        Frequency switch
        {
            Frequency.Daily => 1 + MonthDays.Count,
            Frequency.Weekly => 7,
            Frequency.Monthly => DaysInMonth * (1 + Days.Count + MonthDays.Count),
            _ when Months.Count > 0 => Months.Count * DaysInMonth * (1 + Days.Count + MonthDays.Count),
            _ => Days.Count == 0 ? 1 : 366 * Days.Count,
        };

    private const int DaysInMonth = 31;

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
