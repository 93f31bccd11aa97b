using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Comparison;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Results;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Results;

public sealed class ResultsTests
{
    private static readonly Id<Category> A = new(Guid.Parse("00000000-0000-0000-0000-00000000000a"));
    private static readonly Id<Category> B = new(Guid.Parse("00000000-0000-0000-0000-00000000000b"));
    private static readonly Id<Channel> Page = new(Guid.Parse("00000000-0000-0000-0000-0000000000c1"));
    private static readonly LocalDate Day = new(2026, 3, 2);

    // Worked by hand: A took 3 of 4 deliveries and earned 30 of 120; B took 1 and earned 90.
    [Fact]
    public void The_index_is_the_share_earned_over_the_share_taken()
    {
        IReadOnlyList<CategoryResult> rows = ResultsByCategory.Of([Of(A, 10), Of(A, 12), Of(A, 8), Of(B, 90)]).Categories;
        Assert.Equal([B, A], rows.Select(r => r.CategoryId));
        CategoryResult a = rows[1];
        Assert.Equal((3, 0.75, 0.25, 30, 10), (a.Deliveries, a.ShareOfDeliveries, a.ShareOfTotal, a.Total, a.Median));
        Assert.Equal(1.0 / 3, a.Index!.Value, 12);
        Assert.Equal(3.0, rows[0].Index!.Value, 12);
        Assert.Equal(Verdict.TooFew, a.Verdict);
    }

    // Worked by hand: A 30 of 400 is 0.075, B 30 of 100 is 0.3, all 60 of 500 is 0.12.
    [Fact]
    public void A_rate_is_sum_over_sum_and_its_index_the_rate_over_that_of_all()
    {
        IReadOnlyList<CategoryResult> rows = ResultsByCategory.Of([Of(A, 10, 100), Of(A, 20, 300), Of(B, 30, 100)]).Categories;
        Assert.Equal((0.3, 2.5), (rows[0].Rate, Math.Round(rows[0].Index!.Value, 12)));
        Assert.Equal((0.075, 0.625), (rows[1].Rate, Math.Round(rows[1].Index!.Value, 12)));
        Totals totals = Totals.Of(Totals.SumsOf([Of(A, 10, 100), Of(A, 20, 300), Of(B, 30, 100)]));
        Assert.Equal((0.12, 0.12), (totals.Rate, totals.PerDay(new(Day, Day.PlusDays(6)))));
        Assert.Equal([0.625, 2.5], totals.IndexByCategory.OrderBy(i => i.Value).Select(i => Math.Round(i.Value!.Value, 12)));
    }

    [Fact]
    public void A_delivery_without_figures_is_left_out_above_and_below_and_counted()
    {
        CategoryResult a = ResultsByCategory.Of([Of(A, 10), Of(A, null)]).Categories.Single();
        Assert.Equal((1, 1, 1.0), (a.Deliveries, a.LeftOut, a.ShareOfDeliveries));
        CategoryResult none = ResultsByCategory.Of([Of(A, null)]).Categories.Single();
        Assert.Equal((0, 1, null, null), (none.Deliveries, none.LeftOut, none.Index, none.ShareOfTotal));
    }

    [Fact]
    public void Nothing_earned_or_nothing_sent_gives_no_figure_rather_than_nought_or_infinity()
    {
        CategoryResult a = ResultsByCategory.Of([Of(A, 0), Of(A, 0)]).Categories.Single();
        Assert.Equal((null, null, null), (a.Index, a.ShareOfTotal, a.Adjusted));
        Assert.Empty(ResultsByCategory.Of([]).Categories);
        Assert.Equal((0, null), (Totals.Of([]).Deliveries, Totals.Of([]).Rate));
    }

    /// <summary>What is told by category adds up to the whole, whatever was sent.</summary>
    [Fact]
    public void Sums_by_category_are_the_whole()
    {
        Gen.Select(Gen.Int[0, 3], Gen.Int[0, 200], Gen.Int[0, 2], Gen.Int[0, 60], Gen.Int[0, 30])
            .Array[1, 80]
            .Sample(
                given =>
                {
                    MeasuredDelivery[] all =
                    [
                        .. given.Select(g => new MeasuredDelivery(
                            Id<Delivery>.New(),
                            Number<Post>(g.Item5),
                            Number<Category>(g.Item1),
                            Number<Channel>(g.Item3),
                            Day.PlusDays(g.Item4),
                            g.Item4 % 24,
                            g.Item2 == 7 ? null : new(g.Item2, null)
                        )),
                    ];
                    CategoryResult[] rows = [.. ResultsByCategory.Of(all).Categories];
                    Totals totals = Totals.Of(Totals.SumsOf(all));
                    return rows.Sum(r => r.Deliveries + r.LeftOut) == all.Length
                        && rows.Sum(r => r.Total) == totals.Above
                        && (totals.Deliveries == 0 || Math.Abs(rows.Sum(r => r.ShareOfDeliveries!.Value) - 1) < 1e-9)
                        && (totals.Above == 0 || Math.Abs(rows.Sum(r => r.ShareOfTotal ?? 0) - 1) < 1e-9)
                        && rows.All(r => r.Adjusted is not { } range || (range.Low <= range.Value && double.IsFinite(range.High)));
                },
                iter: Effort.Of(200)
            );
    }

    [Theory]
    [InlineData("2026-03-02", "2026-03-08", "2026-02-23", "2026-03-01", "2025-03-03")]
    [InlineData("2026-03-02", "2026-03-11", "2026-02-16", "2026-02-25", "2025-03-03")]
    [InlineData("2026-03-01", "2026-03-31", "2026-02-01", "2026-02-28", "2025-03-01")]
    [InlineData("2026-01-01", "2026-03-31", "2025-10-01", "2025-12-31", "2025-01-01")]
    public void Months_are_held_against_months_and_other_periods_against_the_same_weekdays(
        string from,
        string to,
        string beforeFrom,
        string beforeTo,
        string yearFrom
    )
    {
        ResultsPeriod period = new(Read(from), Read(to));
        Assert.Equal(new(Read(beforeFrom), Read(beforeTo)), period.Before);
        Assert.Equal(Read(yearFrom), period.YearBefore.From);

        static LocalDate Read(string text) => NodaTime.Text.LocalDatePattern.Iso.Parse(text).Value;
    }

    [Fact]
    public void A_measure_takes_what_a_network_tells_and_leaves_out_what_makes_no_sense()
    {
        NetworkRules hearth = Repository.Networks["hearth"];
        FigureSet figures = FigureSet.Of(
            (FigureKind.Likes, 10),
            (FigureKind.Comments, 2),
            (FigureKind.Shares, 3),
            (FigureKind.LinkClicks, 5),
            (FigureKind.Reach, 400),
            (FigureKind.Impressions, 500)
        );
        Assert.Equal(new(20, null), Take(Measure.Engagements, figures));
        Assert.Equal(new(20, 400), Take(Measure.EngagementRateByReach, figures));
        Assert.Equal(new(5, 500), Take(Measure.ClickThroughRate, figures));
        Assert.Equal(new(500, null), Take(Measure.TimesSeen, figures));
        Assert.Null(Take(Measure.Saves, figures));
        Assert.Null(Take(Measure.EngagementRateByFollowers, figures));
        Assert.False(MeasureRule.Of(Measure.Saves).IsOfferedBy(hearth));
        Assert.Equal([FigureKind.Saves], MeasureRule.Of(Measure.Engagements).Lacks(hearth));
        Assert.Null(Take(Measure.Likes, FigureSet.Of((FigureKind.Likes, -1))));
        Assert.Null(Take(Measure.ClickThroughRate, FigureSet.Of((FigureKind.LinkClicks, 3), (FigureKind.Impressions, 0))));
        Assert.Null(Take(Measure.Engagements, FigureSet.Of((FigureKind.Likes, 10))));

        Measured? Take(Measure measure, FigureSet given) => MeasureRule.Of(measure).Take(given, hearth);
    }

    [Fact]
    public void A_part_that_is_offered_but_was_not_fetched_makes_the_sum_missing()
    {
        Assert.Null(Engagements([FigureKind.Likes, FigureKind.Comments]));
        Assert.Equal(new(5, null), Engagements([FigureKind.Likes]));
        Assert.Null(Engagements([]));

        static Measured? Engagements(FigureKind[] offered) =>
            MeasureRule.Take(FigureSet.Of((FigureKind.Likes, 5)).ByNumber(), new([.. offered.Select(k => k.Number)], null));
    }

    [Fact]
    public void Figures_at_an_age_lie_between_the_readings_around_it()
    {
        Instant sent = Instant.FromUtc(2026, 3, 1, 9, 0);
        FigureReading[] readings =
        [
            new(sent + Duration.FromHours(12), FigureSet.Of((FigureKind.Likes, 10))),
            new(sent + Duration.FromHours(36), FigureSet.Of((FigureKind.Likes, 30))),
        ];
        Assert.Equal(20, FigureAges.At(sent, readings, Duration.FromHours(24))![FigureKind.Likes]);
        Assert.Equal(8, FigureAges.At(sent, readings, Duration.FromHours(9.6))![FigureKind.Likes]);
        Assert.Equal(30, FigureAges.At(sent, readings, Duration.FromHours(36))![FigureKind.Likes]);
        Assert.Null(FigureAges.At(sent, readings, Duration.FromDays(7)));
    }

    [Fact]
    public void A_figure_that_is_read_weeks_later_tells_nothing_of_younger_ages()
    {
        Instant sent = Instant.FromUtc(2026, 3, 1, 9, 0);
        Duration week = Duration.FromDays(7);
        FigureReading late = new(sent + Duration.FromDays(30), FigureSet.Of((FigureKind.Likes, 300)));
        Assert.Null(FigureAges.At(sent, [late], week));
        Assert.Null(FigureAges.At(sent, [Likes(1, 20), late], week));
        // Nor does it take anything from what is known between two readings near each other.
        Assert.Equal(60, FigureAges.At(sent, [Likes(144, 50), Likes(192, 70), late], week)![FigureKind.Likes]);
        Assert.Equal(280, FigureAges.At(sent, [Likes(24 * 26, 260), late], Duration.FromDays(28))![FigureKind.Likes]);

        FigureReading Likes(int hours, double likes) => new(sent + Duration.FromHours(hours), FigureSet.Of((FigureKind.Likes, likes)));
    }

    [Fact]
    public void One_figure_alone_takes_nothing_from_what_others_say_of_the_rest()
    {
        Instant sent = Instant.FromUtc(2026, 3, 1, 9, 0);
        FigureReading[] readings =
        [
            new(sent + Duration.FromDays(6), FigureSet.Of((FigureKind.Likes, 60), (FigureKind.Shares, 6))),
            new(sent + Duration.FromDays(7), FigureSet.Of((FigureKind.Likes, 71))),
            new(sent + Duration.FromDays(8), FigureSet.Of((FigureKind.Likes, 80), (FigureKind.Shares, 8))),
        ];
        FigureSet figures = FigureAges.At(sent, readings, Duration.FromDays(7))!;
        Assert.Equal((71, 7), (figures[FigureKind.Likes], figures[FigureKind.Shares]));
    }

    [Fact]
    public void Readings_that_fall_or_make_no_sense_are_doubted()
    {
        Instant sent = Instant.FromUtc(2026, 3, 1, 9, 0);
        FigureReading before = new(sent + Duration.FromHours(2), Likes(100));
        Assert.Null(Doubt(Likes(130)));
        Assert.Null(Doubt(Likes(95)));
        Assert.Equal(FigureDoubt.Fell, Doubt(Likes(60)));
        Assert.Equal(FigureDoubt.Absurd, Doubt(Likes(-1)));
        Assert.Equal(FigureDoubt.Absurd, Doubt(Likes(1e15)));
        Assert.Equal(FigureDoubt.Absurd, Doubt(Likes(double.NaN)));
        Assert.Equal(FigureDoubt.TooEarly, FigureDoubts.Of(sent, null, new(sent - Duration.FromHours(1), Likes(3))));
        // Followers may go, and a handful of likes may be taken back.
        Assert.Null(Doubt(FigureSet.Of((FigureKind.Followers, 3))));
        Assert.Null(FigureDoubts.Of(sent, new(before.At, Likes(6)), new(sent + Duration.FromHours(3), Likes(2))));

        FigureDoubt? Doubt(FigureSet figures) => FigureDoubts.Of(sent, before, new(sent + Duration.FromHours(3), figures));
        static FigureSet Likes(double likes) => FigureSet.Of((FigureKind.Likes, likes), (FigureKind.Followers, 500));
    }

    [Fact]
    public void Readings_are_hourly_then_daily_then_weekly_and_end()
    {
        Instant sent = Instant.FromUtc(2026, 3, 1, 9, 0);
        Duration[] ages = [.. ReadingTimes.Until(sent, sent + Duration.FromDays(400)).Select(at => at - sent)];
        Assert.Equal(ages.Order(), ages);
        Assert.Equal(Duration.FromHours(1), ages[0]);
        Assert.Contains(Duration.FromHours(24), ages);
        Assert.Contains(Duration.FromDays(7), ages);
        Assert.Contains(Duration.FromDays(28), ages);
        Assert.Equal(Duration.FromDays(84), ages[^1]);
        Assert.Null(ReadingTimes.Next(sent, sent + Duration.FromDays(84)));
        Assert.Equal(sent + Duration.FromHours(5), ReadingTimes.Next(sent, sent + Duration.FromHours(4)));
    }

    [Fact]
    public void Groups_are_held_against_what_such_deliveries_earn()
    {
        MeasuredDelivery[] all = [Of(A, 10), Of(A, 30), Of(A, 50), Of(B, 20), Of(B, 40), Of(B, null)];
        Dictionary<Id<Delivery>, double> expected = all.Where(d => d.Measured is not null).ToDictionary(d => d.Id, _ => 20.0);
        GroupResult<Id<Category>>[] groups = [.. ResultsByGroup.Of<Id<Category>>(all, d => [d.CategoryId], expected).OrderBy(g => g.Key)];
        Assert.Equal((3, 3, 0, 90, 30, 1.5), Told(groups[0]));
        Assert.Equal((2, 2, 1, 60, 30, 1.5), Told(groups[1]));
        GroupResult<string> tagged = ResultsByGroup.Of<string>(
            all,
            d => d.CategoryId == A ? ["sea", "birds"] : ["sea"],
            expected,
            withIntervals: true
        )[0];
        Assert.Equal(("sea", 5, 150), (tagged.Key, tagged.Posts, tagged.Total));
        Assert.InRange(tagged.BesideUsual!.Low!.Value, 0.5, 1.5);
        Assert.InRange(tagged.BesideUsual!.High!.Value, 1.5, 2.5);
        Assert.Null(ResultsByGroup.Of<Id<Category>>(all, d => [d.CategoryId], new Dictionary<Id<Delivery>, double>())[0].BesideUsual);

        static (int, int, int, double, double?, double) Told(GroupResult<Id<Category>> g) =>
            (g.Posts, g.Deliveries, g.LeftOut, g.Total, g.Median, Math.Round(g.BesideUsual!.Ratio, 9));
    }

    private static MeasuredDelivery Of(Id<Category> category, double? above, double? below = null) =>
        new(Id<Delivery>.New(), Id<Post>.New(), category, Page, Day, 9, above is null ? null : new(above.Value, below));

    private static Id<T> Number<T>(int number) => new(new Guid(number, 0, 0, new byte[8]));
}
