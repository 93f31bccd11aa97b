using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Pauses;
using AbleLark.Core.Planning;
using AbleLark.Core.Rotas;
using AbleLark.Core.Tests.Rotation;
using NodaTime;
using static AbleLark.Core.Planning.EntryAct;

namespace AbleLark.Core.Tests.Planning;

/// <summary>What may be done with a delivery or a place: said once, for who shows it and for who does it.</summary>
public sealed class EntryActTests
{
    private readonly Scene _scene = new();

    [Theory]
    [InlineData(DeliveryState.Planned, false, new[] { Move, Cancel })]
    [InlineData(DeliveryState.WaitingForApproval, false, new[] { Move, Cancel })]
    [InlineData(DeliveryState.Substitute, false, new[] { Cancel })]
    [InlineData(DeliveryState.Sending, false, new EntryAct[0])]
    [InlineData(DeliveryState.Sent, false, new[] { TakeDown, CountUnder })]
    [InlineData(DeliveryState.Sent, false, new[] { SendCorrected, CountUnder }, true)]
    [InlineData(DeliveryState.Refused, false, new[] { Reschedule, Dismiss })]
    [InlineData(DeliveryState.Refused, true, new EntryAct[0])]
    [InlineData(DeliveryState.Missed, false, new[] { Reschedule, Dismiss })]
    [InlineData(DeliveryState.MayHaveGoneOut, false, new[] { Dismiss, SayWhatWasFound })]
    [InlineData(DeliveryState.Cancelled, false, new EntryAct[0])]
    public void A_delivery_offers_what_its_state_allows(DeliveryState state, bool dealtWith, EntryAct[] acts, bool isDown = false) =>
        Assert.Equal(acts, EntryActs.Of(state, dealtWith, isSent: state == DeliveryState.Sent, isDown: isDown));

    [Fact]
    public void A_place_offers_what_can_be_decided_about_it()
    {
        Channel channel = _scene.Channel("hearth");
        Category category = _scene.Category(channel);
        Slot slot = _scene.Slot(category, new(9, 0), [.. Enumerable.Range(1, 7).Select(d => (IsoDayOfWeek)d)], channel);
        for (int i = 0; i < 4; i++)
            _scene.Post(category);
        _scene.Decide(slot, Scene.Monday.PlusDays(1), d => d.IsSkipped = true);
        _scene.Decide(slot, Scene.Monday.PlusDays(2), d => d.Posts = [new(channel.Id, _scene.Bank[0].Id, true)]);
        _scene.Rest(Paused.Slot, slot.Id.Value, Scene.Monday.PlusDays(3), Scene.Monday.PlusDays(3));
        EntryAct[][] acts = [.. _scene.Project(4).Select(p => EntryActs.Of(p, p.Picks[0]).ToArray())];
        Assert.Equal([WriteNote, KeepPost, ChooseAnother, SkipThisOne, MoveThisOne, MoveInLine, Swap], acts[0]);
        Assert.Equal([WriteNote, BackToRotation], acts[1]);
        Assert.Equal([WriteNote, ChooseAnother, SkipThisOne, MoveThisOne, BackToRotation, MoveInLine, Swap], acts[2]);
        Assert.Empty(acts[3]);
    }
}
