using AbleLark.Core.Deliveries;

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
        Assert.Equal([DeliveryState.Sending, DeliveryState.Unsure, DeliveryState.ByHand], All.Where(from => from.MayBecome(DeliveryState.Sent)));
    }

    [Fact]
    public void What_is_being_sent_can_no_longer_be_cancelled()
    {
        Assert.False(DeliveryState.Sending.MayBecome(DeliveryState.Cancelled));
    }

    [Fact]
    public void A_lost_answer_is_never_sent_again_by_itself()
    {
        Assert.False(DeliveryState.Unsure.MayBecome(DeliveryState.Sending));
        Assert.False(DeliveryState.Unsure.MayBecome(DeliveryState.Planned));
    }

    [Fact]
    public void Refused_missed_and_cancelled_are_no_turns()
    {
        Assert.Equal([DeliveryState.Refused, DeliveryState.Missed, DeliveryState.Cancelled], All.Where(s => !s.IsTurn()));
    }
}
