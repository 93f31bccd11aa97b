using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using NodaTime;
using static NodaTime.IsoDayOfWeek;

namespace AbleLark.Core.Tests.Rotation;

public sealed class LineUpTests
{
    private static readonly LocalTime Nine = new(9, 0);
    private static readonly IsoDayOfWeek[] EveryDay = [Monday, Tuesday, Wednesday, Thursday, Friday, Saturday, Sunday];
    private readonly Scene _scene = new();

    // Common practice, no source: ten posts with one slot a week last ten weeks before the first comes round again, with two slots five.
    [Theory]
    [InlineData(10, 1, 10)]
    [InlineData(10, 2, 5)]
    [InlineData(12, 3, 4)]
    public void A_category_lasts_its_posts_divided_by_its_slots_a_week(int posts, int slotsAWeek, int weeks)
    {
        Channel channel = _scene.Channel("hearth");
        Category category = _scene.Category(channel);
        _scene.Slot(category, Nine, EveryDay.Take(slotsAWeek), channel);
        for (int i = 0; i < posts; i++)
            _scene.Post(category);

        string[] titles = _scene.Titles(days: 7 * (weeks + 1));
        int firstRepeat = Enumerable.Range(0, titles.Length).First(i => titles.Take(i).Contains(titles[i]));
        Assert.Equal(weeks * slotsAWeek, firstRepeat);
    }

    [Fact]
    public void New_posts_go_first_the_latest_added_before_the_others()
    {
        (Category category, _) = OneLine(posts: 3);
        Assert.Equal(["Post 2", "Post 1", "Post 0", "Post 2"], _scene.Titles(4));
        _scene.Post(category);
        Assert.Equal(["Post 3", "Post 2", "Post 1", "Post 0"], _scene.Titles(4));
    }

    [Fact]
    public void Posts_of_one_import_keep_the_order_of_the_file()
    {
        (Category category, _) = OneLine(posts: 0);
        foreach (int row in new[] { 2, 3, 4 })
        {
            _scene.Post(category, p => (p.AddedAt, p.AddedOrder) = (_scene.Now - Duration.FromDays(1), row));
        }
        Assert.Equal(["Post 0", "Post 1", "Post 2"], _scene.Titles(3));
    }

    [Fact]
    public void Then_the_one_that_has_rested_longest_goes()
    {
        (_, Channel channel) = OneLine(posts: 3);
        Sent(_scene.Bank[0], channel, daysAgo: 5);
        Sent(_scene.Bank[1], channel, daysAgo: 9);
        Sent(_scene.Bank[2], channel, daysAgo: 7);
        Assert.Equal(["Post 1", "Post 2", "Post 0"], _scene.Titles(3));
    }

    [Fact]
    public void A_planned_delivery_counts_as_a_turn_even_when_it_comes_later()
    {
        (_, Channel channel) = OneLine(posts: 2);
        _scene.Delivery(_scene.Bank[1], channel, _scene.At(Scene.Monday.PlusDays(3), new(15, 0)), DeliveryState.Planned);
        Assert.Equal(["Post 0", "Post 0", "Post 0"], _scene.Titles(3));
    }

    [Fact]
    public void A_post_never_goes_twice_to_a_channel_on_one_date()
    {
        (Category category, Channel channel) = OneLine(posts: 1);
        _scene.Slot(category, new(17, 0), EveryDay, channel);
        Assert.Equal(["Post 0", "–"], _scene.Titles(1));
    }

    [Fact]
    public void A_once_post_goes_once_to_each_channel()
    {
        Channel page = _scene.Channel("hearth");
        Channel group = _scene.Channel("hearth");
        Category category = _scene.Category(page, group);
        _scene.Slot(category, Nine, EveryDay, page);
        _scene.Slot(category, new(10, 0), EveryDay, group);
        _scene.Post(category, p => p.Lifespan = Lifespan.Once);
        Assert.Equal(["Post 0", "Post 0", "–", "–"], _scene.Titles(2));
    }

    [Fact]
    public void The_same_text_waits_its_thirty_days_on_every_account_of_a_network_that_forbids_it()
    {
        Channel one = _scene.Channel("jot");
        Channel two = _scene.Channel("jot");
        Category category = _scene.Category(one, two);
        _scene.Slot(category, Nine, [Monday], one);
        _scene.Slot(category, Nine, [Tuesday], two);
        _scene.Post(category);
        string[] titles = _scene.Titles(36);
        // Day 0, then barred through day 29; the next place is day 35.
        Assert.Equal(["Post 0", "–", "–", "–", "–", "–", "–", "–", "–", "–", "Post 0"], titles);
    }

    [Fact]
    public void A_network_that_takes_one_account_gets_the_one_that_rested_longest()
    {
        Channel one = _scene.Channel("jot");
        Channel two = _scene.Channel("jot");
        Category category = _scene.Category(one, two);
        _scene.Slot(category, Nine, [Monday, Tuesday], one, two);
        _scene.Post(category);
        _scene.Post(category);
        IReadOnlyList<LineUpPlace> places = _scene.Project();
        Assert.Equal([one.Id, two.Id], places.Select(p => p.Picks.Single(k => k.PostId is not null).ChannelId));
        Assert.All(places, p => Assert.Contains(p.Picks, k => k.Reason.Code == ReasonCode.OneAccount));
    }

    [Fact]
    public void A_post_barred_from_one_channel_is_not_new_for_ever_on_the_others()
    {
        Channel jot = _scene.Channel("jot");
        Channel page = _scene.Channel("hearth");
        Category category = _scene.Category(jot, page);
        _scene.Slot(category, Nine, EveryDay, jot, page);
        Post barred = _scene.Post(category);
        _scene.Post(category);
        _scene.Delivery(barred, _scene.Channel("jot"), _scene.Now - Duration.FromDays(1), DeliveryState.Sent);
        Assert.Equal(["Post 1", "Post 0", "Post 1", "Post 0"], _scene.Titles(4));
    }

    [Fact]
    public void A_refused_delivery_holds_its_post_back_until_it_is_dealt_with()
    {
        (_, Channel channel) = OneLine(posts: 2);
        Delivery refused = _scene.Delivery(_scene.Bank[1], channel, _scene.Now - Duration.FromDays(1), DeliveryState.Refused);
        Assert.Equal(["Post 0", "Post 0"], _scene.Titles(2));
        refused.DealWith();
        Assert.Equal(["Post 1", "Post 0"], _scene.Titles(2));
    }

    [Fact]
    public void A_missed_post_goes_first_in_its_line()
    {
        (_, Channel channel) = OneLine(posts: 3);
        _scene.Delivery(_scene.Bank[0], channel, _scene.Now - Duration.FromDays(1), DeliveryState.Missed);
        LineUpPlace first = _scene.Project(1)[0];
        Assert.Equal((ReasonCode.Front, "Post 0"), (first.Reason.Code, _scene.PostIn(first)!.Title));
    }

    [Fact]
    public void What_is_scheduled_stays_and_a_cancelled_place_is_not_filled_again()
    {
        Channel channel = _scene.Channel("hearth");
        Category category = _scene.Category(channel);
        Slot slot = _scene.Slot(category, Nine, EveryDay, channel);
        for (int i = 0; i < 3; i++)
            _scene.Post(category);
        _scene.Delivery(_scene.Bank[0], channel, _scene.At(Scene.Monday, Nine), DeliveryState.Planned, slot);
        _scene.Delivery(_scene.Bank[1], channel, _scene.At(Scene.Monday.PlusDays(1), Nine), DeliveryState.Cancelled, slot);
        Assert.Equal(["Post 0", "–", "Post 2"], _scene.Titles(3));
        Assert.Equal(ReasonCode.TakenOut, _scene.Project(2)[1].Reason.Code);
    }

    [Theory]
    [InlineData(Rule.Stage)]
    [InlineData(Rule.LeftOut)]
    [InlineData(Rule.ChannelChosen)]
    [InlineData(Rule.Fit)]
    public void An_empty_place_says_which_rule_kept_each_post_out(Rule rule)
    {
        (Category category, _) = OneLine(posts: 0);
        _scene.Post(
            category,
            p =>
            {
                if (rule == Rule.Stage)
                    p.PutBackTo(Stage.Draft);
                if (rule == Rule.LeftOut)
                    p.InRotation = false;
                if (rule == Rule.ChannelChosen)
                    p.Channels = [];
                if (rule == Rule.Fit)
                    p.Fits = Repository.Networks.All.ToDictionary(n => n.Key, _ => new Fit([Scene.TooLong], "x"));
            }
        );
        Reason reason = _scene.Project(1)[0].Reason;
        Assert.Equal((ReasonCode.NoCandidate, 1), (reason.Code, reason.InCategory));
        Assert.Equal([new(rule, 1)], reason.Counts!);
        Assert.StartsWith("1 post in the category: 1 ", reason.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void Ideas_are_not_in_the_bank()
    {
        (Category category, _) = OneLine(posts: 0);
        _scene.Post(category, p => p.PutBackTo(Stage.Idea));
        Assert.Equal("The category has no posts yet.", _scene.Project(1)[0].Reason.Words);
    }

    [Fact]
    public void A_slot_without_a_category_is_kept_free()
    {
        _scene.Slot(null, Nine, [Monday], _scene.Channel("hearth"));
        Assert.Equal(ReasonCode.KeptFree, Assert.Single(_scene.Project()).Reason.Code);
    }

    [Fact]
    public void The_reason_names_the_next_in_line()
    {
        OneLine(posts: 2);
        Reason reason = _scene.Project(1)[0].Reason;
        Assert.Equal((ReasonCode.NewestFirst, "Post 0"), (reason.Code, reason.NextTitle));
        Assert.Contains("Next would be “Post 0”", reason.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void Every_reason_has_words()
    {
        Assert.All(
            Enum.GetValues<ReasonCode>(),
            code => Assert.NotEmpty(new Reason(code, 2, [new(Rule.Gap, 1), new(Rule.Chosen, 1)]) { Other = "Kept" }.Words)
        );
    }

    private (Category Category, Channel Channel) OneLine(int posts)
    {
        Channel channel = _scene.Channel("hearth");
        Category category = _scene.Category(channel);
        _scene.Slot(category, Nine, EveryDay, channel);
        for (int i = 0; i < posts; i++)
            _scene.Post(category);
        return (category, channel);
    }

    private void Sent(Post post, Channel channel, int daysAgo) =>
        _scene.Delivery(post, channel, _scene.Now - Duration.FromDays(daysAgo), DeliveryState.Sent);

    [Fact]
    public void A_disconnected_channel_gets_nothing_and_says_so_while_the_others_go_on()
    {
        Scene scene = new();
        Channel open = scene.Channel("hearth"),
            gone = scene.Channel("glimmer");
        gone.Connection = ConnectionState.Disconnected;
        Category category = scene.Category(open, gone);
        Post post = scene.Post(category);
        scene.Slot(category, new(9, 0), [IsoDayOfWeek.Monday], open, gone);
        LineUpPlace place = scene.Project(7).Single();
        Assert.Equal(post.Id, place.Picks.Single(p => p.ChannelId == open.Id).PostId);
        Pick left = place.Picks.Single(p => p.ChannelId == gone.Id);
        Assert.Equal((null, "The channel is disconnected."), (left.PostId, left.Reason.Words));
    }
}
