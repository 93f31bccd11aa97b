using System.Globalization;
using AbleLark.Core.Imports;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Imports;

public sealed class DateColumnTests
{
    private static readonly LocalDate Today = new(2026, 3, 1);

    // Source: calendar, computed by hand. 14 Mar 2022 Monday, 15 Mar 2022 Tuesday, 15 Mar 2012 Thursday, 8 Jan 2027 Friday.
    [Theory]
    [InlineData("14 Mar 2022", IsoDayOfWeek.Monday)]
    [InlineData("2022-03-15", IsoDayOfWeek.Tuesday)]
    [InlineData("March 15th, 2012", IsoDayOfWeek.Thursday)]
    [InlineData("Friday 8 January 2027", IsoDayOfWeek.Friday)]
    [InlineData("20270108", IsoDayOfWeek.Friday)]
    [InlineData("8-Jan-2027", IsoDayOfWeek.Friday)]
    [InlineData("Fri, Jan 8 2027 at 2:30 pm", IsoDayOfWeek.Friday)]
    [InlineData("8. January 2027", IsoDayOfWeek.Friday)]
    public void A_date_that_can_be_read_in_one_way_is(string text, IsoDayOfWeek expected)
    {
        Assert.Equal(expected, DateCell.Read(text, 2026).Clear?.DayOfWeek);
    }

    [Theory]
    [InlineData("2027-01-08T14:30", "14:30")]
    [InlineData("8/1/2027 2:30 PM", "2:30 PM")]
    [InlineData("Fri 8 Jan 2027, 14:30", "14:30")]
    [InlineData("2027-01-08T14:30:00Z", "14:30:00Z")]
    [InlineData("46395.5", "0.5")]
    [InlineData("2027-01-08", "")]
    public void What_stands_beside_the_date_is_left_for_the_time(string text, string rest)
    {
        Assert.Equal(rest, DateCell.Read(text, 2026).Rest);
    }

    [Theory]
    [InlineData("soon")]
    [InlineData("31 Feb 2026")]
    [InlineData("32/01/2026")]
    [InlineData("2026-13-01")]
    [InlineData("100%")]
    [InlineData("7")]
    [InlineData("12:30")]
    [InlineData("")]
    public void What_is_no_date_is_none(string text)
    {
        DateCell cell = DateCell.Read(text, 2026);
        Assert.False(cell.IsDate);
        Assert.False(cell.LacksYear);
    }

    [Theory]
    [InlineData("25 March")]
    [InlineData("25/3")]
    [InlineData("Mar 25")]
    public void A_date_without_a_year_says_so(string text)
    {
        Assert.True(DateCell.Read(text, 2026).LacksYear);
    }

    // Source: the epochs as ECMA-376 part 1, 18.17.4.1 gives them: 1 is 1 Jan 1900 (with a 29 Feb 1900 that never was), 0 is 1 Jan 1904.
    [Fact]
    public void Counted_days_are_read_from_either_epoch()
    {
        DateCell cell = DateCell.Read("46395", 2026);
        Assert.Equal(new LocalDate(2027, 1, 8), cell.In(DateOrder.DaysFrom1900));
        Assert.Equal(new LocalDate(2031, 1, 9), cell.In(DateOrder.DaysFrom1904));
    }

    [Fact]
    public void One_impossible_date_decides_for_all()
    {
        Assert.Equal(DateOrder.DayFirst, Ask("03/04/2026", "13/05/2026")?.Decided);
        Assert.Equal(DateOrder.MonthFirst, Ask("03/04/2026", "05/13/2026")?.Decided);
    }

    [Fact]
    public void Where_both_fit_it_is_asked_whatever_the_order_of_rows()
    {
        DateQuestion rising = Ask("01/02/2027", "01/03/2027", "01/04/2027")!;
        Assert.Equal((null, DateDoubt.SeveralFit), (rising.Decided, rising.Doubt));
        DateQuestion asMonths = Ask("01/02/2027", "02/02/2027", "03/02/2027", "01/03/2027")!;
        Assert.Null(asMonths.Decided);
        Assert.Equal(DateOrder.DayFirst, asMonths.Readings[0].Order);
        Assert.Equal([0, 2, 3], asMonths.Rows);
    }

    [Fact]
    public void Where_each_reading_fails_somewhere_it_is_asked()
    {
        DateQuestion mixed = Ask("13/05/2026", "05/13/2026", "14/05/2026")!;
        Assert.Equal((null, DateDoubt.NoneFits), (mixed.Decided, mixed.Doubt));
        Assert.Equal((DateOrder.DayFirst, 1), (mixed.Readings[0].Order, mixed.Readings[0].Impossible));
    }

    [Fact]
    public void Agreeing_weekdays_decide_and_disagreeing_ones_ask()
    {
        // 3 Apr 2026 is a Friday, 4 Mar 2026 a Wednesday.
        Assert.Equal(DateOrder.DayFirst, Ask(["03/04/2026"], [IsoDayOfWeek.Friday])?.Decided);
        Assert.Equal(DateOrder.MonthFirst, Ask(["03/04/2026"], [IsoDayOfWeek.Wednesday])?.Decided);
        Assert.Equal(DateOrder.MonthFirst, Ask("Wed 03/04/2026")?.Decided);
        DateQuestion apart = Ask(["03/04/2026", "05/06/2026"], [IsoDayOfWeek.Friday, IsoDayOfWeek.Wednesday])!;
        Assert.Equal((null, DateDoubt.WeekdaysDisagree), (apart.Decided, apart.Doubt));
    }

    [Fact]
    public void The_same_day_and_month_need_no_question()
    {
        Assert.NotNull(Ask("05/05/2026", "06/06/2026")?.Decided);
        Assert.Null(Ask("5 May 2026", "2026-06-06"));
    }

    [Fact]
    public void A_slip_is_not_taken_for_a_year_that_comes_first()
    {
        Assert.Equal(DateOrder.DayFirst, Ask("31/02/26", "13/05/26", "14/06/26")?.Decided);
    }

    /// <summary>Sheets with known truth, each in a format by chance: a date is read as it was meant, or it is asked.</summary>
    [Fact]
    public void Never_is_a_date_wrong_without_a_question()
    {
        string[] formats =
        [
            "dd/MM/yyyy",
            "MM/dd/yyyy",
            "d.M.yyyy",
            "M-d-yyyy",
            "yyyy-MM-dd",
            "yyyy/MM/dd",
            "dd/MM/yy",
            "MM/dd/yy",
            "yy-MM-dd",
            "d MMM yyyy",
            "MMMM d, yyyy",
            "d-MMM-yy",
            "yyyyMMdd",
            "ddd d.M.yyyy",
            "ddd MM/dd/yyyy",
            "serial1900",
            "serial1904",
            "d/M/yyyy H:mm",
        ];
        Gen.Select(Gen.Int[0, formats.Length - 1], Gen.Int[-60, 500].Array[1, 30], Gen.Bool, Gen.Int[0, 12])
            .Sample(
                (format, days, withWeekdays, slips) =>
                {
                    LocalDate[] truth = [.. days.Select(d => Today.PlusDays(d))];
                    string[] written = [.. truth.Select(d => Written(d, formats[format]))];
                    // A slip here and there: no date at all, or one that never was.
                    if (slips < 3 && written.Length > 4)
                        written[slips] = slips == 0 ? "to be agreed" : "31/02/2026";
                    DateCell[] cells = [.. written.Select(w => DateCell.Read(w, Today.Year))];
                    IsoDayOfWeek?[]? weekdays = withWeekdays ? [.. truth.Select(d => (IsoDayOfWeek?)d.DayOfWeek)] : null;
                    IReadOnlyList<DateQuestion> asked = DateColumn.Infer(cells, weekdays, Today);
                    for (int i = 0; i < cells.Length; i++)
                    {
                        if (written[i] != Written(truth[i], formats[format]))
                            continue;
                        bool ofDays = cells[i].Orders.Contains(DateOrder.DaysFrom1900);
                        DateOrder? decided = asked.FirstOrDefault(q => q.Kind == DateQuestionKind.Days == ofDays)?.Decided;
                        LocalDate? read = cells[i].Clear ?? (decided is { } order ? cells[i].In(order) : null);
                        if (read is { } date && date != truth[i])
                            return false;
                    }
                    return true;
                },
                iter: Effort.Of(200),
                print: t => $"{formats[t.Item1]} {string.Join(' ', t.Item2)} {t.Item3} {t.Item4}"
            );
    }

    /// <summary>And it isn't asked where the column itself says how it is to be read.</summary>
    [Fact]
    public void A_long_column_speaks_for_itself()
    {
        LocalDate[] truth = [.. Enumerable.Range(0, 60).Select(i => Today.PlusDays(i))];
        foreach (string format in new[] { "dd/MM/yyyy", "MM/dd/yyyy", "dd/MM/yy", "MM/dd/yy", "d.M.yy", "yy-MM-dd" })
        {
            DateCell[] cells = [.. truth.Select(d => DateCell.Read(Written(d, format), Today.Year))];
            DateOrder? decided = Assert.Single(DateColumn.Infer(cells, null, Today)).Decided;
            Assert.Equal(truth, cells.Select(c => c.In(decided!.Value)!.Value));
        }
    }

    private static string Written(LocalDate date, string format) =>
        format switch
        {
            "serial1900" => (Period.DaysBetween(new LocalDate(1899, 12, 30), date)).ToString(CultureInfo.InvariantCulture),
            "serial1904" => (Period.DaysBetween(new LocalDate(1904, 1, 1), date)).ToString(CultureInfo.InvariantCulture),
            _ => date.ToDateTimeUnspecified().AddHours(9).ToString(format, CultureInfo.InvariantCulture),
        };

    private static DateQuestion? Ask(params string[] dates) => Ask(dates, null);

    private static DateQuestion? Ask(string[] dates, IsoDayOfWeek?[]? weekdays) =>
        DateColumn.Infer([.. dates.Select(d => DateCell.Read(d, Today.Year))], weekdays, Today) is [var question, ..] ? question : null;
}
