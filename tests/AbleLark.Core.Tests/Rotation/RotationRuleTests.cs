using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>The finer rules of turns, each in a state made by hand.</summary>
public sealed class RotationRuleTests
{
    private static readonly IsoDayOfWeek[] EveryDay = [.. Enumerable.Range(1, 7).Select(d => (IsoDayOfWeek)d)];
    private readonly Scene _scene = new();

    // ---- Where a slot of several channels reads a post's place in the line

    [Fact]
    public void A_channel_that_rests_is_not_where_the_line_is_read()
    {
        (Channel first, _, _) = TwoChannels(posts: 4);
        _scene.Rest(Paused.Channel, first.Id.Value, Scene.Monday);
        Assert.Equal(["Post 3", "Post 2", "Post 1", "Post 0", "Post 3", "Post 2", "Post 1", "Post 0", "Post 3"], _scene.Titles(9));
    }

    [Fact]
    public void Nor_one_where_a_refused_delivery_is_still_to_be_dealt_with()
    {
        (Channel first, _, _) = TwoChannels(posts: 4);
        foreach (Post post in _scene.Bank)
            _scene.Delivery(post, first, _scene.Now - Duration.FromDays(3), DeliveryState.Refused);
        Assert.All(_scene.Titles(8).Chunk(4), round => Assert.Equal(4, round.Distinct().Count()));
    }

    [Fact]
    public void Nor_one_that_gives_way_by_spacing()
    {
        (Channel first, Channel second, _) = TwoChannels(posts: 4);
        first.Spacing = Duration.FromHours(2);
        Post own = _scene.Post(_scene.Category(), p => p.InRotation = false);
        for (int day = 0; day < 8; day++)
            _scene.Delivery(own, first, _scene.At(Scene.Monday.PlusDays(day), new(9, 30)), DeliveryState.Planned);
        IReadOnlyList<LineUpPlace> places = _scene.Project(8);
        Assert.All(
            places.Select(p => p.Picks.Single(k => k.ChannelId == second.Id).PostId).Chunk(4),
            round => Assert.Equal(4, round.Distinct().Count())
        );
    }

    [Fact]
    public void What_was_posted_on_the_channel_itself_keeps_its_distance_and_counts_towards_the_day()
    {
        (Channel first, Channel second, _) = TwoChannels(posts: 4);
        first.Spacing = Duration.FromHours(2);
        second.DailyLimit = 1;
        _scene.Outside.Add((first.Id, _scene.At(Scene.Monday, new(8, 30))));
        _scene.Outside.Add((second.Id, _scene.At(Scene.Monday.PlusDays(1), new(7, 0))));
        LineUpPlace[] days = [.. _scene.Project(3)];
        Assert.Equal(
            [(ReasonCode.TooClose, null), (null, ReasonCode.DayFull), (null, null)],
            days.Select(d => (Kept(d, first), Kept(d, second)))
        );

        static ReasonCode? Kept(LineUpPlace place, Channel channel) =>
            place.Picks.Single(p => p.ChannelId == channel.Id) is { PostId: null } pick ? pick.Reason.Code : null;
    }

    // ---- Rings

    [Fact]
    public void A_ring_that_begins_with_fresh_posts_goes_on_with_the_others()
    {
        (Category category, Channel channel) = Line(new(Order.OldestFirst, FreshFirst: true), posts: 5);
        foreach (Post post in _scene.Bank.Take(2))
            _scene.Delivery(
                post,
                channel,
                _scene.Now - Duration.FromDays(2),
                DeliveryState.Sent,
                given: new(category.Id.Value, Order.OldestFirst, null)
            );
        Assert.Equal(["Post 2", "Post 3", "Post 4", "Post 0", "Post 1", "Post 2"], _scene.Titles(6));
    }

    [Fact]
    public void Its_own_next_post_moved_to_the_front_goes_once()
    {
        (_, Channel channel) = Line(new(Order.OldestFirst), posts: 3);
        _scene.Move(_scene.Bank[0], channel, Side.Front);
        Assert.Equal(["Post 0", "Post 1", "Post 2", "Post 0"], _scene.Titles(4));
    }

    [Fact]
    public void Another_one_moved_to_the_front_leaves_the_ring_where_it_was()
    {
        (_, Channel channel) = Line(new(Order.OldestFirst), posts: 3);
        _scene.Move(_scene.Bank[2], channel, Side.Front);
        Assert.Equal(["Post 2", "Post 0", "Post 1", "Post 2", "Post 0"], _scene.Titles(5));
    }

    [Fact]
    public void A_ring_counts_the_posts_of_its_own_line_alone()
    {
        // Two channels whose rings stand apart: the one has nine posts of another category before its next, the other one of its own.
        (Channel first, Channel second, Category category) = TwoChannels(posts: 0);
        category.Order = new(Order.OldestFirst);
        Category other = _scene.Category(first);
        Post Only(Channel channel) => _scene.Post(category, p => p.Channels = [channel.Id]);
        Post givenFirst = Only(first);
        for (int i = 0; i < 9; i++)
            _scene.Post(other);
        Post next = Only(first);
        Post givenSecond = Only(second);
        Only(second).PutBackTo(Stage.Draft);
        Post further = Only(second);
        foreach ((Post post, Channel channel) in new[] { (givenFirst, first), (givenSecond, second) })
            _scene.Delivery(
                post,
                channel,
                _scene.Now - Duration.FromDays(3),
                DeliveryState.Sent,
                given: new(category.Id.Value, Order.OldestFirst, null)
            );
        Assert.Equal([next.Title, further.Title], _scene.Titles(2));
    }

    [Fact]
    public void Scheduling_a_substitute_moves_no_ring()
    {
        Line(new(Order.OldestFirst), posts: 3);
        _scene.Bank[0].AskForApproval();
        string[] Shown() =>
            [
                .. LineUp
                    .Project(_scene.Input(), _scene.Now, _scene.At(Scene.Monday.PlusDays(3), LocalTime.Midnight), withSubstitutes: true)
                    .Select(p => _scene.PostIn(p)!.Title),
            ];
        IReadOnlyList<LineUpPlace> first = LineUp.Project(
            _scene.Input(),
            _scene.Now,
            _scene.Now + Duration.FromDays(1),
            withSubstitutes: true
        );
        Assert.Equal("Post 1", Substitute(first[0])?.Title);
        Assert.Equal(["Post 0", "Post 1", "Post 2"], Shown());
        _scene.Schedule(first);
        Assert.Equal(["Post 0", "Post 1", "Post 2"], Shown());
    }

    [Fact]
    public void A_place_filled_later_than_one_behind_it_leaves_the_ring_to_that()
    {
        (Category category, Channel channel) = Line(new(Order.OldestFirst), posts: 4);
        _scene.Delivery(
            _scene.Bank[1],
            channel,
            _scene.At(Scene.Monday.PlusDays(1), new(9, 0)),
            DeliveryState.Planned,
            _scene.Rota.Slots[0],
            given: new(category.Id.Value, Order.OldestFirst, null)
        );
        string[] before = _scene.Titles(4);
        _scene.Schedule(_scene.Project(1));
        Assert.Equal(before, _scene.Titles(4));
        Assert.Equal(["Post 2", "Post 1", "Post 2", "Post 3"], before);
    }

    // ---- Substitutes

    [Fact]
    public void A_substitute_takes_its_wordings_in_turn_and_passes_one_that_comes_too_soon()
    {
        (_, Channel channel) = Line(new(Order.OldestFirst), posts: 1, network: "jot");
        _scene.Bank[0].AskForApproval();
        Post other = _scene.Post(_scene.Input().Categories[0], p => p.Fits["jot"] = new([], "a", [new([], "b")]));
        _scene.Delivery(other, channel, _scene.Now - Duration.FromDays(5), DeliveryState.Sent).TextFingerprint = "a";
        Assert.Equal((other.Id, 1), (SubstitutePick()!.PostId!.Value, SubstitutePick()!.Wording));
    }

    [Theory]
    [InlineData(-1)]
    [InlineData(5)]
    public void A_substitute_is_scheduled_on_no_channel_of_the_slot_before_or_after(int hours)
    {
        (_, Channel second, Category category) = TwoChannels(posts: 3);
        _scene.Post(category, p => p.AskForApproval());
        _scene.Delivery(_scene.Bank[2], second, _scene.At(Scene.Monday, new(9, 0)) + Duration.FromHours(hours), DeliveryState.Planned);
        Assert.Equal("Post 1", Substitute(First())?.Title);
    }

    [Fact]
    public void Nor_is_it_one_that_the_same_step_has_just_scheduled_there()
    {
        (Channel first, Channel second, Category category) = TwoChannels(posts: 1);
        Category other = _scene.Category(first, second);
        _scene.Slot(other, new(8, 0), EveryDay, second);
        Post early = _scene.Post(other, p => p.FurtherCategories = [category.Id]);
        _scene.Post(category, p => p.AskForApproval());
        Assert.Equal(
            (early.Id, "Post 2", "Post 0"),
            (First().Picks[0].PostId!.Value, _scene.PostIn(FirstDay()[1])!.Title, Substitute(FirstDay()[1])?.Title)
        );
    }

    [Fact]
    public void Nor_one_that_a_person_gave_to_a_place_that_the_same_step_has_just_scheduled()
    {
        (Channel first, Channel second, Category category) = TwoChannels(posts: 1);
        Slot earlier = _scene.Slot(_scene.Category(first, second), new(8, 0), EveryDay, second);
        Post given = _scene.Post(category);
        _scene.Decide(earlier, Scene.Monday, d => d.Posts = [new(second.Id, given.Id, IsPicked: true)]);
        _scene.Post(category, p => p.AskForApproval());
        LineUpPlace place = FirstDay()[1];
        Assert.Equal(("Post 2", "Post 0"), (_scene.PostIn(place)!.Title, Substitute(place)?.Title));
        _scene.Schedule(FirstDay().Take(1));
        Assert.Equal("Post 0", Substitute(FirstDay()[1])?.Title);
    }

    [Fact]
    public void A_substitute_is_one_with_the_waiting_post_for_the_daily_limit()
    {
        (Category category, Channel channel) = Line(new(Order.OldestFirst), posts: 4);
        _scene.Slot(category, new(15, 0), EveryDay, channel);
        channel.DailyLimit = 2;
        _scene.Bank[0].AskForApproval();
        IReadOnlyList<LineUpPlace> day = LineUp.Project(
            _scene.Input(),
            _scene.Now,
            _scene.Now + Duration.FromDays(1),
            withSubstitutes: true
        );
        Assert.Equal(["Post 0", "Post 2"], day.Select(p => _scene.PostIn(p)?.Title ?? p.Reason.Words));
        _scene.Schedule(day.Take(1));
        Assert.Equal("Post 2", _scene.PostIn(_scene.Project(1)[1])?.Title);
    }

    [Fact]
    public void A_substitute_is_one_post_for_all_channels()
    {
        (Channel first, Channel second, Category category) = TwoChannels(posts: 0);
        _scene.Post(category, p => p.Channels = [second.Id]);
        _scene.Post(category, p => p.Channels = [first.Id]);
        _scene.Post(category, p => p.AskForApproval());
        Slot slot = _scene.Rota.Slots[0];
        Assert.Equal(["Post 1", "–"], First().Picks.Select(p => Substitute(p)?.Title ?? "–"));
        slot.FillsEveryChannel = true;
        Assert.Equal(["Post 1", "Post 0"], First().Picks.Select(p => Substitute(p)?.Title ?? "–"));
    }

    [Fact]
    public void A_substitute_may_come_from_another_line_of_the_slot()
    {
        Channel channel = _scene.Channel("hearth");
        (Category one, Category other) = (_scene.Category(channel), _scene.Category(channel));
        Slot slot = _scene.Slot(one, new(9, 0), EveryDay, channel);
        (slot.Source, slot.Anchor) = (new([one.Id, other.Id]), Scene.Monday);
        _scene.Post(one, p => p.AskForApproval());
        Post ready = _scene.Post(other);
        Assert.Equal(ready.Id, SubstitutePick()?.PostId);
        Assert.StartsWith("Category 0 had nothing to send.", SubstitutePick()!.Reason.Words, StringComparison.Ordinal);
    }

    // ---- Several accounts of a network

    [Fact]
    public void Where_one_account_takes_a_post_no_other_gets_it_in_another_wording()
    {
        (Channel first, _, Category category) = TwoChannels(posts: 0, network: "jot");
        _scene.Rota.Slots[0].FillsEveryChannel = true;
        _scene.Post(category, p => p.Fits["jot"] = new([], "a", [new([], "b")]));
        LineUpPlace alone = _scene.Project(1)[0];
        Assert.Equal([true, false], alone.Picks.Select(p => p.PostId is not null));
        Assert.Equal("1 post in the category: 1 the same text too soon for the network.", alone.Picks[1].Reason.Words);
        // Nor does it when a person gave it to one of them.
        _scene.Decide(_scene.Rota.Slots[0], Scene.Monday, d => d.Posts = [new(first.Id, _scene.Bank[0].Id, false)]);
        Assert.Null(_scene.Project(1)[0].Picks[1].PostId);
        _scene.Decisions.Clear();
        _scene.Post(category);
        Assert.Equal(["Post 1", "Post 0"], _scene.Project(1)[0].Picks.Select(p => _scene.Bank.Single(b => b.Id == p.PostId).Title));
    }

    [Fact]
    public void The_same_text_goes_once_in_an_occurrence_where_the_network_minds_it_though_it_takes_several_accounts()
    {
        _scene.Networks = new([.. Repository.Networks.All.Select(n => n.Key == "jot" ? n with { OneAccountPerOccurrence = false } : n)]);
        (_, _, Category category) = TwoChannels(posts: 1, network: "jot");
        LineUpPlace place = _scene.Project(1)[0];
        Assert.Equal([true, false], place.Picks.Select(p => p.PostId is not null));
        Assert.Equal("The chosen post can't go here: the same text too soon for the network.", place.Picks[1].Reason.Words);
        _scene.Post(category, p => p.Fits["jot"] = new([], "a", [new([], "b")]));
        Assert.Equal([0, 1], _scene.Project(1)[0].Picks.Select(p => p.Wording));
    }

    // ---- Reasons

    [Fact]
    public void A_post_too_long_for_one_channel_and_fit_for_another_says_so()
    {
        (Channel jot, Channel hearth) = (_scene.Channel("jot"), _scene.Channel("hearth"));
        Category category = _scene.Category(jot, hearth);
        _scene.Slot(category, new(9, 0), EveryDay, jot, hearth).FillsEveryChannel = true;
        _scene.Post(category, p => p.Fits["jot"] = new([Scene.TooLong], "long"));
        Assert.Equal("1 post in the category: 1 not fit for the network.", _scene.Project(1)[0].Picks[0].Reason.Words);
        _scene.Rota.Slots[0].FillsEveryChannel = false;
        Assert.Equal("The chosen post can't go here: not fit for the network.", _scene.Project(1)[0].Picks[0].Reason.Words);
    }

    [Fact]
    public void After_a_pick_past_its_gap_an_empty_channel_says_its_own_reason()
    {
        (Channel first, Channel second, Category category) = TwoChannels(posts: 1);
        (category.GapDays, category.Order) = (10, new(Order.NewestFirst, PastGap: true));
        foreach (Channel channel in new[] { first, second })
            _scene.Delivery(_scene.Bank[0], channel, _scene.Now - Duration.FromDays(3), DeliveryState.Sent);
        _scene.Delivery(_scene.Bank[0], second, _scene.Now - Duration.FromDays(2), DeliveryState.Refused);
        LineUpPlace place = _scene.Project(1)[0];
        Assert.Equal(ReasonCode.PastGap, place.Picks[0].Reason.Code);
        Assert.Equal("The chosen post can't go here: failed and not dealt with.", place.Picks[1].Reason.Words);
    }

    [Fact]
    public void Reasons_are_worked_out_before_the_chosen_post_s_turn_is_written()
    {
        (Channel first, Channel second) = (_scene.Channel("jot"), _scene.Channel("jot"));
        Category category = _scene.Category(first, second);
        _scene.Slot(category, new(9, 0), EveryDay, first, second);
        Post post = _scene.Post(category);
        _scene.Delivery(post, second, _scene.Now - Duration.FromDays(40), DeliveryState.Refused);
        // Its text has gone nowhere yet: what keeps it from the second account is what failed there.
        Assert.Equal("The chosen post can't go here: failed and not dealt with.", _scene.Project(1)[0].Picks[1].Reason.Words);
    }

    [Fact]
    public void The_date_at_the_earliest_looks_at_turns_ahead_too()
    {
        (Category category, Channel channel) = Line(new(Order.NewestFirst), posts: 1);
        category.GapDays = 10;
        _scene.Delivery(_scene.Bank[0], channel, _scene.Now - Duration.FromDays(3), DeliveryState.Sent);
        _scene.Delivery(_scene.Bank[0], channel, _scene.At(Scene.Monday.PlusDays(12), new(9, 0)), DeliveryState.Planned);
        // The gap since the last one ends on the 9th, ten days before the one ahead; that of the one ahead on the 24th.
        Assert.Equal(
            "1 post in the category: 1 inside the repeat gap until 24 Mar 2026 at the earliest.",
            _scene.Project(1)[0].Reason.Words
        );
    }

    [Fact]
    public void The_date_at_the_earliest_is_that_of_a_post_counted_under_the_gap()
    {
        (Channel first, Channel second, Category category) = TwoChannels(posts: 2);
        category.GapDays = 10;
        foreach (Channel channel in new[] { first, second })
            _scene.Delivery(_scene.Bank[0], channel, _scene.Now - Duration.FromDays(2), DeliveryState.Sent);
        // The other one is inside its gap on one channel for a shorter time, and counts as failed on the other.
        _scene.Delivery(_scene.Bank[1], first, _scene.Now - Duration.FromDays(8), DeliveryState.Sent);
        _scene.Delivery(_scene.Bank[1], second, _scene.Now - Duration.FromDays(20), DeliveryState.Refused);
        Assert.Equal(
            "2 posts in the category: 1 inside the repeat gap until 10 Mar 2026 at the earliest, 1 failed and not dealt with.",
            _scene.Project(1)[0].Reason.Words
        );
    }

    private (Category, Channel) Line(OrderRule order, int posts, string network = "hearth")
    {
        Channel channel = _scene.Channel(network);
        Category category = _scene.Category(channel);
        category.Order = order;
        _scene.Slot(category, new(9, 0), EveryDay, channel);
        for (int i = 0; i < posts; i++)
            _scene.Post(category);
        return (category, channel);
    }

    private (Channel First, Channel Second, Category Category) TwoChannels(int posts, string network = "hearth")
    {
        (Channel first, Channel second) = (_scene.Channel(network), _scene.Channel(network));
        Category category = _scene.Category(first, second);
        _scene.Slot(category, new(9, 0), EveryDay, first, second);
        for (int i = 0; i < posts; i++)
            _scene.Post(category);
        return (first, second, category);
    }

    private IReadOnlyList<LineUpPlace> FirstDay() =>
        LineUp.Project(_scene.Input(), _scene.Now, _scene.Now + Duration.FromDays(1), withSubstitutes: true);

    private LineUpPlace First() => FirstDay()[0];

    private Pick? SubstitutePick() => First().Picks[0].Substitute;

    private Post? Substitute(LineUpPlace place) => Substitute(place.Picks[0]);

    private Post? Substitute(Pick pick) => pick.Substitute is { } substitute ? _scene.Bank.Single(p => p.Id == substitute.PostId) : null;
}
