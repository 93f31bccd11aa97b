using AbleLark.Core.Bookings;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Tests.Rotation;
using NodaTime;
using static NodaTime.IsoDayOfWeek;

namespace AbleLark.Core.Tests.Bookings;

/// <summary>Places given by hand instead of waiting for a turn.</summary>
public sealed class BookingTests
{
    private readonly Scene _scene = new();
    private readonly Channel _channel;
    private readonly Category _category;
    private readonly Slot _slot;
    private readonly Post[] _posts;

    public BookingTests()
    {
        _channel = _scene.Channel("hearth");
        _category = _scene.Category(_channel);
        _slot = _scene.Slot(_category, new(9, 0), [Monday, Wednesday, Friday], _channel);
        _posts = [.. Enumerable.Range(0, 4).Select(_ => _scene.Post(_category))];
    }

    [Fact]
    public void The_next_open_place_is_the_earliest_that_nothing_is_booked_picked_or_scheduled_in()
    {
        _scene.Delivery(_posts[1], _channel, _scene.At(Day(0), new(9, 0)), DeliveryState.Planned, _slot);
        Give(Day(2), _posts[2], isPicked: false);
        Give(Day(4), _posts[3], isPicked: true);
        BookingMove move = Assert.Single(Plan(_posts[0], BookingKind.FirstFree).Moves);
        Assert.Equal((_posts[0].Id, null, Day(7)), (move.PostId, move.From, move.To!.Origin.Date));
    }

    [Fact]
    public void The_next_place_moves_bookings_on_by_one_each_and_leaves_picked_ones()
    {
        Give(Day(0), _posts[1], isPicked: false);
        Give(Day(2), _posts[3], isPicked: true);
        Give(Day(4), _posts[2], isPicked: false);
        IReadOnlyList<BookingMove> moves = Plan(_posts[0], BookingKind.VeryNext).Moves;
        Assert.Equal(
            [("Post 0", null, Day(0)), ("Post 1", Day(0), Day(4)), ("Post 2", Day(4), Day(7))],
            moves.Select(m => (_scene.Bank.Single(p => p.Id == m.PostId).Title, m.From?.Origin.Date, m.To!.Origin.Date))
        );
        // Nothing is done by looking.
        Assert.Equal(3, _scene.Decisions.Count);
    }

    [Fact]
    public void Booking_again_moves_the_booking_and_whoever_is_displaced_may_have_what_it_leaves()
    {
        Give(Day(0), _posts[1], isPicked: false);
        Give(Day(4), _posts[0], isPicked: false);
        IReadOnlyList<BookingMove> moves = Plan(_posts[0], BookingKind.VeryNext).Moves;
        Assert.Equal(
            [("Post 0", Day(4), Day(0)), ("Post 1", Day(0), Day(2))],
            moves.Select(m => (_scene.Bank.Single(p => p.Id == m.PostId).Title, m.From!.Origin.Date, m.To!.Origin.Date))
        );
        Give(Day(2), _posts[2], isPicked: true);
        moves = Plan(_posts[0], BookingKind.VeryNext).Moves;
        Assert.Equal(
            [("Post 0", Day(4), Day(0)), ("Post 1", Day(0), Day(4))],
            moves.Select(m => (_scene.Bank.Single(p => p.Id == m.PostId).Title, m.From!.Origin.Date, m.To!.Origin.Date))
        );
        // The first free place lies behind the one that it has: it stays.
        BookingMove stays = Assert.Single(Plan(_posts[0], BookingKind.FirstFree).Moves);
        Assert.Equal((null, Day(4)), (stays.From, stays.To!.Origin.Date));
    }

    [Fact]
    public void A_displaced_post_skips_places_it_can_t_take_and_without_any_goes_to_the_front()
    {
        Category other = _scene.Category(_channel);
        Slot once = _scene.Slot(other, new(8, 0), [Monday], _channel);
        once.To = Day(0);
        Post both = _scene.Post(_category, p => p.FurtherCategories = [other.Id]);
        Post displaced = _scene.Post(other);
        _scene.Decide(once, Day(0), d => d.Posts = [new(_channel.Id, displaced.Id, IsPicked: false)]);
        IReadOnlyList<BookingMove> moves = Plan(both, BookingKind.VeryNext).Moves;
        Assert.Equal(
            [(both.Id, once.Id), (displaced.Id, (Id<Slot>?)null)],
            moves.Select(m => (m.PostId, m.To?.Origin.SlotId ?? (m.From is null ? once.Id : null)))
        );
        Assert.Null(moves[1].To);
    }

    [Fact]
    public void A_place_without_a_category_is_open_to_any_post_and_a_skipped_or_paused_one_to_none()
    {
        _scene.Slot(null, new(7, 0), [Tuesday], _channel);
        _scene.Decide(_slot, Day(0), d => d.IsSkipped = true);
        Assert.Equal(Day(1), Plan(_posts[0], BookingKind.FirstFree).Moves.Single().To!.Origin.Date);
        _scene.Rest(Pauses.Paused.Channel, _channel.Id.Value, Day(0), Day(6));
        Assert.Equal(Day(7), Plan(_posts[0], BookingKind.FirstFree).Moves.Single().To!.Origin.Date);
    }

    [Fact]
    public void Each_channel_gets_a_place_of_its_own_and_one_that_can_t_take_the_post_says_why()
    {
        Channel jot = _scene.Channel("jot");
        Channel second = _scene.Channel("hearth");
        _scene.Slot(_category, new(20, 0), [Sunday], second);
        Post post = _scene.Post(
            _category,
            p =>
            {
                p.Channels = [_channel.Id, jot.Id, second.Id];
                p.Fits["jot"] = new([Scene.TooLong], "print");
            }
        );
        BookingPlan plan = Plan(post, BookingKind.FirstFree);
        Assert.Equal([(_channel.Id, Day(0)), (second.Id, Day(6))], plan.Moves.Select(m => (m.ChannelId, m.To!.Origin.Date)));
        Assert.Equal([new(jot.Id, Rule.Fit)], plan.Without);
        post.Fits["jot"] = new([], "print");
        // It could go there, but no slot ever does.
        Assert.Equal([new(jot.Id, null)], Plan(post, BookingKind.FirstFree).Without);
    }

    [Fact]
    public void What_speaks_against_a_place_given_by_hand_is_told_and_keeps_nobody_from_it()
    {
        Post post = _posts[0];
        Assert.Empty(Plan(post, BookingKind.VeryNext).Warnings);
        _scene.Delivery(post, _channel, _scene.At(Day(-1), new(9, 0)), DeliveryState.Sent);
        post.GapDays = 2;
        (post.From, _channel.DailyLimit) = (Day(3), 0);
        BookingPlan plan = Plan(post, BookingKind.VeryNext);
        Assert.Equal(Day(0), Assert.Single(plan.Moves).To!.Origin.Date);
        Assert.Equal(
            [new(_channel.Id, Rule.Lifespan), new(_channel.Id, Rule.Gap), new(_channel.Id, Rule.ChannelClosed, ReasonCode.DayFull)],
            plan.Warnings
        );
        Assert.All(plan.Warnings, w => Assert.EndsWith(".", BookingWords.Of(w), StringComparison.Ordinal));
        // A place that it leaves doesn't speak against the one it gets.
        (post.GapDays, post.From, _channel.DailyLimit) = (1, null, null);
        Give(Day(1), post, isPicked: false);
        post.GapDays = 3;
        _scene.Forget(_scene.Deliveries[0]);
        Assert.Empty(Plan(post, BookingKind.VeryNext).Warnings);
        post.Lifespan = Lifespan.Once;
        _scene.Delivery(post, _channel, _scene.At(Day(-1), new(9, 0)), DeliveryState.Sent);
        Assert.Equal([Rule.Once], Plan(post, BookingKind.VeryNext).Warnings.Select(w => w.Rule));
    }

    [Fact]
    public void A_scheduled_place_that_comes_sooner_is_offered_unless_the_post_has_one_itself()
    {
        Delivery scheduled = _scene.Delivery(_posts[1], _channel, _scene.At(Day(0), new(9, 0)), DeliveryState.Planned, _slot);
        Assert.Equal([scheduled.Id], Plan(_posts[0], BookingKind.VeryNext).Sooner.Select(d => d.Id));
        Assert.Empty(Plan(_posts[1], BookingKind.VeryNext).Sooner);
        Assert.Empty(Plan(_scene.Post(_scene.Category(_channel)), BookingKind.VeryNext).Sooner);
        // Inside its gap it wants none of it.
        _scene.Delivery(_posts[0], _channel, _scene.At(Day(-3), new(9, 0)), DeliveryState.Sent);
        _posts[0].GapDays = 4;
        Assert.Empty(Plan(_posts[0], BookingKind.VeryNext).Sooner);
        _posts[0].GapDays = 3;
        Assert.Equal([scheduled.Id], Plan(_posts[0], BookingKind.VeryNext).Sooner.Select(d => d.Id));
        Scene.Send(_scene.Deliveries[0]);
        Assert.Empty(Plan(_posts[0], BookingKind.VeryNext).Sooner);
    }

    /// <summary>On a thousand random workspaces: no place is given twice, none that is scheduled or fixed, nobody is lost, and applying
    /// the plan gives what it says.</summary>
    [Fact]
    public void What_is_booked_is_there_and_nobody_displaced_is_lost()
    {
        int displaced = 0;
        Effort.Each(
            1000,
            seed =>
            {
                Random chance = new(seed);
                Scene scene = RandomScenes.Build(chance, 1 + chance.Next(4), 1 + chance.Next(7), chance.Next(20));
                (LineUpInput input, Instant now) = (scene.Input(), scene.Now);
                LineUpPost[] ready = [.. input.Bank.Where(p => p.Stage is Stage.Ready or Stage.WaitingForApproval)];
                if (ready.Length == 0)
                    return;
                for (int round = 0; round < 3; round++)
                {
                    LineUpPost post = ready[chance.Next(ready.Length)];
                    BookingKind kind = (BookingKind)chance.Next(2);
                    BookingPlan plan = new Booking(input, now).Plan(post, kind);
                    var given = Given(input);
                    Assert.All(
                        plan.Moves,
                        m =>
                            Assert.True(
                                m.To is null
                                    || !given.TryGetValue((m.To.Origin, m.ChannelId), out GivenPost? there)
                                    || (!there.IsPicked && (kind == BookingKind.VeryNext || there.PostId == m.PostId)),
                                $"seed {seed}"
                            )
                    );
                    Assert.All(
                        plan.Moves.Where(m => m.To is not null),
                        m => Assert.DoesNotContain(input.Deliveries, d => d.Origin == m.To!.Origin && d.State != DeliveryState.Substitute)
                    );
                    Assert.Equal(plan.Moves.Count, plan.Moves.Select(m => (m.ChannelId, m.To?.Origin)).Distinct().Count());
                    input = input with { Decisions = Applied(input, plan) };
                    var after = Given(input);
                    Assert.All(
                        plan.Moves.Where(m => m.To is not null),
                        m => Assert.Equal(m.PostId, after[(m.To!.Origin, m.ChannelId)].PostId)
                    );
                    int Promised(Dictionary<(Origin, Id<Channel>), GivenPost> all, Id<Channel> channel) =>
                        all.Count(g => g.Key.Item2 == channel && g.Value.PostId == post.Id && !g.Value.IsPicked);
                    Assert.All(
                        plan.Moves.Where(m => m.PostId == post.Id),
                        m =>
                            Assert.True(
                                Promised(after, m.ChannelId) == 1,
                                $"seed {seed}: the post has {Promised(after, m.ChannelId)} places"
                            )
                    );
                    foreach (((Origin origin, Id<Channel> channel), GivenPost old) in given)
                    {
                        bool moved =
                            plan.Moves.Any(m => m.From?.Origin == origin && m.ChannelId == channel && m.PostId == old.PostId)
                            || (plan.Left.Contains((origin, channel)) && old.PostId == post.Id);
                        Assert.True(moved || after.GetValueOrDefault((origin, channel)) == old, $"seed {seed}: {old} was lost");
                        if (moved)
                            displaced++;
                    }
                }
            }
        );
        Assert.True(displaced > Effort.Of(100), $"Only {displaced} were displaced: the test proves too little.");
    }

    private static Dictionary<(Origin, Id<Channel>), GivenPost> Given(LineUpInput input) =>
        input.Decisions.SelectMany(d => d.Posts.Select(p => (d.Origin, p))).ToDictionary(x => (x.Origin, x.p.ChannelId), x => x.p);

    private static List<Decision> Applied(LineUpInput input, BookingPlan plan)
    {
        Dictionary<Origin, Decided> decisions = input.Decisions.ToDictionary(
            d => d.Origin,
            d => new Decided
            {
                IsSkipped = d.IsSkipped,
                MovedTo = d.MovedTo,
                Posts = [.. d.Posts],
            }
        );
        foreach ((Origin left, Id<Channel> channel) in plan.Left)
            decisions[left].Posts =
            [
                .. decisions[left].Posts.Where(p => p.ChannelId != channel || p.PostId != plan.Moves[0].PostId || p.IsPicked),
            ];
        foreach (BookingMove move in plan.Moves.Where(m => m.To is not null))
        {
            Origin origin = move.To!.Origin;
            if (!decisions.TryGetValue(origin, out Decided? decision))
                decisions[origin] = decision = new();
            decision.Posts =
            [
                .. decision.Posts.Where(p => p.ChannelId != move.ChannelId),
                new(move.ChannelId, move.PostId, IsPicked: false),
            ];
        }
        return [.. decisions.Select(d => d.Value.About(input.Rotas[0].WorkspaceId, d.Key))];
    }

    private BookingPlan Plan(Post post, BookingKind kind) => new Booking(_scene.Input(), _scene.Now).Plan(LineUpPost.Of(post), kind);

    private void Give(LocalDate date, Post post, bool isPicked) =>
        _scene.Decide(_slot, date, d => d.Posts = [new(_channel.Id, post.Id, isPicked)]);

    private static LocalDate Day(int days) => Scene.Monday.PlusDays(days);
}
