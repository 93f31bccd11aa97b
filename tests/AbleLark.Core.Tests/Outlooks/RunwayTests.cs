using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Tests.Rotation;
using NodaTime;
using static NodaTime.IsoDayOfWeek;

namespace AbleLark.Core.Tests.Outlooks;

public sealed class RunwayTests
{
    private readonly Scene _scene = new();

    // Common practice, no source: with N evergreen posts and one channel, exactly N occurrences pass before the first repeat, N ÷ s weeks
    // at s a week.
    [Theory]
    [InlineData(Order.NewestFirst, 10, 1)]
    [InlineData(Order.OldestFirst, 10, 2)]
    [InlineData(Order.Shuffled, 12, 3)]
    [InlineData(Order.LongestSinceLastSent, 9, 3)]
    public void The_first_repeat_comes_after_as_many_occurrences_as_there_are_posts(Order order, int posts, int aWeek)
    {
        Channel channel = _scene.Channel("hearth");
        Category category = _scene.Category(channel);
        category.Order = new(order);
        IsoDayOfWeek[] days = [.. new[] { Monday, Wednesday, Friday }.Take(aWeek)];
        _scene.Slot(category, new(9, 0), days, channel);
        for (int i = 0; i < posts; i++)
            _scene.Post(category);
        Runway runway = One(180);
        Assert.Equal(Scene.Monday.PlusWeeks(posts / aWeek), runway.FirstRepeat);
        Assert.Equal((posts, null, 0), (runway.Posts, runway.FirstEmpty, runway.Empty));
        Assert.Equal(aWeek, runway.OccurrencesAWeek, 1);
    }

    // Posts needed for a gap at evenly spaced occurrences: ⌈G·s/7⌉ (common practice, no source).
    [Theory]
    [InlineData(60, 1, 9)]
    [InlineData(90, 1, 13)]
    [InlineData(60, 2, 18)]
    [InlineData(90, 2, 26)]
    [InlineData(60, 3, 26)]
    [InlineData(90, 3, 39)]
    public void A_gap_needs_as_many_posts_as_occurrences_fall_into_it(int gap, int aWeek, int needed)
    {
        LocalDate[] even = [.. Enumerable.Range(0, 400).Select(i => Scene.Monday.PlusDays((int)Math.Floor(i * 7.0 / aWeek)))];
        Assert.InRange(Runways.PostsNeeded(even, gap), needed, needed + (7 % aWeek == 0 ? 0 : 1));
        // By weekdays they can't be spaced evenly: what counts is the fullest stretch of so many days.
        Channel channel = _scene.Channel("hearth");
        Category category = _scene.Category(channel);
        category.GapDays = gap;
        _scene.Slot(category, new(9, 0), new[] { Monday, Wednesday, Friday }.Take(aWeek), channel);
        for (int i = 0; i < needed + 2; i++)
            _scene.Post(category);
        Runway runway = One(300);
        Assert.InRange(runway.PostsNeeded!.Value, needed, needed + 2);
        Assert.Equal((0, 0), (runway.PostsMissing, runway.Empty));
        Assert.True(runway.ShortestGap >= gap);
    }

    [Fact]
    public void A_category_that_runs_dry_says_when_and_why()
    {
        Channel channel = _scene.Channel("hearth");
        Category category = _scene.Category(channel);
        category.GapDays = 21;
        _scene.Slot(category, new(9, 0), [Monday], channel);
        _scene.Post(category);
        _scene.Post(category);
        Runway runway = One(42);
        Assert.Equal((2, 3, 1, Scene.Monday.PlusDays(14)), (runway.Posts, runway.PostsNeeded, runway.PostsMissing, runway.FirstEmpty));
        Assert.Contains(
            "2 inside the repeat gap until 23 Mar 2026 at the earliest",
            _scene.Project(42)[2].Reason.Words,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Shares_clashes_and_always_the_same_hour_are_seen_before_anything_is_saved()
    {
        Channel one = _scene.Channel("hearth");
        Channel two = _scene.Channel("hearth");
        one.Spacing = Duration.FromHours(2);
        Category often = _scene.Category(one, two);
        Category seldom = _scene.Category(one);
        _scene.Slot(often, new(9, 0), [Monday, Tuesday, Wednesday], one, two);
        _scene.Slot(seldom, new(15, 0), [Thursday], one);
        for (int i = 0; i < 20; i++)
            _scene.Post(often);
        for (int i = 0; i < 20; i++)
            _scene.Post(seldom);
        LineUpInput before = _scene.Input();
        Rota tried = new()
        {
            WorkspaceId = _scene.Rota.WorkspaceId,
            Id = _scene.Rota.Id,
            Name = "Tried",
            Zone = _scene.Zone,
        };
        tried.Slots.AddRange(_scene.Rota.Slots);
        tried.Slots.Add(
            new()
            {
                WorkspaceId = tried.WorkspaceId,
                Id = new(Guid.NewGuid()),
                RotaId = tried.Id,
                Days = [Friday],
                Time = new(18, 0),
                Source = new([seldom.Id]),
                Channels = [one.Id],
                Position = 9,
            }
        );
        WhatIf whatIf = WhatIf.Try(new SharedLineUp(before), before with { Rotas = [tried] }, _scene.Now, 28);
        CategoryOutlook was = whatIf.Before.Categories.Single(c => c.CategoryId == seldom.Id);
        CategoryOutlook would = whatIf.After.Categories.Single(c => c.CategoryId == seldom.Id);
        Assert.Equal((4, 8), (was.Deliveries, would.Deliveries));
        Assert.Equal([1, 1, 1, 1], was.AWeek);
        Assert.Equal([2, 2, 2, 2], would.AWeek);
        Assert.Equal((4 / 28.0, 8 / 32.0), (was.Share, would.Share));
        Assert.Equal((15, null), (was.AlwaysAt, would.AlwaysAt));
        Assert.Equal(Scene.Monday.PlusDays(4), whatIf.FirstChange);
        // Each post goes to two channels of one network at once: twelve times over the four weeks.
        Clash clash = Assert.Single(whatIf.After.Clashes, c => c.Kind == ClashKind.SameTextWithinTheHour);
        // One line for all twelve, which says which slot makes them and what ends them.
        Assert.Equal((12, clash.SlotId), (clash.Times, clash.OtherSlotId));
        Assert.Equal(new ClashMend(clash.SlotId!.Value, null, clash.ChannelId), clash.Mend);
        Assert.DoesNotContain(whatIf.After.Clashes, c => c.Kind == ClashKind.TooClose);
    }

    [Fact]
    public void An_occurrence_gives_way_to_an_exact_time_nearer_than_the_channel_s_spacing()
    {
        Channel channel = _scene.Channel("hearth");
        channel.Spacing = Duration.FromHours(1);
        Category category = _scene.Category(channel);
        _scene.Slot(category, new(9, 0), [Monday, Tuesday], channel);
        _scene.Post(category);
        Post exact = _scene.Post(category);
        _scene.Delivery(exact, channel, _scene.At(Scene.Monday, new(9, 40)), Core.Deliveries.DeliveryState.Planned);
        Assert.Equal(["–", "Post 0"], _scene.Titles(2));
        Assert.Equal(ReasonCode.TooClose, _scene.Project(2)[0].Picks[0].Reason.Code);
    }

    private Runway One(int days) => Runways.Of(_scene.Input(), _scene.Project(days), days).Single(r => r.ChannelId is null);
}
