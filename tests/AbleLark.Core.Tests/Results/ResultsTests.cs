using AbleLark.Core.Categories;
using AbleLark.Core.Figures;
using AbleLark.Core.Results;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Results;

public sealed class ResultsTests
{
    private static readonly Id<Category> A = new(Guid.Parse("00000000-0000-0000-0000-00000000000a"));
    private static readonly Id<Category> B = new(Guid.Parse("00000000-0000-0000-0000-00000000000b"));
    private static readonly FigureKind[] Offered = [FigureKind.Reach, FigureKind.Likes, FigureKind.Comments];

    // Worked by hand: A took 3 of 4 deliveries and earned 30 of 120 engagements; B took 1 and earned 90.
    [Fact]
    public void The_index_is_the_share_earned_over_the_share_taken()
    {
        IReadOnlyList<CategoryResult> rows = ResultsByCategory.Of([Of(A, 100, 10), Of(A, 100, 10), Of(A, 200, 10), Of(B, 300, 90)]);
        Assert.Equal([B, A], rows.Select(r => r.CategoryId));
        CategoryResult a = rows[1];
        Assert.Equal((3, 0.75, 0.25), (a.Deliveries, a.ShareOfDeliveries, a.ShareOfEngagements));
        Assert.Equal(1.0 / 3, a.Index!.Value, 12);
        Assert.Equal(3.0, rows[0].Index!.Value, 12);
        Assert.Equal(30.0 / 400, a.EngagementRate!.Value, 12);
    }

    [Fact]
    public void A_delivery_without_figures_is_left_out_above_and_below_and_counted()
    {
        CategoryResult a = ResultsByCategory.Of([Of(A, 100, 10), new(new(Guid.NewGuid()), A, null, Offered)]).Single();
        Assert.Equal((1, 1, 1.0), (a.Deliveries, a.LeftOut, a.ShareOfDeliveries));
    }

    [Fact]
    public void A_part_that_is_offered_but_was_not_fetched_makes_the_sum_missing()
    {
        Assert.Null(FigureSet.Of((FigureKind.Likes, 5)).Engagements(Offered));
        Assert.Equal(5, FigureSet.Of((FigureKind.Likes, 5)).Engagements([FigureKind.Likes]));
        Assert.Null(FigureSet.Of((FigureKind.Likes, 5)).Engagements([FigureKind.Reach]));
    }

    [Fact]
    public void Nothing_below_the_line_gives_no_figure_rather_than_nought()
    {
        CategoryResult a = ResultsByCategory
            .Of([new(new(Guid.NewGuid()), A, FigureSet.Of((FigureKind.Likes, 0)), [FigureKind.Likes])])
            .Single();
        Assert.Equal((null, null, null), (a.EngagementRate, a.ShareOfEngagements, a.Reach));
    }

    [Fact]
    public void Shares_add_up_to_one()
    {
        Gen.Select(Gen.Bool, Gen.Int[1, 1000], Gen.Int[1, 100])
            .Array[1, 30]
            .Sample(given =>
            {
                IReadOnlyList<CategoryResult> rows = ResultsByCategory.Of([.. given.Select(g => Of(g.Item1 ? A : B, g.Item2, g.Item3))]);
                return Math.Abs(rows.Sum(r => r.ShareOfDeliveries!.Value) - 1) < 1e-9
                    && Math.Abs(rows.Sum(r => r.ShareOfEngagements!.Value) - 1) < 1e-9;
            });
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
        Assert.Equal(5, FigureAges.At(sent, readings, Duration.FromHours(6))![FigureKind.Likes]);
        Assert.Equal(30, FigureAges.At(sent, readings, Duration.FromHours(36))![FigureKind.Likes]);
        Assert.Null(FigureAges.At(sent, readings, Duration.FromDays(7)));
    }

    private static MeasuredDelivery Of(Id<Category> category, double reach, double likes) =>
        new(
            new(Guid.NewGuid()),
            category,
            FigureSet.Of((FigureKind.Reach, reach), (FigureKind.Likes, likes), (FigureKind.Comments, 0)),
            Offered
        );
}
