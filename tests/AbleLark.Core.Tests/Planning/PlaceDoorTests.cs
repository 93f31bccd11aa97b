using AbleLark.Core.Bookings;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Tests.Rotation;
using NodaTime;
using static NodaTime.IsoDayOfWeek;

namespace AbleLark.Core.Tests.Planning;

/// <summary>What acts make of places of the rota.</summary>
public sealed class PlaceDoorTests
{
    private static readonly LocalDate Day = Scene.Monday;
    private readonly Scene _scene = new();
    private readonly PlacePlan _plan;
    private readonly Channel _channel;
    private readonly Category _category;
    private readonly Slot _slot;

    public PlaceDoorTests()
    {
        _plan = new(_scene);
        _channel = _scene.Channel("hearth");
        _category = _scene.Category(_channel);
        _slot = _scene.Slot(_category, new(9, 0), [Monday, Tuesday, Wednesday, Thursday], _channel);
        for (int i = 0; i < 4; i++)
            _scene.Post(_category);
    }

    [Fact]
    public void A_place_that_is_moved_keeps_the_posts_that_it_would_send()
    {
        string[] before = _scene.Titles(4);
        LocalDateTime to = Day.PlusDays(2) + new LocalTime(20, 0);
        _plan.Do(new PlanAct.Decide([new(PlacePlan.Seen(_slot, Day), MovedTo: to)]));
        LineUpPlace moved = _scene.Project(4).Single(p => p.Occurrence.Origin.Date == Day);
        Assert.Equal((before[0], to), (_scene.PostIn(moved)!.Title, moved.Occurrence.At.InZone(_scene.Zone).LocalDateTime));
        // Several at once, by the clock; and back to the rotation, of which only a note remains.
        _plan.Do(new PlanAct.Decide([new(PlacePlan.Seen(_slot, Day), Note: "  Ask the boatman ")]));
        _plan.Do(new PlanAct.Shift([], [PlacePlan.Seen(_slot, Day), PlacePlan.Seen(_slot, Day.PlusDays(1))], new(1, 30)));
        Assert.Equal(
            [Day.PlusDays(2) + new LocalTime(9, 30), to.PlusDays(1).PlusMinutes(30)],
            _scene.Decisions.Select(d => d.MovedTo!.Value).Order()
        );
        _plan.Do(new PlanAct.Decide([new(PlacePlan.Seen(_slot, Day), IsFreed: true)]));
        Decision freed = _scene.Decisions.Single(d => d.OriginDate == Day);
        Assert.Equal((null, 0, "Ask the boatman"), (freed.MovedTo, freed.Posts.Count, freed.Note));
        _plan.Do(new PlanAct.Decide([new(PlacePlan.Seen(_slot, Day), Note: "")]));
        Assert.DoesNotContain(_scene.Decisions, d => d.OriginDate == Day);
    }

    [Fact]
    public void Two_places_exchange_on_one_channel_or_on_all_that_both_have()
    {
        Channel second = _scene.Channel("jot");
        Slot both = _scene.Slot(_category, new(12, 0), [Monday, Tuesday], _channel, second);
        LineUpPlace[] before = [.. _scene.Project(2).Where(p => p.Occurrence.Slot == both)];
        _plan.Do(new PlanAct.Exchange(new(null, PlacePlan.Seen(before[0])), new(null, PlacePlan.Seen(before[1])), second.Id));
        LineUpPlace[] one = [.. _scene.Project(2).Where(p => p.Occurrence.Slot == both)];
        Assert.Equal((On(before[1], second), On(before[0], second)), (On(one[0], second), On(one[1], second)));
        _plan.Do(new PlanAct.Exchange(new PlanSide(null, PlacePlan.Seen(one[0])), new PlanSide(null, PlacePlan.Seen(one[1]))));
        LineUpPlace[] all = [.. _scene.Project(2).Where(p => p.Occurrence.Slot == both)];
        foreach (Channel channel in new[] { _channel, second })
            Assert.Equal((On(one[1], channel), On(one[0], channel)), (On(all[0], channel), On(all[1], channel)));

        static Id<Post>? On(LineUpPlace place, Channel channel) => place.Picks.Single(p => p.ChannelId == channel.Id).PostId;
    }

    [Fact]
    public void A_place_and_a_scheduled_one_take_each_other_s_post_and_what_was_to_stand_in_is_let_go()
    {
        LineUpPlace[] week = [.. _scene.Project(4)];
        _scene.Schedule(week.Take(1));
        Delivery delivery = _scene.Deliveries[0];
        Delivery substitute = _scene.Delivery(_scene.Bank[3], _channel, delivery.At, DeliveryState.Substitute, _slot);
        LineUpPlace open = _scene.Project(4)[1];
        Id<Post> waiting = open.Picks[0].PostId!.Value;
        (Id<Post> had, Origin place) = (delivery.PostId, open.Occurrence.Origin);
        PlanChange done = _plan.Do(
            new PlanAct.Exchange(new(delivery, Expected: had), new(null, PlacePlan.Seen(open), waiting), _channel.Id)
        );
        Assert.Equal((2, waiting, DeliveryState.Cancelled), (done.Done, delivery.PostId, substitute.State));
        Assert.Equal([new(_channel.Id, had, IsPicked: true)], _scene.Decisions.Single(d => d.Origin == place).Posts);
        // Somebody saw another post there; or nothing would change; or it stands at an exact time.
        LineUpPlace now = _scene.Project(4)[1];
        Delivery exact = _scene.Delivery(_scene.Bank[2], _channel, delivery.At, DeliveryState.Planned);
        foreach (
            (PlanSide one, StayCode code) in new (PlanSide, StayCode)[]
            {
                (new(delivery, Expected: had), StayCode.ChangedSince),
                (new(null, PlacePlan.Seen(now)), StayCode.Same),
                (new(exact), StayCode.ExactTime),
                (new(null, PlacePlan.Seen(_slot, Day.PlusDays(5))), StayCode.Gone),
                (new(null, PlacePlan.Seen(_slot, Day)), StayCode.Scheduled),
                (new(null, new(now.Occurrence.Origin, 7)), StayCode.ChangedSince),
            }
        )
            Assert.Equal(
                code,
                Assert.Single(_plan.Look(new PlanAct.Exchange(one, new(null, PlacePlan.Seen(now)), _channel.Id)).Stays).Code
            );
    }

    [Fact]
    public void A_scheduled_place_is_taken_and_who_had_it_goes_to_the_front()
    {
        _scene.Schedule(_scene.Project(1));
        Delivery delivery = _scene.Deliveries[0];
        Id<Post> had = delivery.PostId;
        Post post = _scene.Bank.First(p => p.Id != had);
        post.From = Day.PlusDays(3);
        PlanChange change = _plan.Do(new PlanAct.Take(delivery, post.Id));
        Assert.Equal((post.Id, DeliveryState.Planned), (delivery.PostId, delivery.State));
        Assert.Equal([new(had, _channel.Id, Side.Front)], change.InLines);
        Assert.Equal([DoubtCode.BeforeItsDates], change.Remarks.Select(r => r.Doubt.Code));
        Post draft = _scene.Post(_category, p => p.PutBackTo(Stage.Draft));
        Post unfit = _scene.Post(_category, p => p.Fits = new() { ["hearth"] = new([Scene.TooLong], "print") });
        foreach ((Post other, StayCode code) in new[] { (post, StayCode.HasIt), (draft, StayCode.NotReady), (unfit, StayCode.DoesNotFit) })
            Assert.Equal(code, Assert.Single(_plan.Look(new PlanAct.Take(delivery, other.Id)).Stays).Code);
        Scene.Send(delivery);
        Assert.Equal(StayCode.NotToBeTaken, Assert.Single(_plan.Look(new PlanAct.Take(delivery, unfit.Id)).Stays).Code);
    }

    [Fact]
    public void What_can_t_be_decided_says_why_and_the_rest_is_done()
    {
        Post post = _scene.Bank[0];
        Channel other = _scene.Channel("jot");
        _scene.Rest(Pauses.Paused.Channel, other.Id.Value, Day);
        Slot resting = _scene.Slot(_category, new(15, 0), [Wednesday], _channel);
        _scene.Rest(Pauses.Paused.Slot, resting.Id.Value, Day);
        _plan.Do(new PlanAct.Cancel([], [PlacePlan.Seen(_slot, Day.PlusDays(1))]));
        PlaceWish[] wishes =
        [
            new(PlacePlan.Seen(_slot, Day), MovedTo: Day.PlusDays(-1) + new LocalTime(9, 0)),
            new(PlacePlan.Seen(_slot, Day.PlusDays(1)), IsSkipped: true),
            new(PlacePlan.Seen(_slot, Day.PlusDays(2)), Picks: [(other.Id, post.Id)]),
            new(PlacePlan.Seen(_slot, Day.PlusDays(3)), Picks: [(_channel.Id, Id<Post>.New())]),
            new(PlacePlan.Seen(resting, Day.PlusDays(2)), Note: "resting"),
            new(PlacePlan.Seen(_slot, Day.PlusDays(-7)), Note: "passed"),
            new(new(Origin.Place(_slot.Id, Day.PlusDays(7)), 3), Note: "another's"),
            new(PlacePlan.Seen(_slot, Day.PlusDays(8)), Note: "done"),
        ];
        PlanChange change = _plan.Do(new PlanAct.Decide(wishes));
        Assert.Equal(
            [
                StayCode.Gone,
                StayCode.PlaceState,
                StayCode.ChangedSince,
                StayCode.Time,
                StayCode.PlaceState,
                StayCode.NotItsChannel,
                StayCode.NotInBank,
            ],
            change
                .Stays.OrderBy(s =>
                    s.Code == StayCode.Gone ? 0
                    : s.Place?.SlotId == resting.Id ? 1
                    : s.Code == StayCode.ChangedSince ? 2
                    : 3
                )
                .ThenBy(s => s.Local)
                .Select(s => s.Code)
        );
        Assert.Equal((1, "done"), (change.Done, Assert.Single(_scene.Decisions, d => d.Note is not null).Note));
        Assert.All(change.Stays, s => Assert.NotEmpty(PlanWords.Why(s)));
    }

    [Fact]
    public void A_booking_is_done_as_it_is_found()
    {
        foreach (BookingKind kind in Enum.GetValues<BookingKind>())
        {
            Post post = _scene.Post(_category);
            BookingPlan found = new Booking(_scene.Input(), _scene.Now).Plan(LineUpPost.Of(post), kind);
            _plan.Do(new PlanAct.Book(post.Id, kind));
            foreach (BookingMove move in found.Moves)
                Assert.Contains(
                    new(move.ChannelId, move.PostId, IsPicked: false),
                    _scene.Decisions.Single(d => d.Origin == move.To!.Origin).Posts
                );
        }
        // What was shown is what is done: otherwise it is shown anew.
        Post late = _scene.Post(_category);
        BookingMove only = new Booking(_scene.Input(), _scene.Now).Plan(LineUpPost.Of(late), BookingKind.FirstFree).Moves.Single();
        ShownMove shown = new(late.Id, _channel.Id, only.To!.At.InZone(_scene.Zone).LocalDateTime);
        PlanAct.Book book = new(late.Id, BookingKind.FirstFree, [shown]);
        Assert.Equal(1, _plan.Look(book).Done);
        PlanChange otherwise = _plan.Look(book with { Shown = [shown with { To = null }] });
        Assert.Equal((0, StayCode.PlanChanged), (otherwise.Done, Assert.Single(otherwise.Stays).Code));
        Post draft = _scene.Post(_category, p => p.PutBackTo(Stage.Draft));
        Post elsewhere = _scene.Post(_category, p => p.Channels = [_scene.Channel("jot").Id]);
        foreach (
            (Id<Post> id, StayCode code) in new[]
            {
                (draft.Id, StayCode.NotReady),
                (Id<Post>.New(), StayCode.NotInBank),
                (elsewhere.Id, StayCode.NoPlace),
            }
        )
            Assert.Equal(code, Assert.Single(_plan.Look(new PlanAct.Book(id, BookingKind.FirstFree)).Stays).Code);
    }
}
