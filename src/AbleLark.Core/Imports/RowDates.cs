using System.Globalization;
using System.Text.RegularExpressions;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>When a row is to go out, in the workspace's zone.</summary>
internal readonly record struct RowWhen(LocalDate? Date, LocalTime? Time);

/// <summary>Reads the dates and times of rows, by what the whole column says of how they are written.</summary>
internal sealed partial class RowDates
{
    /// <summary>Further from the middle of the others than this is worth a look.</summary>
    private const int DaysFar = 300;

    /// <summary>Before this hour nobody is awake to look at it.</summary>
    private const int NightUntil = 5;

    private static readonly string DateKey = ImportTargets.KeyOf(RowField.Date);
    private static readonly string TimeKey = ImportTargets.KeyOf(RowField.Time);
    private static readonly string WeekdayKey = ImportTargets.KeyOf(RowField.Weekday);
    private static readonly string ZoneKey = ImportTargets.KeyOf(RowField.Zone);

    private readonly ImportContext _context;
    private readonly Dictionary<string, DateOrders> _orders = [];
    private readonly LocalDate? _middle;

    public RowDates(IReadOnlyList<string[]> rows, ImportPlan plan, ImportContext context, IReadOnlyDictionary<string, int> columns)
    {
        _context = context;
        Dictionary<string, IReadOnlyList<DateQuestion>> questions = [];
        foreach ((string key, int column) in columns)
        {
            if (context.Targets.Find(key) is not { } target || !IsDate(target))
                continue;
            DateCell?[] cells = [.. rows.Skip(plan.HeaderRow).Select(r => Parse(r, column))];
            IsoDayOfWeek?[]? weekdays =
                key == DateKey && columns.TryGetValue(WeekdayKey, out int beside)
                    ? [.. rows.Skip(plan.HeaderRow).Select(r => beside < r.Length ? Weekdays.Read(r[beside]) : null)]
                    : null;
            IReadOnlyList<DateQuestion> asked = DateColumn.Infer(cells, weekdays, context.Now.Date);
            if (asked.Count > 0)
                questions[key] = asked;
            DateOrders? chosen = plan.Orders.GetValueOrDefault(key);
            _orders[key] = new(Order(DateQuestionKind.Numbers), Order(DateQuestionKind.Days), Order(DateQuestionKind.Language));

            DateOrder? Order(DateQuestionKind kind) => chosen?.For(kind) ?? asked.FirstOrDefault(q => q.Kind == kind)?.Decided;
            if (key == DateKey)
                _middle = Middle(cells, _orders[key]);
        }
        Questions = questions;
    }

    public IReadOnlyDictionary<string, IReadOnlyList<DateQuestion>> Questions { get; }

    /// <summary>A date alone; null where it can't be read, with the finding about it.</summary>
    public LocalDate? Day(string key, string text, List<Finding> findings)
    {
        (LocalDate? date, DateCell cell) = Date(key, text, findings);
        if (date is null || cell.Rest.Length == 0 || IsMidnight(cell.Rest))
            return date;
        findings.Add(new(FindingCode.RowDateBeside, Severity.Blocks, key, cell.Rest));
        return null;
    }

    public RowWhen Read(
        int place,
        RowReader reader,
        RowEdit edit,
        Category? category,
        IReadOnlyList<Channel> goesTo,
        List<Finding> findings
    )
    {
        string dateText = reader.Cell(place, DateKey, edit),
            timeText = reader.Cell(place, TimeKey, edit);
        if (dateText.Length == 0)
        {
            if (timeText.Length > 0)
                Found(FindingCode.RowTimeWithoutDate, Severity.Blocks, DateKey);
            return default;
        }
        (LocalDate? read, DateCell cell) = Date(DateKey, dateText, findings);
        // A date that a program wrote with its clock at nought has no time.
        string beside = IsMidnight(cell.Rest) ? "" : cell.Rest;
        (string text, string key) = timeText.Length > 0 ? (timeText, TimeKey) : (beside, DateKey);
        string zone = reader.Cell(place, ZoneKey, edit);
        LocalTime? time = null;
        if (text.Length > 0)
        {
            CellTime? found = TimeCell.Read(text, isTimestamp: key == DateKey && cell.IsTimestamp);
            // Year first, then a time and an offset or another time: both are common with a space between.
            if (key == DateKey && cell is { IsIso: true, IsTimestamp: false } && found?.Until is not null)
                found = null;
            (time, zone) = (found?.Time, zone.Length > 0 ? zone : found?.Zone ?? "");
            if (time is null)
                Found(key == DateKey ? FindingCode.RowDateBeside : FindingCode.RowTimeUnclear, Severity.Blocks, key, text);
            else if (found?.Until is not null)
                Found(FindingCode.RowTimeRange, Severity.Advice, key, text, InWords(time.Value));
        }
        if (timeText.Length > 0 && beside.Length > 0 && TimeCell.Read(beside, cell.IsTimestamp)?.Time != time)
            Found(FindingCode.RowDateBesideTime, Severity.Blocks, DateKey, beside, timeText);
        if (read is not { } date)
            return default;
        CheckWeekday(date, cell, reader.Cell(place, WeekdayKey, edit), findings);
        if (time is null && text.Length == 0)
            OfferTime(date, category, goesTo, findings);
        if (time is { } known && zone.Length > 0)
        {
            if (Moved(date + known, zone) is not { } moved)
            {
                Found(FindingCode.RowZoneUnknown, Severity.Blocks, ZoneKey, zone);
                return new(date, time);
            }
            if (moved != date + known)
                Found(FindingCode.RowTimeMoved, Severity.Advice, key, $"{(date + known).InWords()} {zone}", moved.InWords());
            (date, time) = (moved.Date, moved.TimeOfDay);
        }
        CheckTime(date, time, findings);
        return new(date, time);

        void Found(FindingCode code, Severity severity, string target, params string[] values) =>
            findings.Add(new(code, severity, target, values));
    }

    private static bool IsMidnight(string text) => MidnightPattern().IsMatch(text);

    private static string InWords(LocalTime time) => time.ToString("HH:mm", CultureInfo.InvariantCulture);

    private (LocalDate? Date, DateCell Cell) Date(string key, string text, List<Finding> findings)
    {
        DateCell cell = DateCell.Read(text, _context.Now.Year);
        DateOrder? order = _orders.GetValueOrDefault(key)?.For(cell);
        LocalDate? date = cell.Clear ?? (order is { } known ? cell.In(known) : OnlyOne(cell));
        if (date is null)
            findings.Add(
                new(
                    cell.LacksYear ? FindingCode.RowDateNoYear
                        : cell.Question == DateQuestionKind.Language && order is null ? FindingCode.RowDateLanguage
                        : cell.IsDate && order is null ? FindingCode.RowDateUnclear
                        : FindingCode.RowDateImpossible,
                    Severity.Blocks,
                    key,
                    text
                )
            );
        else if (!DateBounds.Contains(date.Value, _context.Now.Date))
        {
            findings.Add(new(FindingCode.RowValueRefused, Severity.Blocks, key, DateBounds.Words(date.Value, _context.Now.Date)));
            date = null;
        }
        return (date, cell);
    }

    /// <summary>The date, where all orders in which it can be one give the same.</summary>
    private static LocalDate? OnlyOne(DateCell cell)
    {
        if (cell.Question == DateQuestionKind.Language)
            return null;
        LocalDate[] dates = [.. cell.Orders.Select(cell.In).OfType<LocalDate>().Distinct()];
        return dates.Length == 1 ? dates[0] : null;
    }

    private static void CheckWeekday(LocalDate date, DateCell cell, string column, List<Finding> findings)
    {
        if ((cell.Weekday ?? (column.Length > 0 ? Weekdays.Read(column) : null)) is { } weekday && weekday != date.DayOfWeek)
            findings.Add(
                new(
                    FindingCode.RowDateWeekday,
                    Severity.Blocks,
                    cell.Weekday is null ? WeekdayKey : DateKey,
                    date.InWords(),
                    date.DayOfWeek.ToString(),
                    weekday.ToString()
                )
            );
    }

    private void OfferTime(LocalDate date, Category? category, IReadOnlyList<Channel> goesTo, List<Finding> findings)
    {
        OfferedTime? offered = category is null ? null : _context.TimeFor(date, category, goesTo);
        findings.Add(
            offered is null
                ? new(FindingCode.RowDateWithoutTime, Severity.Blocks, TimeKey)
                : new(
                    offered.Place ? FindingCode.RowTimeOfPlace : FindingCode.RowTimeOfHour,
                    Severity.Blocks,
                    TimeKey,
                    offered.Time.ToString("HH:mm", CultureInfo.InvariantCulture),
                    date.InWords(),
                    category!.Name
                )
        );
    }

    private void CheckTime(LocalDate date, LocalTime? time, List<Finding> findings)
    {
        LocalDateTime? when = time is { } at ? date + at : null;
        string words = when?.InWords() ?? date.InWords();
        if (when is null ? date < _context.Now.Date : when <= _context.Now)
            findings.Add(new(FindingCode.RowDatePast, Severity.Blocks, DateKey, words));
        else if (_middle is { } middle && Math.Abs(Period.DaysBetween(middle, date)) is > DaysFar and int days)
            findings.Add(
                new(FindingCode.RowDateFar, Severity.Advice, DateKey, words, days.ToString(CultureInfo.InvariantCulture), middle.InWords())
            );
        else if (date > _context.Now.Date.PlusYears(1))
            findings.Add(new(FindingCode.RowDateYearAway, Severity.Advice, DateKey, words));
        if (when is not { } local)
            return;
        if (local.Hour < NightUntil)
            findings.Add(new(FindingCode.RowTimeAtNight, Severity.Advice, TimeKey, local.ToString("HH:mm", CultureInfo.InvariantCulture)));
        int times = _context.Zone.MapLocal(local).Count;
        if (times != 1)
            findings.Add(
                new(
                    times == 0 ? FindingCode.RowClockForward : FindingCode.RowClockBack,
                    Severity.Advice,
                    TimeKey,
                    words,
                    _context.Zone.AtLeniently(local).ToString("HH:mm", CultureInfo.InvariantCulture)
                )
            );
    }

    /// <summary>A time of another zone in the workspace's; null: there is no such zone.</summary>
    private LocalDateTime? Moved(LocalDateTime local, string zone)
    {
        DateTimeZone? other =
            zone.ToUpperInvariant() is "Z" or "UTC" or "GMT" ? DateTimeZone.Utc
            : DateTimeZoneProviders.Tzdb.GetZoneOrNull(zone) is { } named ? named
            : OffsetOf(zone) is { } offset ? DateTimeZone.ForOffset(offset)
            : null;
        return other?.AtLeniently(local).WithZone(_context.Zone).LocalDateTime;
    }

    private static Offset? OffsetOf(string zone)
    {
        if (OffsetPattern().Match(zone) is not { Success: true } match)
            return null;
        int minutes = 60 * int.Parse(match.Groups["hours"].ValueSpan, CultureInfo.InvariantCulture);
        if (match.Groups["minutes"].Success)
            minutes += int.Parse(match.Groups["minutes"].ValueSpan, CultureInfo.InvariantCulture);
        if (minutes > 18 * 60)
            return null;
        return Offset.FromSeconds((match.Groups["sign"].Value == "+" ? 60 : -60) * minutes);
    }

    private static LocalDate? Middle(DateCell?[] cells, DateOrders orders)
    {
        LocalDate[] all =
        [
            .. cells
                .OfType<DateCell>()
                .Select(c => c.Clear ?? (orders.For(c) is { } order ? c.In(order) : null))
                .OfType<LocalDate>()
                .Order(),
        ];
        return all.Length < 3 ? null : all[all.Length / 2];
    }

    private DateCell? Parse(string[] row, int column) =>
        column < row.Length && !string.IsNullOrWhiteSpace(row[column]) ? DateCell.Read(row[column], _context.Now.Year) : null;

    private static bool IsDate(ImportTarget target) =>
        target.Row is RowField.Date or RowField.From or RowField.To || target.Content?.Kind == FieldKind.Date;

    [GeneratedRegex(@"^0{1,2}[:.]00(?:[:.]00(?:[:.]0+)?)?(?:\s*z)?$", RegexOptions.IgnoreCase)]
    private static partial Regex MidnightPattern();

    [GeneratedRegex(@"^(?:utc|gmt)?\s*(?<sign>[+\-\u2212])\s*(?<hours>\d{1,2})(?::?(?<minutes>\d\d))?$", RegexOptions.IgnoreCase)]
    private static partial Regex OffsetPattern();
}
