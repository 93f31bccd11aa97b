using AbleLark.Core.Comparison;
using AbleLark.Tests.Shared;
using CsCheck;

namespace AbleLark.Core.Tests.Comparison;

/// <summary>Where nothing, or not all, can be compared: an answer in words, never a crash or an infinity.</summary>
public sealed class PitfallTests
{
    /// <summary>One delivery of a made-up workspace, by its levels.</summary>
    private sealed record Sent(int Post, int Category, int Channel, int Daypart, double Count);

    [Fact]
    public void A_category_that_earned_nought_throughout_is_taken_out_and_the_others_are_compared()
    {
        Sent[] all = [.. Usual(3), .. Enumerable.Range(0, 8).Select(i => new Sent(1_000 + i, 3, i % 3, i % 4, 0))];
        FairAnswer answer = Compare(all);
        Assert.Equal(Verdict.Nothing, answer.Categories[3].Verdict);
        Assert.All(answer.Categories.Take(3), c => Assert.NotNull(c.Adjusted));
        Assert.All(answer.Expected.TakeLast(8), e => Assert.True(double.IsNaN(e)));
    }

    [Fact]
    public void A_category_on_channels_of_its_own_stands_apart_and_a_category_on_one_channel_does_not()
    {
        Sent[] all = [.. Usual(3), .. Enumerable.Range(0, 8).Select(i => new Sent(1_000 + i, 3, 7, i % 4, 20 + i))];
        Assert.Equal(Verdict.Apart, Compare(all).Categories[3].Verdict);
        Sent[] shared = [.. Usual(3), .. Enumerable.Range(0, 8).Select(i => new Sent(1_000 + i, 3, 1, i % 4, 20 + i))];
        Assert.NotNull(Compare(shared).Categories[3].Adjusted);
    }

    [Fact]
    public void A_category_whose_hours_are_its_own_stands_apart_and_the_others_are_compared_without_it()
    {
        Sent[] all = [.. Usual(3), .. Enumerable.Range(0, 12).Select(i => new Sent(1_000 + i, 3, i % 3, 8, 20 + i))];
        FairAnswer answer = Compare(all);
        Assert.Equal(Verdict.Apart, answer.Categories[3].Verdict);
        Assert.All(answer.Categories.Take(3), c => Assert.NotNull(c.Adjusted));
    }

    [Fact]
    public void Two_parts_that_share_no_channel_are_each_compared_within_themselves()
    {
        Sent[] one = [.. Usual(2)];
        Sent[] other = [.. Usual(2).Select(s => s with { Post = s.Post + 5_000, Category = s.Category + 2, Channel = s.Channel + 3 })];
        CategoryAnswer[] answers = [.. Compare([.. one, .. other]).Categories];
        Assert.All(answers, c => Assert.NotNull(c.Adjusted));
        // The same deliveries twice over: the same ratios, each to its own mean.
        Assert.Equal(answers[0].Adjusted!.Value, answers[2].Adjusted!.Value, 9);
        Assert.Equal(answers[1].Adjusted!.High, answers[3].Adjusted!.High, 9);
    }

    [Fact]
    public void Few_posts_are_too_few_to_tell_and_a_channel_that_one_post_uses_is_left_out()
    {
        Sent[] all = [.. Usual(3), .. Enumerable.Range(0, 4).Select(i => new Sent(1_000 + i, 3, i % 3, i % 4, 300))];
        Assert.Equal(Verdict.TooFew, Compare(all).Categories[3].Verdict);
        Sent[] alone = [.. Usual(3), new(2_000, 0, 9, 0, 5_000), new(2_000, 0, 9, 1, 5_000)];
        FairAnswer answer = Compare(alone);
        Assert.All(answer.Expected.TakeLast(2), e => Assert.True(double.IsNaN(e)));
        Assert.Equal(Usual(3).Count(s => s.Category == 0), answer.Categories[0].Compared);
    }

    [Fact]
    public void Where_there_are_few_posts_hours_are_told_apart_more_coarsely()
    {
        // Sixteen posts, two categories, three channels, ten dayparts: too many columns for the posts, until the hours are merged.
        Sent[] all = [.. Enumerable.Range(0, 48).Select(i => new Sent(i / 3, i / 3 % 2, i % 3, i * 7 % 10, 30 + (i * 13 % 20)))];
        Assert.All(Compare(all).Categories, c => Assert.NotNull(c.Adjusted));
        Assert.All(FairComparison.Of(Rows(all)).Categories, c => Assert.NotNull(c.Adjusted));
        Sent[] fewer = [.. all.Take(24)];
        Assert.All(Compare(fewer).Categories, c => Assert.Null(c.Adjusted));
    }

    [Fact]
    public void What_one_post_alone_holds_up_is_said_to_rest_on_it()
    {
        // Post 500 alone ties the second category's channel to the first's.
        Sent[] all =
        [
            .. Enumerable.Range(0, 40).Select(i => new Sent(i, 0, 0, i % 4, 40 + (i % 7))),
            .. Enumerable.Range(0, 40).Select(i => new Sent(100 + i, 1, 1, i % 4, 60 + (i % 5))),
            new(500, 0, 1, 0, 44),
            new(500, 0, 1, 1, 47),
        ];
        Assert.All(Compare(all).Categories, c => Assert.Equal(Verdict.OnePost, c.Verdict));
    }

    [Fact]
    public void What_can_be_said_without_a_post_on_which_all_would_rest_is_said()
    {
        // The third category has a channel of its own, but for one post of the first: with it all three hang together by that post alone.
        Sent[] all =
        [
            .. Enumerable.Range(0, 80).Select(i => new Sent(i, i % 2, i % 3, i / 2 % 4, 40 + (i % 7) + (20 * (i % 2)))),
            .. Enumerable.Range(0, 40).Select(i => new Sent(100 + i, 2, 5, i % 4, 60 + (i % 5))),
            new(500, 0, 5, 0, 44),
            new(500, 0, 5, 1, 47),
        ];
        IReadOnlyList<CategoryAnswer> answers = Compare(all).Categories;
        Assert.Equal(Verdict.OnePost, answers[2].Verdict);
        Assert.All(answers.Take(2), a => Assert.NotNull(a.Adjusted));
        Assert.Equal((Verdict.Less, Verdict.More), (answers[0].Verdict, answers[1].Verdict));
        Assert.Single(answers[0].Without);
        Assert.Empty(answers[1].Without);
    }

    [Theory]
    [InlineData(0.81, 1.24, true, false)]
    [InlineData(0.79, 1.24, false, false)]
    [InlineData(0.81, 1.26, false, false)]
    [InlineData(1.02, 1.2, true, true)]
    public void Level_is_what_lies_within_its_bounds_and_seeming_what_lies_outside_the_interval(
        double low,
        double high,
        bool isLevel,
        bool isSeeming
    )
    {
        CategoryAnswer answer = new(0, 9, 9, 9, 1, new((low + high) / 2, low, high), 0.5, Verdict.NoClearDifference, []);
        Assert.Equal((isLevel, isSeeming), (answer.IsLevel, answer.IsSeeming));
        Assert.False((answer with { Verdict = Verdict.More }).IsLevel);
    }

    [Fact]
    public void Nothing_one_category_one_channel_or_one_post_is_an_answer_too()
    {
        Assert.Empty(FairComparison.Of(Rows([])).Categories);
        Assert.Equal(Verdict.TooFew, Compare([new(0, 0, 0, 0, 5)]).Categories.Single().Verdict);
        Assert.Equal(
            Verdict.Apart,
            Compare([.. Enumerable.Range(0, 30).Select(i => new Sent(i, 0, i % 2, i % 3, i))]).Categories.Single().Verdict
        );
        Sent[] oneChannel = [.. Usual(3).Select(s => s with { Channel = 0 })];
        Assert.All(Compare(oneChannel).Categories, c => Assert.NotNull(c.Adjusted));
    }

    /// <summary>Whatever was sent: figures are finite, an interval holds its value, and only enough posts have a verdict.</summary>
    [Fact]
    public void Whatever_is_compared_the_answer_is_whole()
    {
        Gen.Select(Gen.Int[0, 40], Gen.Int[0, 4], Gen.Int[0, 4], Gen.Int[0, 9], Gen.OneOf(Gen.Int[0, 3], Gen.Int[0, 100_000]))
            .Array[0, 120]
            .Sample(
                given =>
                {
                    Sent[] all = [.. given.Select(g => new Sent(g.Item1, g.Item1 % 5, g.Item3, g.Item4, g.Item5))];
                    FairAnswer answer = Compare(all);
                    return answer.Categories.All(c =>
                            c.Adjusted is not { } range
                            || (
                                double.IsFinite(range.Low)
                                && double.IsFinite(range.High)
                                && range.Low <= range.Value
                                && range.Value <= range.High
                            )
                        )
                        && answer.Categories.All(c => c.Verdict is not (Verdict.More or Verdict.Less) || c.Posts >= 5)
                        && answer.Expected.All(e => double.IsNaN(e) || (double.IsFinite(e) && e > 0))
                        && answer.Categories.Sum(c => c.Deliveries) == all.Length;
                },
                iter: Effort.Of(500)
            );
    }

    /// <summary>Neither the order of rows nor the names of levels matter.</summary>
    [Fact]
    public void The_answer_hangs_on_nothing_but_the_deliveries()
    {
        Effort.Each(
            20,
            seed =>
            {
                Random chance = new(seed);
                Sent[] all = [.. Usual(4, seed)];
                FairAnswer one = Compare(all);
                Sent[] mixed = [.. all.Select(s => s with { Category = 3 - s.Category, Channel = 2 - s.Channel, Post = 999 - s.Post })];
                chance.Shuffle(mixed);
                FairAnswer other = Compare(mixed);
                for (int c = 0; c < 4; c++)
                    Assert.Equal(one.Categories[c].Adjusted!.Value, other.Categories[3 - c].Adjusted!.Value, 6);
            }
        );
    }

    /// <summary>Above a certain number of posts nothing is dealt out: the normal form gives about the same.</summary>
    [Fact]
    public void Dealing_out_and_its_normal_form_agree()
    {
        FairRows rows = MadeUpWorkspace.Make(new(5), [60, 60, 60, 60], [0.15, 0, 0, -0.1], 0.4).Rows;
        FairModel alone = FairModel.Fit(new(rows, withCategories: false));
        double[] dealt = CategoryTest.Of(alone),
            normal = CategoryTest.Of(alone, mostDealt: 10);
        foreach ((double a, double b) in dealt.Zip(normal))
            Assert.Equal(a, b, 0.03);
    }

    /// <summary>Posts of some categories on three channels at four dayparts.</summary>
    private static IEnumerable<Sent> Usual(int categories, int seed = 1)
    {
        Random chance = new(seed);
        for (int post = 0; post < 20 * categories; post++)
        {
            for (int i = 0; i < 2; i++)
            {
                int channel = chance.Next(3);
                yield return new(
                    post,
                    post % categories,
                    channel,
                    chance.Next(4),
                    Math.Round(20 * Math.Exp(channel + chance.NextDouble()))
                );
            }
        }
    }

    private static FairAnswer Compare(Sent[] all) => FairComparison.Of(Rows(all), [d => d / 2, _ => 0]);

    private static FairRows Rows(Sent[] all)
    {
        Sent[] sorted = [.. all.OrderBy(s => s.Post)];
        return new(
            [.. sorted.Select(s => s.Count)],
            null,
            FairRows.Renumber([.. sorted.Select(s => s.Post)]),
            FairRows.Renumber([.. sorted.Select(s => s.Category)]),
            [FairRows.Renumber([.. sorted.Select(s => s.Channel)]), FairRows.Renumber([.. sorted.Select(s => s.Daypart)])]
        );
    }
}
