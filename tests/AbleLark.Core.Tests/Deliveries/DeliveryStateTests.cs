using System.Reflection;
using System.Runtime.CompilerServices;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Tests.Deliveries;

public sealed class DeliveryStateTests
{
    private static readonly DeliveryState[] All = Enum.GetValues<DeliveryState>();

    [Theory]
    [InlineData(DeliveryState.Sent)]
    [InlineData(DeliveryState.Refused)]
    [InlineData(DeliveryState.Missed)]
    public void Nothing_follows_an_end(DeliveryState end)
    {
        Assert.DoesNotContain(All, to => end.MayBecome(to));
    }

    [Fact]
    public void Only_what_is_being_sent_or_was_posted_by_hand_becomes_sent()
    {
        Assert.Equal(
            [DeliveryState.Sending, DeliveryState.MayHaveGoneOut, DeliveryState.PostItYourself],
            All.Where(from => from.MayBecome(DeliveryState.Sent))
        );
    }

    [Fact]
    public void What_is_being_sent_can_no_longer_be_cancelled()
    {
        Assert.False(DeliveryState.Sending.MayBecome(DeliveryState.Cancelled));
    }

    [Fact]
    public void A_lost_answer_is_never_sent_again_by_itself()
    {
        Assert.False(DeliveryState.MayHaveGoneOut.MayBecome(DeliveryState.Sending));
        Assert.False(DeliveryState.MayHaveGoneOut.MayBecome(DeliveryState.Planned));
    }

    /// <summary>Whatever a delivery lets anybody do, it goes where the rule lets it, and what only a person decides is done by no other
    /// way.</summary>
    [Fact]
    public void Nothing_that_is_done_to_a_delivery_leads_past_the_rule()
    {
        foreach (DeliveryState from in All)
        {
            foreach (DeliveryState to in All)
            {
                Delivery delivery = In(from, Now);
                Exception? refused = Record.Exception(() => delivery.Become(to));
                Assert.Equal((from.MayBecome(to), from.MayBecome(to) ? to : from), (refused is null, delivery.State));
            }
            Delivery again = In(from, Now),
                looked = In(from, Now);
            Assert.Equal(
                from.MayBecomeByPerson(DeliveryState.Planned),
                Record.Exception(() => again.BecomeAfter(AfterSending.GoesAgain, At(Now))) is null
            );
            Assert.Equal(
                from == DeliveryState.MayHaveGoneOut,
                Record.Exception(() => looked.BecomeAfter(AfterSending.LooksAgain, At(Now))) is null
            );
            Assert.Equal(from is DeliveryState.MayHaveGoneOut or DeliveryState.Sent, All.Any(to => from.MayBecomeByPerson(to)));
        }
        // And nothing else writes it: no state, no time.
        string[] guarded = [nameof(Delivery.State), nameof(Delivery.At), nameof(Delivery.LocalDate), nameof(Delivery.LocalTime)];
        foreach (string name in guarded.Append(nameof(Delivery.Time)))
        {
            MethodInfo? set = typeof(Delivery).GetProperty(name)!.GetSetMethod();
            Assert.True(
                set is null || set.ReturnParameter.GetRequiredCustomModifiers().Contains(typeof(IsExternalInit)),
                $"{name} can be set"
            );
        }
    }

    [Fact]
    public void Clocks_and_instant_agree_where_a_clock_change_leaves_a_time_out()
    {
        DateTimeZone dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
        Instant at = new LocalDateTime(2027, 3, 28, 1, 30).InZoneLeniently(dublin).ToInstant();
        Assert.Equal(new LocalDateTime(2027, 3, 28, 2, 30), PlannedTime.Of(at, dublin).Local);
    }

    [Fact]
    public void Refused_missed_and_cancelled_are_no_turns()
    {
        Assert.Equal([DeliveryState.Refused, DeliveryState.Missed, DeliveryState.Cancelled], All.Where(s => !s.IsTurn()));
    }

    private static readonly Instant Now = Instant.FromUtc(2026, 3, 2, 9, 0);

    [Theory]
    [InlineData(DeliveryState.Sending)]
    [InlineData(DeliveryState.Sent)]
    [InlineData(DeliveryState.MayHaveGoneOut)]
    [InlineData(DeliveryState.PostItYourself)]
    public void Taking_back_never_changes_what_was_or_may_have_been_sent(DeliveryState state)
    {
        Delivery delivery = In(state, Now + Duration.FromHours(1));
        Assert.NotNull(delivery.WhyNotBack(DeliveryState.Planned, delivery.At, Now, otherPost: false, replaced: false));
        Assert.NotNull(delivery.WhyNotBack(state, Now + Duration.FromHours(2), Now, otherPost: false, replaced: false));
        Assert.NotNull(delivery.WhyNotBack(state, delivery.At, Now, otherPost: true, replaced: false));
        Assert.Null(delivery.WhyNotBack(state, delivery.At, Now, otherPost: false, replaced: false));
    }

    [Fact]
    public void Taking_back_brings_nothing_back_whose_time_has_passed_or_that_went_out_in_another_s_place()
    {
        Delivery cancelled = In(DeliveryState.Cancelled, Now + Duration.FromHours(1));
        Assert.Null(cancelled.WhyNotBack(DeliveryState.Planned, cancelled.At, Now, otherPost: false, replaced: false));
        Assert.Contains(
            "twice",
            cancelled.WhyNotBack(DeliveryState.Planned, cancelled.At, Now, otherPost: false, replaced: true),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "late",
            cancelled.WhyNotBack(DeliveryState.Planned, Now, Now, otherPost: false, replaced: false),
            StringComparison.Ordinal
        );
        Delivery moved = In(DeliveryState.Planned, Now + Duration.FromHours(1));
        Assert.Contains(
            "late",
            moved.WhyNotBack(DeliveryState.Planned, Now - Duration.FromMinutes(1), Now, otherPost: false, replaced: false),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Only_a_person_sends_again_or_has_looked_for_what_may_have_gone_out()
    {
        Delivery again = In(DeliveryState.MayHaveGoneOut, Now - Duration.FromHours(1));
        again.BecomeAfter(AfterSending.GoesAgain, At(Now));
        Assert.Equal((DeliveryState.Planned, Now), (again.State, again.At));
        Delivery looked = In(DeliveryState.MayHaveGoneOut, Now);
        looked.BecomeAfter(AfterSending.LooksAgain, At(Now));
        Assert.Equal((DeliveryState.Sending, true), (looked.State, looked.LookUpOnly));
        foreach (DeliveryState state in All.Where(s => s != DeliveryState.MayHaveGoneOut))
        {
            Assert.Throws<InvalidOperationException>(() => In(state, Now).BecomeAfter(AfterSending.GoesAgain, At(Now)));
            Assert.Throws<InvalidOperationException>(() => In(state, Now).BecomeAfter(AfterSending.LooksAgain, At(Now)));
        }
    }

    [Theory]
    [InlineData("https://hearth.example.org/p/1", true)]
    [InlineData("http://127.0.0.1/p", true)]
    [InlineData("javascript:alert(1)", false)]
    [InlineData("data:text/html,x", false)]
    [InlineData("/p/1", false)]
    public void An_address_from_a_network_is_only_shown_as_http_or_https(string address, bool shown)
    {
        Delivery delivery = In(DeliveryState.Sent, Now);
        delivery.Address = address;
        Assert.Equal(shown ? address : null, delivery.ShownAddress);
    }

    private static PlannedTime At(Instant at) => PlannedTime.Of(at, DateTimeZone.Utc);

    private static Delivery In(DeliveryState state, Instant at) =>
        new()
        {
            WorkspaceId = new Id<Workspace>(Guid.NewGuid()),
            Id = Id<Delivery>.New(),
            PostId = Id<Post>.New(),
            ChannelId = Id<Channel>.New(),
            Time = At(at),
            State = state,
            Origin = Origin.Place(Id<Slot>.New(), at.InUtc().Date),
        };
}
