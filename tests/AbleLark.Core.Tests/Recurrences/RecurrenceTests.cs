using System.Globalization;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Recurrences;
using CsCheck;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using NodaTime;
using NodaTime.Text;
using CalendarEvent = Ical.Net.CalendarComponents.CalendarEvent;

namespace AbleLark.Core.Tests.Recurrences;

public sealed class RecurrenceTests
{
    /// <summary>RFC 5545, 3.8.5.3, rules and dates from memory; those by times of a day, weeks or days of the year aren't kept.</summary>
    [Theory]
    [InlineData("1997-09-02", "FREQ=DAILY;COUNT=10", "09-02 09-03 09-04 09-05 09-06 09-07 09-08 09-09 09-10 09-11")]
    [InlineData("1997-09-02", "FREQ=DAILY;INTERVAL=10;COUNT=5", "09-02 09-12 09-22 10-02 10-12")]
    [InlineData("1997-09-02", "FREQ=WEEKLY;COUNT=10", "09-02 09-09 09-16 09-23 09-30 10-07 10-14 10-21 10-28 11-04")]
    [InlineData("1997-09-02", "FREQ=WEEKLY;INTERVAL=2;WKST=SU", "09-02 09-16 09-30 10-14 10-28 11-11")]
    [InlineData(
        "1997-09-02",
        "FREQ=WEEKLY;UNTIL=19971007T000000Z;WKST=SU;BYDAY=TU,TH",
        "09-02 09-04 09-09 09-11 09-16 09-18 09-23 09-25 09-30 10-02"
    )]
    [InlineData(
        "1997-09-01",
        "FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR",
        "09-01 09-03 09-05 09-15 09-17 09-19 09-29 10-01 10-03 10-13 10-15 10-17 10-27 10-29 10-31 11-10 11-12 11-14 11-24 11-26 11-28 "
            + "12-08 12-10 12-12 12-22"
    )]
    [InlineData("1997-09-02", "FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH", "09-02 09-04 09-16 09-18 09-30 10-02 10-14 10-16")]
    [InlineData("1997-09-05", "FREQ=MONTHLY;COUNT=10;BYDAY=1FR", "09-05 10-03 11-07 12-05 01-02 02-06 03-06 04-03 05-01 06-05")]
    [InlineData(
        "1997-09-07",
        "FREQ=MONTHLY;INTERVAL=2;COUNT=10;BYDAY=1SU,-1SU",
        "09-07 09-28 11-02 11-30 01-04 01-25 03-01 03-29 05-03 05-31"
    )]
    [InlineData("1997-09-22", "FREQ=MONTHLY;COUNT=6;BYDAY=-2MO", "09-22 10-20 11-17 12-22 01-19 02-16")]
    [InlineData("1997-09-28", "FREQ=MONTHLY;BYMONTHDAY=-3", "09-28 10-29 11-28 12-29 01-29 02-26")]
    [InlineData("1997-09-02", "FREQ=MONTHLY;COUNT=10;BYMONTHDAY=2,15", "09-02 09-15 10-02 10-15 11-02 11-15 12-02 12-15 01-02 01-15")]
    [InlineData("1997-09-30", "FREQ=MONTHLY;COUNT=10;BYMONTHDAY=1,-1", "09-30 10-01 10-31 11-01 11-30 12-01 12-31 01-01 01-31 02-01")]
    [InlineData(
        "1997-09-10",
        "FREQ=MONTHLY;INTERVAL=18;COUNT=10;BYMONTHDAY=10,11,12,13,14,15",
        "09-10 09-11 09-12 09-13 09-14 09-15 03-10 03-11 03-12 03-13"
    )]
    [InlineData(
        "1997-09-02",
        "FREQ=MONTHLY;INTERVAL=2;BYDAY=TU",
        "09-02 09-09 09-16 09-23 09-30 11-04 11-11 11-18 11-25 01-06 01-13 01-20 01-27 03-03"
    )]
    [InlineData("1997-06-10", "FREQ=YEARLY;COUNT=10;BYMONTH=6,7", "06-10 07-10 06-10 07-10 06-10 07-10 06-10 07-10 06-10 07-10")]
    [InlineData(
        "1997-03-10",
        "FREQ=YEARLY;INTERVAL=2;COUNT=10;BYMONTH=1,2,3",
        "03-10 01-10 02-10 03-10 01-10 02-10 03-10 01-10 02-10 03-10"
    )]
    [InlineData("1997-05-19", "FREQ=YEARLY;BYDAY=20MO", "05-19 05-18 05-17")]
    [InlineData("1997-03-13", "FREQ=YEARLY;BYMONTH=3;BYDAY=TH", "03-13 03-20 03-27 03-05 03-12 03-19 03-26 03-04 03-11 03-18 03-25")]
    [InlineData("1997-09-02", "FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13", "02-13 03-13 11-13 08-13 10-13")]
    [InlineData(
        "1997-09-13",
        "FREQ=MONTHLY;BYDAY=SA;BYMONTHDAY=7,8,9,10,11,12,13",
        "09-13 10-11 11-08 12-13 01-10 02-07 03-07 04-11 05-09 06-13"
    )]
    [InlineData("1996-11-05", "FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8", "11-05 11-07 11-02")]
    [InlineData("1997-09-04", "FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3", "09-04 10-07 11-06")]
    [InlineData("1997-09-29", "FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2", "09-29 10-30 11-27 12-30 01-29 02-26 03-30")]
    [InlineData("1997-08-05", "FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO", "08-05 08-10 08-19 08-24")]
    [InlineData("1997-08-05", "FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU", "08-05 08-17 08-19 08-31")]
    [InlineData("2007-01-15", "FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5", "01-15 01-30 02-15 03-15 03-30")]
    public void It_comes_as_the_examples_of_the_standard_do(string first, string rule, string dates)
    {
        LocalDate start = LocalDatePattern.Iso.Parse(first).Value;
        string[] expected = dates.Split(' ');
        Recurrence read = Recurrence.Parse(rule, DateTimeZoneProviders.Tzdb["America/New_York"], new(9, 0));
        LocalDate[] all = [.. read.Between(start, start, start.PlusYears(40)).Take(expected.Length + 1)];
        Assert.Equal(expected, all.Take(expected.Length).Select(d => d.ToString("MM-dd", CultureInfo.InvariantCulture)));
        if (rule.Contains("COUNT", StringComparison.Ordinal) || rule.Contains("UNTIL", StringComparison.Ordinal))
            Assert.Equal(expected.Length, all.Length);
    }

    /// <summary>Beside the same rules as Ical.Net 5.2 (NuGet) works them out, over six years.</summary>
    [Fact]
    public void Random_rules_come_on_the_dates_that_another_reading_of_the_standard_has()
    {
        string[] days = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"];
        Gen.Select(Gen.Int[0, 3], Gen.Int[1, 5], Gen.Int[0, 127], Gen.Int[-5, 5], Gen.Int[0, 8], Gen.Int[0, 800], Gen.Int[0, 30])
            .Sample(
                (frequency, interval, mask, ordinal, kind, ahead, count) =>
                {
                    string[] among = [.. days.Where((_, i) => (mask & (1 << i)) != 0)];
                    bool counts = frequency >= 2 && ordinal != 0;
                    List<string> parts = [$"FREQ={new[] { "DAILY", "WEEKLY", "MONTHLY", "YEARLY" }[frequency]}", $"INTERVAL={interval}"];
                    if (among.Length > 0 && kind < 5)
                        parts.Add($"BYDAY={string.Join(',', among.Select(d => counts ? $"{ordinal}{d}" : d))}");
                    if (kind is 5 or 6 && frequency is 2 or 3)
                        parts.Add($"BYMONTHDAY={(kind == 5 ? "1,15,31" : "-1,-2,7")}");
                    if (kind is 1 or 6 || (kind == 5 && frequency == 3))
                        parts.Add("BYMONTH=1,4,9");
                    if (kind == 2 && among.Length > 1 && frequency >= 2 && !counts)
                        parts.Add("BYSETPOS=2,-1");
                    if (count > 20)
                        parts.Add($"COUNT={count}");
                    string rule = string.Join(';', parts);
                    LocalDate near = new LocalDate(2024, 1, 1).PlusDays(ahead);
                    // The first date counts for them even where the rule doesn't name it: it begins on one that it names.
                    LocalDate start = Rule(rule).Between(near, near, near.PlusYears(8)).FirstOrDefault(near);
                    LocalDate end = start.PlusYears(6);
                    LocalDate[] ours = [.. Rule(rule).Between(start, start, end)];
                    if (ours.Length == 0)
                        return;
                    CalendarEvent reference = new()
                    {
                        Start = new CalDateTime(start.Year, start.Month, start.Day),
                        RecurrenceRule = new(rule),
                    };
                    LocalDate[] theirs =
                    [
                        .. reference
                            .GetOccurrences(reference.Start)
                            .Select(o => LocalDate.FromDateTime(o.Period.StartTime.Value))
                            .TakeWhile(d => d <= end),
                    ];
                    Assert.True(theirs.SequenceEqual(ours), $"{rule} from {start:uuuu-MM-dd}");
                    // Whoever looks at a part of it sees that part.
                    LocalDate from = start.PlusDays(400);
                    Assert.Equal(ours.Where(d => d >= from), Rule(rule).Between(start, from, end));
                },
                iter: Effort.Of(1_500)
            );
    }

    [Theory]
    [InlineData("FREQ=HOURLY", "more often than once a day (FREQ=HOURLY)")]
    [InlineData("FREQ=DAILY;BYHOUR=9,12", "times of a day (BYHOUR)")]
    [InlineData("FREQ=YEARLY;BYWEEKNO=20", "(BYWEEKNO)")]
    [InlineData("FREQ=YEARLY;BYYEARDAY=1,100", "(BYYEARDAY)")]
    [InlineData("FREQ=YEARLY;BYMONTHDAY=13;BYDAY=FR", "need their months (BYMONTH)")]
    [InlineData("FREQ=FORTNIGHTLY", "is no frequency")]
    [InlineData("INTERVAL=2", "how often")]
    [InlineData("FREQ=DAILY;COUNT=2;UNTIL=20270101", "ends twice")]
    [InlineData("FREQ=DAILY;COUNT=99999999999", "COUNT=99999999999 is no number from 1 to 10000")]
    [InlineData("FREQ=DAILY;INTERVAL=0", "INTERVAL=0")]
    [InlineData("FREQ=DAILY;FREQ=DAILY", "stands in it twice")]
    [InlineData("FREQ=MONTHLY;BYMONTHDAY=0", "nought")]
    [InlineData("FREQ=MONTHLY;BYDAY=XX", "is no day of the week")]
    [InlineData("FREQ=WEEKLY;BYDAY=2TU", "Only a rule by month or year")]
    [InlineData("FREQ=DAILY;UNTIL=tomorrow", "is no date")]
    [InlineData("FREQ=DAILY;RSCALE=HEBREW", "RSCALE is no part of a rule")]
    public void What_is_not_kept_is_refused_by_name(string rule, string words) =>
        Assert.Contains(words, Assert.Throws<NotKeptException>(() => Rule(rule)).Message, StringComparison.Ordinal);

    [Fact]
    public void A_rule_that_names_no_date_ends_soon()
    {
        LocalDate start = new(2026, 1, 1);
        Assert.Empty(Rule("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30").Between(start, start, start.PlusYears(100)));
        Assert.Empty(Rule("FREQ=MONTHLY;INTERVAL=1000;BYMONTHDAY=31;BYMONTH=2").Between(start, start, new(2199, 12, 31)));
        Assert.Single(Rule("FREQ=YEARLY;INTERVAL=1000").Between(start, start, new(2199, 12, 31)));
    }

    [Fact]
    public void The_end_of_a_rule_is_told_in_the_zone_of_its_time()
    {
        // Ten in the evening in universal time is the next day in Kathmandu.
        DateTimeZone zone = DateTimeZoneProviders.Tzdb["Asia/Kathmandu"];
        LocalDate start = new(2026, 12, 1);
        Assert.Equal(new LocalDate(2026, 12, 4), Last(new(3, 0)));
        Assert.Equal(new LocalDate(2026, 12, 3), Last(new(9, 0)));

        LocalDate Last(LocalTime time) =>
            Recurrence.Parse("FREQ=DAILY;UNTIL=20261203T220000Z", zone, time).Between(start, start, start.PlusDays(20)).Last();
    }

    private static Recurrence Rule(string rule) => Recurrence.Parse(rule, DateTimeZone.Utc, null);
}
