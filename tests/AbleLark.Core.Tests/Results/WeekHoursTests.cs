using AbleLark.Core.Channels;
using AbleLark.Core.Results;
using NodaTime;

namespace AbleLark.Core.Tests.Results;

/// <summary>When people are there and when posts did well, by hour of the week.</summary>
public sealed class WeekHoursTests
{
    private static readonly DateTimeZone Kathmandu = DateTimeZoneProviders.Tzdb["Asia/Kathmandu"];
    private static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private static readonly Instant Summer = Instant.FromUtc(2026, 7, 1, 0, 0);
    private static readonly Instant Winter = Instant.FromUtc(2026, 1, 14, 0, 0);

    [Fact]
    public void What_the_networks_tell_by_utc_is_shown_by_the_zone_s_own_hours_and_summer_time()
    {
        // Everybody is online from 18:00 to 19:00 UTC on Sunday, nobody else.
        double[] online = new double[168];
        online[(6 * 24) + 18] = 300;
        Assert.Equal([(IsoDayOfWeek.Sunday, 19)], Busy(Dublin, Summer));
        Assert.Equal([(IsoDayOfWeek.Sunday, 18)], Busy(Dublin, Winter));
        // 18:00 UTC is 23:45 in Kathmandu: the hour that begins at midnight there begins at 18:15.
        Assert.Equal([(IsoDayOfWeek.Monday, 0)], Busy(Kathmandu, Summer));

        IEnumerable<(IsoDayOfWeek, int)> Busy(DateTimeZone zone, Instant at) =>
            WeekHours.Of([online], [], zone, at).Where(h => h.Online > 0).Select(h => (h.Day, h.Hour));
    }

    [Fact]
    public void Online_is_a_share_of_the_best_hour_over_all_channels_and_unknown_where_nobody_tells()
    {
        double[] one = [.. Enumerable.Range(0, 168).Select(i => i == 30 ? 100.0 : 50)];
        double[] other = [.. Enumerable.Range(0, 168).Select(_ => 100.0)];
        IReadOnlyList<WeekHour> hours = WeekHours.Of([one, other], [], DateTimeZone.Utc, Winter);
        Assert.Equal((IsoDayOfWeek.Tuesday, 6, 1.0), (hours[30].Day, hours[30].Hour, hours[30].Online!.Value));
        Assert.Equal(0.75, hours[31].Online);
        Assert.All(WeekHours.Of([], [], DateTimeZone.Utc, Winter), h => Assert.Equal((null, null, 0), (h.Online, h.Earned, h.Deliveries)));
    }

    [Fact]
    public void What_was_earned_is_read_against_the_channel_s_own_median_and_few_deliveries_say_little()
    {
        Id<Channel> small = Id<Channel>.New();
        Id<Channel> large = Id<Channel>.New();
        Instant monday = Instant.FromUtc(2026, 1, 12, 9, 30);
        List<Earned> earned =
        [
            .. Enumerable.Range(1, 9).Select(i => new Earned(default, small, monday + Duration.FromHours(i), 10)),
            .. Enumerable.Range(1, 9).Select(i => new Earned(default, large, monday + Duration.FromHours(i), 1000)),
        ];
        earned.Add(new(default, small, monday, 30));
        // A missing figure is missing, not nought.
        earned.Add(new(default, small, monday, null));
        IReadOnlyList<WeekHour> hours = WeekHours.Of([], earned, DateTimeZone.Utc, Winter);
        // One delivery of three times the median, among five that are thought middling: (3 + 5) / 6.
        Assert.Equal((8 / 6.0, 1), (hours[9].Earned!.Value, hours[9].Deliveries));
        // A channel a hundred times as large counts for no more than the small one.
        Assert.Equal((1.0, 2), (hours[10].Earned!.Value, hours[10].Deliveries));
    }

    [Fact]
    public void The_middle_of_an_even_number_lies_between_the_two_in_the_middle()
    {
        Assert.Equal(2, Median.Of([3, 1, 2]));
        Assert.Equal(2.5, Median.Of([4, 1, 3, 2]));
    }
}
