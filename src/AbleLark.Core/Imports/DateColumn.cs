using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>Why a column's dates can't be read without asking.</summary>
public enum DateDoubt
{
    /// <summary>Several readings fit every row.</summary>
    SeveralFit,

    /// <summary>No reading fits every row: some rows speak for one, some for another.</summary>
    NoneFits,

    /// <summary>The dates speak for one reading, the weekdays for another.</summary>
    WeekdaysDisagree,

    /// <summary>Months are named in another language than English: which one, somebody has to say.</summary>
    OtherLanguage,
}

/// <summary>One way to read a column.</summary>
/// <param name="Impossible">Rows that are no date so.</param>
/// <param name="WeekdaysAgree">Rows whose weekday is the date's.</param>
/// <param name="WeekdaysDisagree">Rows whose weekday is another.</param>
/// <param name="InOrder">Rows that follow the row before in time: it only says which reading is offered first.</param>
public sealed record DateReading(DateOrder Order, int Impossible, int WeekdaysAgree, int WeekdaysDisagree, int InOrder);

/// <summary>How the dates of a column are to be read.</summary>
/// <param name="Readings">Those that are offered, the likeliest first.</param>
/// <param name="Decided">Null: somebody has to say.</param>
/// <param name="Doubt">Null: it is decided.</param>
/// <param name="Rows">Places of three rows in the column, from 0, that the readings tell apart.</param>
public sealed record DateQuestion(IReadOnlyList<DateReading> Readings, DateOrder? Decided, DateDoubt? Doubt, IReadOnlyList<int> Rows)
{
    public DateQuestionKind Kind =>
        Readings[0].Order switch
        {
            DateOrder.DaysFrom1900 or DateOrder.DaysFrom1904 => DateQuestionKind.Days,
            >= DateOrder.German => DateQuestionKind.Language,
            _ => DateQuestionKind.Numbers,
        };
}

/// <summary>Infers how dates are written from the whole column. Impossible dates and agreeing weekdays decide; the order of rows never
/// does.</summary>
public static class DateColumn
{
    private static readonly DateOrder[] Numbers = [DateOrder.DayFirst, DateOrder.MonthFirst, DateOrder.YearFirst];
    private static readonly DateOrder[] Serials = [DateOrder.DaysFrom1900, DateOrder.DaysFrom1904];
    private static readonly DateOrder[] Languages = [.. Enum.GetValues<DateOrder>().Where(o => o >= DateOrder.German)];

    /// <summary>A plan has dates no more than so many years from now.</summary>
    private const int YearsNear = 5;

    private const int Witnesses = 3;

    private sealed record Cell(int Place, DateCell Date, IsoDayOfWeek? Weekday);

    /// <param name="cells">The column's cells; null where one is empty.</param>
    /// <param name="weekdays">What a column of weekdays says beside each.</param>
    /// <returns>One question for numbers, one for counted days, one for the language; none where every date is clear.</returns>
    public static IReadOnlyList<DateQuestion> Infer(
        IReadOnlyList<DateCell?> cells,
        IReadOnlyList<IsoDayOfWeek?>? weekdays,
        LocalDate today
    ) => [.. new[] { Numbers, Serials, Languages }.Select(orders => Ask(orders, cells, weekdays, today)).OfType<DateQuestion>()];

    private static DateQuestion? Ask(
        DateOrder[] orders,
        IReadOnlyList<DateCell?> cells,
        IReadOnlyList<IsoDayOfWeek?>? weekdays,
        LocalDate today
    )
    {
        List<Cell> all = [];
        for (int i = 0; i < cells.Count; i++)
        {
            if (cells[i] is { } date && date.IsDate && date.Orders.Any(orders.Contains))
                all.Add(new(i, date, date.Weekday ?? weekdays?.ElementAtOrDefault(i)));
        }
        if (all.Count == 0)
            return null;
        DateOrder[] there = [.. orders.Where(o => all.Exists(c => c.Date.In(o) is not null))];
        // 31/02/26 is no slip of the 26th of February 2031, where all others would lie years away as well.
        DateOrder[] near = [.. there.Where(o => !MostlyFar(o, all, today))];
        if (near.Length > 0)
            (there, all) = (near, [.. all.Where(c => near.Any(o => c.Date.In(o) is not null))]);
        DateReading[] readings = [.. there.Select(o => Measure(o, all))];
        DateOrder[] left = [.. readings.Where(r => r.Impossible == 0).Select(r => r.Order)];
        int[] apart =
        [
            .. all.Where(c => readings.Select(r => c.Date.In(r.Order)).Distinct().Count() > 1)
                .DistinctBy(c => c.Date.Text)
                .Select(c => c.Place)
                .Take(Witnesses),
        ];
        // In which language somebody writes is never worked out from a few words.
        (DateOrder? decided, DateDoubt? doubt) = orders == Languages ? (null, DateDoubt.OtherLanguage) : Decide(readings, left, all);
        return new(
            [
                .. readings
                    .OrderBy(r =>
                        left.Length == 0 ? r.Impossible
                        : left.Contains(r.Order) ? 0
                        : 1
                    )
                    .ThenBy(r => r.WeekdaysDisagree - r.WeekdaysAgree)
                    .ThenByDescending(r => r.InOrder)
                    .ThenBy(r => r.Order),
            ],
            decided,
            doubt,
            apart
        );
    }

    private static (DateOrder?, DateDoubt?) Decide(DateReading[] readings, DateOrder[] left, List<Cell> all)
    {
        if (left.Length == 0)
            return (null, DateDoubt.NoneFits);
        DateReading[] fitting = [.. readings.Where(r => left.Contains(r.Order))];
        // Readings that give the same dates are one.
        DateReading[] different = [.. fitting.DistinctBy(r => string.Join(' ', all.Select(c => c.Date.In(r.Order))))];
        DateReading[] agreeing = [.. different.Where(r => r.WeekdaysDisagree == 0 && r.WeekdaysAgree > 0)];
        DateReading? one =
            different.Length == 1 ? different[0]
            : agreeing.Length == 1 && different.All(r => r == agreeing[0] || r.WeekdaysDisagree > 0) ? agreeing[0]
            : null;
        if (one is null)
            return (null, different.Any(r => r.WeekdaysDisagree > 0) ? DateDoubt.WeekdaysDisagree : DateDoubt.SeveralFit);
        bool isContradicted =
            one.WeekdaysDisagree > one.WeekdaysAgree && readings.Any(r => r.WeekdaysAgree - r.WeekdaysDisagree > one.WeekdaysAgree);
        return isContradicted ? (null, DateDoubt.WeekdaysDisagree) : (one.Order, null);
    }

    private static DateReading Measure(DateOrder order, List<Cell> all)
    {
        (int impossible, int agree, int disagree, int inOrder) = (0, 0, 0, 0);
        LocalDate? before = null;
        foreach (Cell cell in all)
        {
            if (cell.Date.In(order) is not { } date)
            {
                impossible++;
                continue;
            }
            if (cell.Weekday is { } weekday)
                _ = weekday == date.DayOfWeek ? agree++ : disagree++;
            if (before is null || date >= before)
                inOrder++;
            before = date;
        }
        return new(order, impossible, agree, disagree, inOrder);
    }

    private static bool MostlyFar(DateOrder order, List<Cell> all, LocalDate today) =>
        all.Count(c => c.Date.In(order) is { } d && Math.Abs(d.Year - today.Year) > YearsNear) * 2 > all.Count;
}
