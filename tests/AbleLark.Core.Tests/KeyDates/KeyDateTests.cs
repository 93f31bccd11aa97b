using AbleLark.Core.KeyDates;
using NodaTime;

namespace AbleLark.Core.Tests.KeyDates;

public sealed class KeyDateTests
{
    private static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private static readonly LocalDate Start = new(2026, 12, 1);

    [Fact]
    public void What_is_told_in_another_zone_stands_on_its_date_here()
    {
        KeyDate far = Of("FREQ=WEEKLY", new LocalTime(9, 0));
        far.Zone = DateTimeZoneProviders.Tzdb["Pacific/Auckland"];
        // Nine in the morning there is eight in the evening of the day before here.
        KeyDateComing coming = Assert.Single(far.Between(new(2026, 11, 30), new(2026, 12, 6), Dublin));
        Assert.Equal((Start, new LocalDate(2026, 11, 30), new LocalTime(20, 0)), (coming.Occurrence, coming.Date, coming.Time));
        Assert.Empty(far.Between(new(2026, 12, 1), new(2026, 12, 6), Dublin));
    }

    [Fact]
    public void Clocks_that_change_leave_the_hour_of_its_own_zone()
    {
        KeyDate weekly = Of("FREQ=WEEKLY", new LocalTime(12, 0));
        weekly.Zone = DateTimeZoneProviders.Tzdb["America/New_York"];
        weekly.Date = new(2027, 3, 7);
        // Clocks change a fortnight later here than there.
        Assert.Equal(
            [new LocalTime(17, 0), new(16, 0), new(16, 0), new(17, 0)],
            weekly.Between(new(2027, 3, 1), new(2027, 3, 31), Dublin).Select(c => c.Time!.Value)
        );
    }

    [Fact]
    public void All_day_is_the_same_dates_everywhere_and_a_long_one_is_seen_from_its_middle()
    {
        KeyDate fair = Of(null, null);
        fair.Days = 5;
        KeyDateComing coming = Assert.Single(fair.Between(new(2026, 12, 3), new(2026, 12, 3), Dublin));
        Assert.Equal((Start, new LocalDate(2026, 12, 5), null), (coming.Date, coming.Last, coming.Time));
        Assert.Empty(fair.Between(new(2026, 12, 6), new(2026, 12, 9), Dublin));
    }

    [Fact]
    public void One_coming_is_skipped_or_put_elsewhere_and_keeps_its_name()
    {
        KeyDate market = Of("FREQ=WEEKLY;BYDAY=TU", null);
        market.Skipped = [new(2026, 12, 8)];
        market.Moved = [new(new(2026, 12, 15), new(2027, 2, 3), new(18, 0))];
        Assert.Equal(
            [(new LocalDate(2026, 12, 1), new LocalDate(2026, 12, 1)), (new(2026, 12, 22), new(2026, 12, 22))],
            market.Between(Start, new(2026, 12, 28), Dublin).Select(c => (c.Occurrence, c.Date))
        );
        // Where it was put, it is found, however far that is.
        Assert.Contains(market.Between(new(2027, 2, 3), new(2027, 2, 3), Dublin), c => c.Occurrence == new LocalDate(2026, 12, 15));
        Assert.Equal(new LocalDate(2027, 2, 3), market.At(new(2026, 12, 15), Dublin)!.Date);
        Assert.Null(market.At(new(2026, 12, 8), Dublin));
        Assert.Null(market.At(new(2026, 12, 9), Dublin));
        // What comes once is found whatever date it was known by.
        Assert.Equal(Start, Of(null, null).At(new(2020, 1, 1), Dublin)!.Date);
    }

    private static KeyDate Of(string? rule, LocalTime? time) =>
        new()
        {
            WorkspaceId = new(Guid.NewGuid()),
            Id = new(Guid.NewGuid()),
            KindId = new(Guid.NewGuid()),
            Title = "Quay market",
            Date = Start,
            Rule = rule,
            Time = time,
        };
}
