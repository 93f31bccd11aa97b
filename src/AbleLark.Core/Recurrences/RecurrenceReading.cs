using System.Globalization;
using NodaTime;

namespace AbleLark.Core.Recurrences;

/// <summary>How a rule is read.</summary>
public sealed partial record Recurrence
{
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

    private Recurrence With(string name, string value, DateTimeZone zone, LocalTime? time) =>
        name switch
        {
            "FREQ" => this with { Frequency = FrequencyOf(value) },
            "INTERVAL" => this with { Interval = Number(name, value, 1, MostInterval) },
            "COUNT" => this with { Count = Number(name, value, 1, MostCount) },
            "UNTIL" => this with { Until = UntilOf(value, zone, time) },
            "BYMONTH" => this with { Months = Numbers(name, value, 1, 12) },
            "BYMONTHDAY" => this with { MonthDays = Signed(name, value, 31) },
            "BYDAY" => this with { Days = [.. value.Split(',').Select(DayOf).Distinct()] },
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
}
