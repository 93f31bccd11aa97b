using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Tests.Planning;

public sealed class PlanDoorTests
{
    private static readonly LocalDateTime Begin = new(2026, 12, 2, 10, 0);
    private static readonly LocalDateTime Noon = new(2026, 12, 4, 12, 0);
    private readonly PlanScene _plan = new(Begin);

    [Fact]
    public void What_goes_out_in_its_place_moves_along_whoever_moves_it()
    {
        Channel harbour = _plan.Channel();
        (Delivery waiter, Delivery substitute) = _plan.Waiting(_plan.Post("Waits"), _plan.Post("Instead"), harbour, Noon);
        _plan.Do(new PlanAct.Move([new(waiter, Noon.PlusDays(1))]));
        Assert.Equal((Noon.PlusDays(1), Noon.PlusDays(1)), (waiter.Time.Local, substitute.Time.Local));
        _plan.Do(new PlanAct.Reschedule(waiter, Noon.PlusDays(2)));
        Assert.Equal((Noon.PlusDays(2), Noon.PlusDays(2)), (waiter.Time.Local, substitute.Time.Local));
        Delivery other = _plan.At(_plan.Post("Other"), harbour, Noon);
        PlanChange exchanged = _plan.Do(new PlanAct.Exchange(waiter, other));
        Assert.Equal((Noon, Noon, Noon.PlusDays(2)), (waiter.Time.Local, substitute.Time.Local, other.Time.Local));
        Assert.Equal([false, true, false], exchanged.Moves.Select(m => m.IsAlong));
        _plan.Do(new PlanAct.Cancel([waiter]));
        Assert.Equal((DeliveryState.Cancelled, DeliveryState.Cancelled), (waiter.State, substitute.State));
    }

    [Fact]
    public void A_substitute_whose_post_goes_out_there_then_anyway_is_let_go()
    {
        Channel harbour = _plan.Channel();
        Post instead = _plan.Post("Instead");
        (Delivery waiter, Delivery substitute) = _plan.Waiting(_plan.Post("Waits"), instead, harbour, Noon);
        _plan.At(instead, harbour, Noon.PlusDays(1));
        _plan.Do(new PlanAct.Move([new(waiter, Noon.PlusDays(1))]));
        Assert.Equal(DeliveryState.Cancelled, substitute.State);
    }

    /// <summary>So that its old time is free for the same post, and whatever is decided about the place stays the place's.</summary>
    [Fact]
    public void What_moves_comes_from_its_new_time_if_it_had_an_exact_one_and_from_its_place_if_it_had_that()
    {
        (Channel harbour, Post post) = (_plan.Channel(), _plan.Post());
        Origin place = Origin.Place(Id<Slot>.New(), Noon.Date);
        Delivery placed = _plan.OfPlace(place, post, harbour, Noon, DeliveryState.Planned);
        Delivery exact = _plan.At(post, harbour, Noon.PlusDays(3));
        _plan.Do(new PlanAct.Move([new(placed, Noon.PlusDays(1)), new(exact, Noon.PlusDays(5))]));
        Assert.Equal((place, Noon.PlusDays(1)), (placed.Origin, placed.Time.Local));
        Assert.Equal((Origin.ExactTime(post.Id, Noon.PlusDays(5)), Noon.PlusDays(5)), (exact.Origin, exact.Time.Local));
    }

    [Fact]
    public void A_line_moves_up_unless_its_foremost_can_t()
    {
        (Channel harbour, Post post) = (_plan.Channel(), _plan.Post());
        Delivery[] line = [.. Enumerable.Range(0, 3).Select(i => _plan.At(post, harbour, Noon.PlusDays(i)))];
        PlanAct up = new PlanAct.Move([.. line.Select(d => new MoveWish(d, d.Time.Local.PlusDays(1)))]);
        Assert.Equal(3, _plan.Look(up).Done);
        _plan.At(post, harbour, Noon.PlusDays(3));
        PlanChange held = _plan.Look(up);
        Assert.Equal((0, 3), (held.Done, held.Stays.Count(s => s.Code == StayCode.Taken)));
    }

    [Fact]
    public void What_can_t_be_done_stays_with_its_reason_and_the_rest_is_done()
    {
        (Channel harbour, Channel gone) = (_plan.Channel(), _plan.Channel("Gone", ConnectionState.Disconnected));
        Post post = _plan.Post();
        Delivery fine = _plan.At(post, harbour, Noon);
        Delivery unconnected = _plan.At(post, gone, Noon);
        Delivery sent = _plan.At(post, harbour, Begin.PlusDays(-1), DeliveryState.Sent);
        Delivery back = _plan.At(post, harbour, Noon.PlusDays(4));
        PlanChange change = _plan.Do(
            new PlanAct.Move([
                new(fine, Noon.PlusHours(1)),
                new(unconnected, Noon.PlusHours(1)),
                new(sent, Noon.PlusHours(2)),
                new(back, Begin.PlusDays(-2)),
            ])
        );
        Assert.Equal(fine, Assert.Single(change.Moves).Delivery);
        Assert.Equal(
            [(sent.Id, StayCode.State), (unconnected.Id, StayCode.Disconnected), (back.Id, StayCode.Time)],
            change.Stays.Select(s => (s.DeliveryId!.Value, s.Code))
        );
        Assert.Equal(
            ["it is sent.", "the channel is disconnected.", "30 Nov 2026 has passed. Choose a time to come."],
            change.Stays.Select(s => PlanWords.Why(s, post.Title))
        );
    }

    [Fact]
    public void What_failed_is_planned_anew_and_nobody_minds_it_any_more()
    {
        (Channel harbour, Post post) = (_plan.Channel(), _plan.Post());
        Delivery missed = _plan.At(post, harbour, Begin.PlusHours(-3), DeliveryState.Missed);
        PlanChange change = _plan.Do(new PlanAct.Reschedule(missed, Noon));
        Delivery fresh = Assert.Single(change.Added).Delivery;
        Assert.Equal((true, missed.Id, Noon, DeliveryState.Planned), (missed.DealtWith, fresh.InsteadOf, fresh.Time.Local, fresh.State));
        Assert.Equal(StayCode.State, Assert.Single(_plan.Do(new PlanAct.Reschedule(missed, Noon.PlusDays(1))).Stays).Code);
        Assert.Equal(StayCode.State, Assert.Single(_plan.Do(new PlanAct.Dismiss(missed)).Stays).Code);
    }

    /// <summary>The zone's rules are those of the tz database: clocks went on from 1:00 to 2:00 on 28 March 2027, and back from 2:00
    /// to 1:00 on 31 October 2027.</summary>
    [Fact]
    public void Where_clocks_change_a_time_is_the_one_after_the_gap_and_an_exchange_keeps_instants()
    {
        (Channel harbour, Post post, Post other) = (_plan.Channel(), _plan.Post(), _plan.Post("Other"));
        Delivery delivery = _plan.At(post, harbour, Noon);
        PlanMove move = Assert.Single(_plan.Do(new PlanAct.Move([new(delivery, new(2027, 3, 28, 1, 30))])).Moves);
        Assert.Equal(new LocalDateTime(2027, 3, 28, 2, 30), delivery.Time.Local);
        Assert.Equal(
            "The clocks change: there is no 28 Mar 2027, 01:30, so it goes out at 02:30.",
            PlanWords.Of(Assert.Single(move.Doubts, d => d.Code == DoubtCode.ClockChange))
        );
        Instant second = Instant.FromUtc(2027, 10, 31, 1, 30);
        Delivery later = Delivery.AtExactTime(_plan.Workspace, other.Id, harbour.Id, second);
        _plan.Deliveries.Add(later);
        Instant first = delivery.At;
        _plan.Do(new PlanAct.Exchange(delivery, later));
        Assert.Equal((second, first), (delivery.At, later.At));
    }

    [Fact]
    public void What_speaks_against_it_is_said_though_it_is_done()
    {
        Channel harbour = _plan.Channel();
        (harbour.DailyLimit, harbour.Spacing) = (1, Duration.FromHours(2));
        Post post = _plan.Post(gapDays: 7);
        post.From = Noon.Date.PlusDays(3);
        Delivery delivery = _plan.At(post, harbour, Noon.PlusDays(20));
        _plan.At(post, harbour, Noon.PlusHours(1));
        PlanChange change = _plan.Do(new PlanAct.Move([new(delivery, Noon)]));
        Assert.Equal(
            [
                "It is meant for 7 Dec 2026 at the earliest.",
                "It would be the 2 of 4 Dec 2026 there, and 1 is the most.",
                "Another goes out there less than 120 minutes away.",
                "The same post goes out there on 4 Dec 2026, and 7 days are to lie between.",
            ],
            Assert.Single(change.Moves).Doubts.Select(PlanWords.Of)
        );
    }

    [Fact]
    public void A_copy_needs_a_post_that_is_ready_and_a_time_that_is_free()
    {
        (Channel harbour, Post ready, Post idea) = (_plan.Channel(), _plan.Post(), _plan.Post("Idea", Stage.Idea));
        PlanChange change = _plan.Do(
            new PlanAct.Copy([
                new(ready.Id, harbour.Id, 0, Noon, Noon.PlusDays(1)),
                new(ready.Id, harbour.Id, null, Noon, Noon.PlusDays(1)),
                new(idea.Id, harbour.Id, null, Noon, Noon.PlusDays(1)),
            ])
        );
        Assert.Equal(Noon.PlusDays(1), Assert.Single(change.Added).Delivery.Time.Local);
        Assert.Equal([StayCode.Taken, StayCode.NotReady], change.Stays.Select(s => s.Code));
    }

    [Fact]
    public void The_same_text_too_soon_on_a_network_that_minds_is_said_whatever_post_and_account_it_is()
    {
        PlanScene scene = new(new(2027, 3, 1, 9, 0)) { IdenticalTextDays = { ["jot"] = 30 } };
        (Channel harbour, Channel wall) = (scene.Channel(), scene.Channel("Wall"));
        (Post boats, Post same, Post other) = (scene.Post(), scene.Post("Boats again"), scene.Post("Kelp", text: "other words"));
        scene.At(boats, wall, new(2027, 3, 10, 9, 0));
        Delivery moved = scene.At(same, harbour, new(2027, 6, 1, 9, 0));
        Delivery free = scene.At(other, harbour, new(2027, 6, 2, 9, 0));

        PlanChange change = scene.Look(new PlanAct.Move([new(moved, new(2027, 3, 12, 9, 0)), new(free, new(2027, 3, 13, 9, 0))]));
        Assert.Equal(
            ["The same text goes to this network on 10 Mar 2027, and it refuses it within 30 days."],
            change.Remarks.Select(r => PlanWords.Of(r.Doubt))
        );
        // Copies mind each other, too.
        change = scene.Look(
            new PlanAct.Copy([
                new(same.Id, harbour.Id, null, new(2027, 8, 1, 9, 0), new(2027, 8, 1, 9, 0)),
                new(boats.Id, wall.Id, null, new(2027, 8, 5, 9, 0), new(2027, 8, 5, 9, 0)),
            ])
        );
        Assert.Equal([DoubtCode.IdenticalText, DoubtCode.IdenticalText], change.Remarks.Select(r => r.Doubt.Code));
        // What moves away in the same act is no longer near.
        scene.IdenticalTextDays["jot"] = 3;
        Delivery near = scene.At(same, harbour, new(2027, 9, 2, 9, 0));
        Delivery away = scene.At(boats, wall, new(2027, 9, 1, 9, 0));
        change = scene.Look(new PlanAct.Move([new(near, new(2027, 9, 1, 12, 0)), new(away, new(2027, 10, 1, 9, 0))]));
        Assert.Empty(change.Remarks);
    }

    [Fact]
    public void What_waits_for_approval_is_said_where_it_is_new_or_gets_less_time()
    {
        PlanScene scene = new(new(2027, 3, 1, 9, 0));
        Channel channel = scene.Channel();
        Post post = scene.Post(stage: Stage.WaitingForApproval);
        Delivery waiter = scene.At(post, channel, new(2027, 3, 20, 9, 0), DeliveryState.WaitingForApproval);
        Assert.Empty(Codes(new PlanAct.Move([new(waiter, new(2027, 3, 25, 9, 0))])));
        Assert.Equal([DoubtCode.Waits], Codes(new PlanAct.Move([new(waiter, new(2027, 3, 2, 9, 0))])));
        Assert.Equal(
            [DoubtCode.Waits],
            Codes(new PlanAct.Copy([new(post.Id, channel.Id, null, new(2027, 5, 1, 9, 0), new(2027, 5, 1, 9, 0))]))
        );

        IEnumerable<DoubtCode> Codes(PlanAct act) => scene.Look(act).Remarks.Select(r => r.Doubt.Code);
    }
}
