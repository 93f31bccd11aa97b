using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
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
    public void An_hour_with_few_deliveries_says_little()
    {
        Instant monday = Instant.FromUtc(2026, 1, 12, 9, 30);
        HourResult[] results =
        [
            new(default, monday, 3),
            new(default, monday + Duration.FromHours(1), 1),
            new(default, monday + Duration.FromHours(1), 1),
        ];
        IReadOnlyList<WeekHour> hours = WeekHours.Of([], results, DateTimeZone.Utc, Winter);
        // One delivery of three times the usual, among five that are thought middling: (3 + 5) / 6.
        Assert.Equal((8 / 6.0, 1), (hours[9].Earned!.Value, hours[9].Deliveries));
        Assert.Equal((1.0, 2), (hours[10].Earned!.Value, hours[10].Deliveries));
    }

    [Fact]
    public void With_too_few_posts_to_compare_the_channel_s_own_median_is_the_measure()
    {
        Id<Channel> small = Id<Channel>.New();
        Id<Channel> large = Id<Channel>.New();
        MeasuredDelivery[] sent =
        [
            .. new double?[] { 10, 10, 30, null }.Select(e => Sent(small, e)),
            .. new double?[] { 1000, 1000, 2000 }.Select(e => Sent(large, e)),
        ];
        (HourBasis basis, IReadOnlyList<HourResult> results) = WeekHours.ResultsOf(sent, ResultsByCategory.Of(sent));
        Assert.Equal(HourBasis.Median, basis);
        // A missing figure is missing, not nought; a large channel counts for no more than a small one.
        Assert.Equal([1, 1, 3, 1, 1, 2], results.Select(r => r.Ratio));
        Assert.Equal(HourBasis.None, WeekHours.ResultsOf([], ResultsByCategory.Of([])).Basis);

        static MeasuredDelivery Sent(Id<Channel> channel, double? earned) =>
            new(Id<Delivery>.New(), Id<Post>.New(), default, channel, new(2026, 1, 12), 9, earned is { } e ? new(e, null) : null);
    }

    [Fact]
    public void What_an_hour_makes_of_posts_is_told_apart_from_their_category_and_channel()
    {
        // Mornings make it double; the strong category goes out in the mornings more often.
        List<MeasuredDelivery> sent = Sent(new Random(5));
        (HourBasis basis, IReadOnlyList<HourResult> results) = WeekHours.ResultsOf(sent, ResultsByCategory.Of(sent));
        Assert.Equal(HourBasis.Comparison, basis);
        double Mean(int hour) => results.Where(r => r.SentAt.InUtc().Hour == hour).Average(r => r.Ratio);
        Assert.Equal(2, Mean(8) / Mean(20), 0.1);
        Assert.InRange(Mean(8), 1.2, 1.5);
    }

    [Fact]
    public void What_a_channel_makes_of_posts_isn_t_told_where_it_can_t_be_told_from_its_hours()
    {
        // Whichever of the channels comes first: the others are held against that one.
        for (int round = 0; round < 20; round++)
        {
            List<MeasuredDelivery> sent = Sent(new Random(6));
            Id<Channel> apart = Id<Channel>.New();
            // Goes out at weekends alone, and nothing else does: either the channel or the hour may be the reason.
            for (int i = 0; i < 30; i++)
                sent.Add(One(sent[i % 2].CategoryId, apart, new(2026, 1, 10), 13, 7));
            CategoryComparison comparison = ResultsByCategory.Of(sent, withLevels: true);
            Assert.DoesNotContain(apart, comparison.Channels.Keys);
            Assert.DoesNotContain(Daypart.Of(new(2026, 1, 10), 13), comparison.Dayparts.Keys);
            double[] told = [.. comparison.Channels.Select(c => c.Value.Value).Order()];
            Assert.Equal(2, told.Length);
            Assert.Equal(10, told[1] / told[0], 1.0);
            double[] hours = [.. comparison.Dayparts.Select(c => c.Value.Value).Order()];
            Assert.Equal(2, hours[1] / hours[0], 0.2);
        }
    }

    private static List<MeasuredDelivery> Sent(Random chance)
    {
        Id<Category>[] categories = [Id<Category>.New(), Id<Category>.New()];
        Id<Channel>[] channels = [Id<Channel>.New(), Id<Channel>.New()];
        List<MeasuredDelivery> sent = [];
        for (int i = 0; i < 400; i++)
        {
            int category = i % 2,
                channel = i / 2 % 2;
            bool early = chance.NextDouble() < (category == 0 ? 0.7 : 0.3);
            double mean = 100 * (category == 0 ? 3 : 1) * (channel == 0 ? 10 : 1) * (early ? 2 : 1);
            sent.Add(
                One(
                    categories[category],
                    channels[channel],
                    new LocalDate(2026, 1, 5).PlusDays(i % 5),
                    early ? 8 : 20,
                    Math.Round(mean * (0.8 + (0.4 * chance.NextDouble())))
                )
            );
        }
        return sent;
    }

    private static MeasuredDelivery One(Id<Category> category, Id<Channel> channel, LocalDate date, int hour, double earned) =>
        new(
            Id<Delivery>.New(),
            Id<Post>.New(),
            category,
            channel,
            date,
            hour,
            new(earned, null),
            date.At(new(hour, 0)).InUtc().ToInstant()
        );

    [Fact]
    public void The_middle_of_an_even_number_lies_between_the_two_in_the_middle()
    {
        Assert.Equal(2, Median.Of([3, 1, 2]));
        Assert.Equal(2.5, Median.Of([4, 1, 3, 2]));
    }
}
