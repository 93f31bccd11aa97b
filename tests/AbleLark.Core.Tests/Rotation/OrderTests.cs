using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Results;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using CsCheck;
using NodaTime;
using static NodaTime.IsoDayOfWeek;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>The five orders, and what a planner does to them.</summary>
public sealed class OrderTests
{
    private static readonly IsoDayOfWeek[] EveryDay = [Monday, Tuesday, Wednesday, Thursday, Friday, Saturday, Sunday];
    private readonly Scene _scene = new();

    // The example of the rule itself: A B sent, C D E added or waiting: C D E A B.
    [Fact]
    public void Oldest_first_goes_on_round_the_ring_after_the_post_it_gave_last()
    {
        (Category category, Channel channel) = Line(Order.OldestFirst, posts: 5);
        _scene.Delivery(
            _scene.Bank[0],
            channel,
            _scene.Now - Duration.FromDays(2),
            DeliveryState.Sent,
            given: new(category.Id.Value, Order.OldestFirst, null)
        );
        _scene.Delivery(
            _scene.Bank[1],
            channel,
            _scene.Now - Duration.FromDays(1),
            DeliveryState.Sent,
            given: new(category.Id.Value, Order.OldestFirst, null)
        );
        // An exact time given by hand doesn't move the ring.
        _scene.Delivery(_scene.Bank[3], channel, _scene.Now - Duration.FromHours(3), DeliveryState.Sent);
        Assert.Equal(["Post 2", "Post 3", "Post 4", "Post 0", "Post 1", "Post 2"], _scene.Titles(6));
    }

    [Fact]
    public void Each_round_of_a_shuffle_is_a_permutation_and_no_two_neighbours_are_alike()
    {
        Gen.Select(Gen.Int[2, 12], Gen.Int[0, 1000])
            .Sample(
                (posts, seed) =>
                {
                    Scene scene = new();
                    Channel channel = scene.Channel("hearth");
                    Category category = scene.Category(channel);
                    category.Order = new(Order.Shuffled, Seed: seed);
                    scene.Slot(category, new(9, 0), EveryDay, channel);
                    for (int i = 0; i < posts; i++)
                        scene.Post(category);
                    string[] titles = scene.Titles(posts * 4);
                    Assert.All(titles.Chunk(posts), round => Assert.Equal(posts, round.Distinct().Count()));
                    Assert.All(titles.Zip(titles.Skip(1)), pair => Assert.NotEqual(pair.First, pair.Second));
                }
            );
    }

    [Fact]
    public void Another_seed_is_another_order()
    {
        (Category category, _) = Line(Order.Shuffled, posts: 12);
        string[] one = _scene.Titles(12);
        category.Order = category.Order with { Seed = 1 };
        Assert.NotEqual(one, _scene.Titles(12));
    }

    [Fact]
    public void A_strong_post_comes_up_to_four_times_as_often_as_a_weak_one_and_nothing_starves()
    {
        (_, Channel channel) = Line(Order.BetterOnesMoreOften, posts: 8);
        foreach (Post post in _scene.Bank)
            _scene.Scores[(post.Id, channel.Id)] = post == _scene.Bank[0] ? 2 : 0.5;
        string[] titles = _scene.Titles(200);
        int[] times = [.. _scene.Bank.Select(p => titles.Skip(8).Count(t => t == p.Title))];
        Assert.InRange(times[0] / times.Skip(1).Average(), 2.5, 4.2);
        Assert.All(times, t => Assert.True(t > 10));
    }

    [Fact]
    public void A_score_is_held_between_a_half_and_two_and_needs_evidence()
    {
        Id<Channel> channel = new(Guid.NewGuid());
        Id<Post> strong = new(Guid.NewGuid());
        Id<Post> usual = new(Guid.NewGuid());
        var scores = Scores.Of([
            .. Enumerable.Range(0, 9).Select(_ => new Earned(usual, channel, default, 10)),
            new(strong, channel, default, 70),
            new(strong, channel, default, null),
        ]);
        Assert.Equal(1, scores[(usual, channel)]);
        // One delivery at seven times the median: (7 + 5) ÷ (1 + 5).
        Assert.Equal(2, scores[(strong, channel)]);
    }

    [Fact]
    public void Fresh_first_lets_new_posts_before_all_others()
    {
        (Category category, Channel channel) = Line(Order.OldestFirst, posts: 3);
        foreach (Post post in _scene.Bank)
            _scene.Delivery(post, channel, _scene.Now - Duration.FromDays(9), DeliveryState.Sent);
        _scene.Post(category);
        Assert.Equal("Post 0", _scene.Titles(1)[0]);
        category.Order = category.Order with { FreshFirst = true };
        Assert.Equal(["Post 3", "Post 0", "Post 1"], _scene.Titles(3));
    }

    [Fact]
    public void Several_categories_take_turns_by_the_number_of_the_occurrence()
    {
        Channel channel = _scene.Channel("hearth");
        Category one = _scene.Category(channel);
        Category other = _scene.Category(channel);
        Slot slot = _scene.Slot(one, new(9, 0), EveryDay, channel);
        slot.Source = new([one.Id, other.Id]);
        slot.Anchor = Scene.Monday;
        _scene.Post(one);
        _scene.Post(other);
        Assert.Equal(["Post 0", "Post 1", "Post 0", "Post 1"], _scene.Titles(4));
        _scene.Bank[1].PutBackTo(Stage.Draft);
        LineUpPlace second = _scene.Project(2)[1];
        Assert.Equal("Post 0", _scene.PostIn(second)!.Title);
        Assert.StartsWith("Category 1 had nothing to send.", second.Reason.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void A_rota_that_replaces_another_does_so_the_other_in_its_window_only()
    {
        (Category category, Channel channel) = Line(Order.NewestFirst, posts: 9);
        Rota season = _scene.AnotherRota(Scene.Monday.PlusDays(1), Scene.Monday.PlusDays(2), _scene.Rota);
        _scene.SlotIn(season, category, new(18, 0), EveryDay, channel);
        IReadOnlyList<LineUpPlace> places = _scene.Project(4);
        Assert.Equal(
            [PlaceState.Open, PlaceState.Replaced, PlaceState.Open, PlaceState.Replaced, PlaceState.Open, PlaceState.Open],
            places.Select(p => p.State)
        );
        Assert.Equal("“Rota 0” replaces this rota.", places[1].Reason.Words);
    }

    [Fact]
    public void Wordings_are_used_in_turn_and_pass_a_text_that_came_too_soon()
    {
        (_, Channel channel) = Line(Order.NewestFirst, posts: 0, network: "jot");
        Category category = _scene.Input().Categories[0];
        _scene.Post(category, p => p.Fits["jot"] = new([], "a", [new([], "b"), new([Scene.TooLong], "c")]));
        IReadOnlyList<LineUpPlace> places = _scene.Project(32);
        // Two wordings of three can go, each again after thirty days.
        Assert.Equal(
            [(0, 0), (1, 1), (30, 0), (31, 1)],
            places.Select((p, day) => (day, Pick: p.Picks[0])).Where(x => x.Pick.PostId is not null).Select(x => (x.day, x.Pick.Wording))
        );
        Assert.Equal(channel.Id, places[0].Picks[0].ChannelId);
    }

    [Fact]
    public void A_post_that_waits_keeps_its_place_and_a_substitute_is_chosen_without_it()
    {
        (Category category, _) = Line(Order.NewestFirst, posts: 2);
        _scene.Post(category, p => p.AskForApproval());
        LineUpPlace place = LineUp.Project(_scene.Input(), _scene.Now, _scene.Now + Duration.FromDays(1), withSubstitutes: true)[0];
        Assert.Equal(
            ("Post 2", true, "Post 1"),
            (
                _scene.PostIn(place)!.Title,
                place.Picks[0].IsWaiting,
                _scene.Bank.Single(p => p.Id == place.Picks[0].Substitute!.PostId).Title
            )
        );
    }

    [Theory]
    [InlineData(Order.NewestFirst)]
    [InlineData(Order.OldestFirst)]
    [InlineData(Order.LongestSinceLastSent)]
    public void Of_several_moved_to_the_back_the_one_moved_latest_goes_last_whatever_the_order(Order order)
    {
        (_, Channel channel) = Line(order, posts: 3);
        _scene.Move(_scene.Bank[1], channel, Side.Back, _scene.Now - Duration.FromMinutes(3));
        _scene.Move(_scene.Bank[2], channel, Side.Back, _scene.Now - Duration.FromMinutes(2));
        _scene.Move(_scene.Bank[0], channel, Side.Back, _scene.Now - Duration.FromMinutes(1));
        Assert.Equal(["Post 1", "Post 2", "Post 0"], _scene.Titles(3));
    }

    private (Category, Channel) Line(Order order, int posts, string network = "hearth")
    {
        Channel channel = _scene.Channel(network);
        Category category = _scene.Category(channel);
        category.Order = new(order);
        _scene.Slot(category, new(9, 0), EveryDay, channel);
        for (int i = 0; i < posts; i++)
            _scene.Post(category);
        return (category, channel);
    }

    [Fact]
    public void A_substitute_is_the_next_ready_post_however_many_waiting_ones_stand_before_it()
    {
        Channel channel = _scene.Channel("hearth");
        Category category = _scene.Category(channel);
        _scene.Slot(category, new(9, 0), [Monday], channel);
        Post ready = _scene.Post(category);
        for (int i = 0; i < 3; i++)
            _scene.Post(category, p => p.AskForApproval());
        LineUpPlace place = LineUp.Project(_scene.Input(), _scene.Now, _scene.Now + Duration.FromDays(1), withSubstitutes: true)[0];
        Assert.Equal((true, ready.Id), (place.Picks[0].IsWaiting, place.Picks[0].Substitute!.PostId));
        Assert.Contains(new(Rule.Stage, 2), place.Picks[0].Substitute!.Reason.Counts!);
    }
}
