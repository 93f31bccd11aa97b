using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;

namespace AbleLark.Core.Planning;

/// <summary>What a person may do with an entry of the line-up.</summary>
public enum EntryAct
{
    /// <summary>Give what is to come another date and time.</summary>
    Move,
    Cancel,

    /// <summary>Plan anew what failed.</summary>
    Reschedule,

    /// <summary>Say that nothing more is to be done about a failure.</summary>
    Dismiss,

    /// <summary>Say what they found on the network about a delivery that may have gone out.</summary>
    SayWhatWasFound,

    /// <summary>Say that they have posted it themselves.</summary>
    SayPosted,

    /// <summary>Have another try at what of a post that is out was refused.</summary>
    SendRest,

    /// <summary>Take down what is out, where its network offers that, or say that it was taken down.</summary>
    TakeDown,

    /// <summary>Send what was taken down again, as its post says it now.</summary>
    SendCorrected,

    /// <summary>Count what was sent under another category.</summary>
    CountUnder,

    /// <summary>Keep the post that the rotation would send at this place.</summary>
    KeepPost,
    ChooseAnother,
    SkipThisOne,
    MoveThisOne,
    WriteNote,

    /// <summary>Undo what was decided about the place.</summary>
    BackToRotation,

    /// <summary>Move its post to the front or the back of its line, or leave it out.</summary>
    MoveInLine,
    Swap,
}

/// <summary>The one place that says what may be done with a delivery or a place: who shows it asks here, and so does who does it.</summary>
public static class EntryActs
{
    public static IReadOnlyList<EntryAct> Of(Delivery delivery) =>
        Of(delivery.State, delivery.DealtWith, delivery.Facts is not null, delivery.LacksRest, delivery.TakenDownAt is not null);

    /// <param name="lacksRest">True when it is out, but not all of it.</param>
    /// <param name="isSent">True when what a comparison needs was kept with it.</param>
    /// <param name="isDown">True when it was taken off the network.</param>
    public static IReadOnlyList<EntryAct> Of(DeliveryState state, bool dealtWith, bool isSent, bool lacksRest = false, bool isDown = false)
    {
        List<EntryAct> acts = [];
        bool isYours = state == DeliveryState.PostItYourself;
        bool needsAPerson = state.NeedsAPerson() && !dealtWith && !isYours;
        if (state is DeliveryState.Planned or DeliveryState.WaitingForApproval)
            acts.Add(EntryAct.Move);
        if (state.MayBecome(DeliveryState.Cancelled))
            acts.Add(EntryAct.Cancel);
        if (isYours)
            acts.Add(EntryAct.SayPosted);
        if (needsAPerson && state != DeliveryState.MayHaveGoneOut)
            acts.Add(EntryAct.Reschedule);
        bool restNeedsAPerson = lacksRest && !dealtWith;
        if (restNeedsAPerson)
            acts.Add(EntryAct.SendRest);
        if (needsAPerson || restNeedsAPerson)
            acts.Add(EntryAct.Dismiss);
        if (needsAPerson && state == DeliveryState.MayHaveGoneOut)
            acts.Add(EntryAct.SayWhatWasFound);
        if (state == DeliveryState.Sent)
            acts.Add(isDown ? EntryAct.SendCorrected : EntryAct.TakeDown);
        if (isSent)
            acts.Add(EntryAct.CountUnder);
        return acts;
    }

    public static IReadOnlyList<EntryAct> Of(LineUpPlace place, Pick pick)
    {
        if (place.State is PlaceState.Paused or PlaceState.Replaced)
            return [];
        bool isDecided = pick.IsGiven || place.Occurrence.Decision?.MovedTo is not null || place.State == PlaceState.Skipped;
        List<EntryAct> acts = [EntryAct.WriteNote];
        if (pick.PostId is not null && !pick.IsGiven)
            acts.Add(EntryAct.KeepPost);
        if (place.State != PlaceState.Skipped)
            acts.AddRange([EntryAct.ChooseAnother, EntryAct.SkipThisOne, EntryAct.MoveThisOne]);
        if (isDecided)
            acts.Add(EntryAct.BackToRotation);
        if (pick.PostId is not null)
            acts.AddRange([EntryAct.MoveInLine, EntryAct.Swap]);
        return acts;
    }
}
