using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>In which order the numbers of a date stand, or from which epoch its days are counted.</summary>
public enum DateOrder
{
    DayFirst,
    MonthFirst,

    /// <summary>With two digits for the year; with four there is no doubt.</summary>
    YearFirst,

    /// <summary>Days as most spreadsheets count them: 1 is 1 January 1900.</summary>
    DaysFrom1900,

    /// <summary>Days as some spreadsheets count them: 0 is 1 January 1904.</summary>
    DaysFrom1904,

    // With the month's name in another language than English.
    German,
    French,
    Spanish,
    Italian,
    Dutch,
    Portuguese,
}

/// <summary>What is asked about how dates are written.</summary>
public enum DateQuestionKind
{
    /// <summary>The order of day, month and year.</summary>
    Numbers,

    /// <summary>From which epoch days are counted.</summary>
    Days,

    /// <summary>In which language months are named.</summary>
    Language,
}

/// <summary>One cell that holds a date, in every way in which it can be read.</summary>
public sealed partial class DateCell
{
    private readonly Dictionary<DateOrder, LocalDate?> _readings = [];

    private DateCell(string text) => Text = text;

    public string Text { get; }

    /// <summary>The weekday that is written beside the date.</summary>
    public IsoDayOfWeek? Weekday { get; private set; }

    /// <summary>What is left of the cell beside its date: a time, perhaps.</summary>
    public string Rest { get; private set; } = "";

    /// <summary>True: the rest stands behind the `T` of a timestamp as ISO 8601 has it, where an offset from UTC may end it.</summary>
    public bool IsTimestamp { get; private set; }

    /// <summary>True: the date is written year first with its day, as ISO 8601 has it.</summary>
    public bool IsIso { get; private set; }

    /// <summary>What would have to be asked about it; null: nothing.</summary>
    public DateQuestionKind? Question =>
        _readings.Count == 0 ? null
        : _readings.ContainsKey(DateOrder.DaysFrom1900) ? DateQuestionKind.Days
        : _readings.Keys.Any(o => o >= DateOrder.German) ? DateQuestionKind.Language
        : DateQuestionKind.Numbers;

    /// <summary>True: day and month without a year.</summary>
    public bool LacksYear { get; private set; }

    /// <summary>The date, where there is but one reading.</summary>
    public LocalDate? Clear { get; private set; }

    /// <summary>The orders in which it may be; empty: it is clear, or no date.</summary>
    public IReadOnlyCollection<DateOrder> Orders => _readings.Keys;

    /// <summary>Read in an order; null: no date so.</summary>
    public LocalDate? In(DateOrder order) => Clear ?? _readings.GetValueOrDefault(order);

    /// <summary>True when any reading gives a date.</summary>
    public bool IsDate => Clear is not null || _readings.Values.Any(d => d is not null);

    /// <param name="thisYear">Two digits of a year mean one from 50 years before it to 49 after.</param>
    public static DateCell Read(string text, int thisYear)
    {
        DateCell cell = new(text);
        string rest = text.Trim();
        if (SerialPattern().Match(rest) is { Success: true } serial)
            cell.ReadSerial(serial);
        else if (CompactPattern().Match(rest) is { Success: true } compact)
            cell.Clear = Date(Number(compact, 1), Number(compact, 2), Number(compact, 3));
        else if (NumbersPattern().Match(rest) is { Success: true } numbers)
        {
            cell.ReadNumbers(numbers, thisYear);
            rest = rest.Remove(numbers.Index, numbers.Length);
        }
        else if (NamedPattern().Match(rest) is { Success: true } named)
        {
            cell.ReadNamed(named, thisYear);
            rest = rest.Remove(named.Index, named.Length);
        }
        else if (DateLanguages.Find(rest) is { } other)
        {
            cell.ReadOther(other, thisYear);
            rest = rest.Remove(other.Stretch.Index, other.Stretch.Length);
        }
        else if (ShortPattern().IsMatch(rest))
            cell.LacksYear = true;
        else
            return cell;
        Match weekday = WeekdayPattern().Match(rest);
        if (weekday.Success)
        {
            cell.Weekday = Weekdays.Read(weekday.Value);
            rest = rest.Remove(weekday.Index, weekday.Length);
        }
        else if (FirstWordPattern().Match(rest) is { Success: true } word && DateLanguages.Weekdays(word.Value).Any())
        {
            cell.Weekday = Weekdays.Read(word.Value);
            rest = rest.Remove(word.Index, word.Length);
        }
        if (cell.Rest.Length == 0 && (cell.IsDate || cell._readings.Count > 0))
        {
            cell.IsTimestamp = cell.IsIso && TimestampPattern().IsMatch(rest);
            cell.Rest = FillPattern().Replace(rest, " ").Trim();
        }
        return cell;
    }

    private void ReadOther(DateLanguages.Found found, int thisYear)
    {
        if (found.Year is not { } year)
        {
            LacksYear = true;
            return;
        }
        int number = int.Parse(year, CultureInfo.InvariantCulture);
        foreach ((DateOrder language, int month) in found.Months)
            _readings[language] = Date(year.Length == 4 ? number : Whole(number, thisYear), month, found.Day);
    }

    private void ReadSerial(Match serial)
    {
        int days = int.Parse(serial.Groups[1].ValueSpan, CultureInfo.InvariantCulture);
        // Day 60 of that epoch never was; later days are one ahead for it.
        _readings[DateOrder.DaysFrom1900] = new LocalDate(1899, 12, 30).PlusDays(days);
        _readings[DateOrder.DaysFrom1904] = new LocalDate(1904, 1, 1).PlusDays(days);
        if (serial.Groups[2].Success)
            Rest = "0" + serial.Groups[2].Value;
    }

    private void ReadNumbers(Match numbers, int thisYear)
    {
        (int first, int second, int third) = (Number(numbers, 1), Number(numbers, 3), Number(numbers, 4));
        if (numbers.Groups[1].Length == 4)
        {
            (Clear, IsIso) = (Date(first, second, third), numbers.Groups[2].Value == "-");
            return;
        }
        bool isShort = numbers.Groups[4].Length == 2;
        int year = isShort ? Whole(third, thisYear) : third;
        if (numbers.Groups[1].Length == 3 || numbers.Groups[4].Length is 1 or 3)
            return;
        _readings[DateOrder.DayFirst] = Date(year, second, first);
        _readings[DateOrder.MonthFirst] = Date(year, first, second);
        if (isShort && numbers.Groups[1].Length == 2)
            _readings[DateOrder.YearFirst] = Date(Whole(first, thisYear), second, third);
    }

    private void ReadNamed(Match named, int thisYear)
    {
        string word = named.Groups["month"].Value;
        int month = 1 + Array.FindIndex(Months, m => word.StartsWith(m, StringComparison.OrdinalIgnoreCase));
        int day = Number(named, "day");
        Group year = named.Groups["year"];
        if (!year.Success)
        {
            LacksYear = true;
            return;
        }
        int number = Number(named, "year");
        if (year.Length == 4)
        {
            Clear = Date(number, month, day);
            return;
        }
        LocalDate? dayFirst = Date(Whole(number, thisYear), month, day);
        // 26-Mar-25 may begin with the year.
        LocalDate? yearFirst =
            named.Groups["day"] is { Length: 2 } d && d.Index < named.Groups["month"].Index
                ? Date(Whole(day, thisYear), month, number)
                : null;
        if (yearFirst is null)
            Clear = dayFirst;
        else
        {
            (_readings[DateOrder.DayFirst], _readings[DateOrder.MonthFirst]) = (dayFirst, dayFirst);
            _readings[DateOrder.YearFirst] = yearFirst;
        }
    }

    private static readonly string[] Months = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

    private static int Whole(int year, int thisYear)
    {
        int century = thisYear - (thisYear % 100);
        int whole = century + year;
        return whole > thisYear + 49 ? whole - 100
            : whole < thisYear - 50 ? whole + 100
            : whole;
    }

    private static LocalDate? Date(int year, int month, int day) =>
        year is >= 1 and <= 9999 && month is >= 1 and <= 12 && day >= 1 && day <= CalendarSystem.Iso.GetDaysInMonth(year, month)
            ? new LocalDate(year, month, day)
            : null;

    private static int Number(Match match, int group) => int.Parse(match.Groups[group].ValueSpan, CultureInfo.InvariantCulture);

    private static int Number(Match match, string group) => int.Parse(match.Groups[group].ValueSpan, CultureInfo.InvariantCulture);

    private const string MonthNames =
        "(?<month>jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?|nov(?:ember)?"
        + "|dec(?:ember)?)";

    [GeneratedRegex(@"^([2-7]\d{4})(\.\d+)?$")]
    private static partial Regex SerialPattern();

    [GeneratedRegex(@"^((?:19|20)\d\d)(\d\d)(\d\d)$")]
    private static partial Regex CompactPattern();

    [GeneratedRegex(@"(?<![\d:])(\d{1,4})\s*([./\-\u2010-\u2015])\s*(\d{1,2})\s*\2\s*(\d{1,4})(?![\d:])")]
    private static partial Regex NumbersPattern();

    [GeneratedRegex(
        @"(?<![\d:\p{L}])(?:(?<day>\d{1,2})(?:st|nd|rd|th)?[\s.\-/]*(?:of\s+)?"
            + MonthNames
            + @"(?!\p{L})\.?(?:[\s,.\-/]*(?<year>\d{4}|\d\d)(?![\d:]))?|"
            + MonthNames
            + @"\.?[\s\-/]*(?<day>\d{1,2})(?:st|nd|rd|th)?(?![\d:])(?:[\s,.\-/]+(?<year>\d{4}|\d\d)(?![\d:]))?)",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex NamedPattern();

    [GeneratedRegex(@"^(?:\p{L}+\.?,?\s+)?\d{1,2}[./\-]\d{1,2}\.?$")]
    private static partial Regex ShortPattern();

    [GeneratedRegex(
        @"(?<!\p{L})(?:mon|tue|tues|wed|thu|thur|thurs|fri|sat|sun)(?:day|nesday|rsday|urday|sday)?(?!\p{L})\.?",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex WeekdayPattern();

    [GeneratedRegex(@"^[\s,]*\p{L}+(?:-feira)?\.?(?=[\s,]|$)", RegexOptions.IgnoreCase)]
    private static partial Regex FirstWordPattern();

    [GeneratedRegex(@"^T\d")]
    private static partial Regex TimestampPattern();

    [GeneratedRegex(@"^[\s,.]*(?:T(?=\d)|at\s)?|[\s,]+", RegexOptions.IgnoreCase)]
    private static partial Regex FillPattern();
}

/// <summary>Names of weekdays.</summary>
public static class Weekdays
{
    /// <summary>A weekday by its name or the beginning of it, or by its name in another language where that means one alone; null:
    /// none.</summary>
    public static IsoDayOfWeek? Read(string text)
    {
        string word = text.Trim().TrimEnd('.').ToLowerInvariant();
        if (word.Length < 2)
            return null;
        IsoDayOfWeek[] found =
        [
            .. Enum.GetValues<IsoDayOfWeek>()
                .Where(d => d != IsoDayOfWeek.None && d.ToString().StartsWith(word, StringComparison.OrdinalIgnoreCase)),
        ];
        if (found.Length == 1)
            return found[0];
        return DateLanguages.Weekdays(word).ToArray() is [var one] ? one : null;
    }
}
