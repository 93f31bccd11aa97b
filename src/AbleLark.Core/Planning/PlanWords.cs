using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Reasons;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>The one place that puts what an act can't do, and what speaks against it, into words.</summary>
public static class PlanWords
{
    /// <summary>Why it stays, as what follows a colon.</summary>
    /// <param name="title">The post's; null: it is about a place.</param>
    public static string Why(PlanStay stay, string? title = null) =>
        stay.Code switch
        {
            StayCode.State => $"it is {Of(stay.State!.Value)}.",
            StayCode.PlaceState => $"it is {stay.PlaceState!.Value.ToString().ToLowerInvariant()}.",
            StayCode.Disconnected => "the channel is disconnected.",
            StayCode.Time => stay.Detail!,
            StayCode.Taken => "the post already goes out there at that time.",
            StayCode.JustNow => "the post went out there just now.",
            StayCode.NotReady => $"“{title}” is not ready. Mark it as ready first.",
            StayCode.Waits => $"“{title}” waits for approval, so it can't go out now. Give it a time, or have it approved first.",
            StayCode.DoesNotFit => stay.Detail ?? "the post was never checked for it.",
            StayCode.Gone => "it has passed, or is no longer there.",
            StayCode.Scheduled => "it is scheduled already, so choose its deliveries.",
            StayCode.ChangedSince => "somebody else decided about it since you looked.",
            StayCode.PlanChanged => "the plan has changed since this was shown. Look at it once more; nothing was done.",
            StayCode.NotItsChannel => "the channel isn't one of its own.",
            StayCode.NotInBank => "one of the posts isn't in the bank. Choose another.",
            StayCode.SendsNothing => "it has nothing to send there.",
            StayCode.Same => "it would send the same post, so nothing would change.",
            StayCode.HasIt => "the post has this place already.",
            StayCode.ExactTime =>
                "one of the two stands at an exact time and the other in a place that may still change. Schedule that place first.",
            StayCode.NotToBeTaken => "this place can't be taken any more: it isn't a scheduled place to come.",
            StayCode.NoPlace => "there is no place for this post on any of its channels. Set date and time instead.",
            StayCode.StillOut => "take it down first, or readers would see both.",
            StayCode.Replaced => "another goes out in its place already.",
            StayCode.SaysTheSame => $"“{title}” says what it said then. Correct it first, then send it again.",
            var code => throw new ArgumentOutOfRangeException(nameof(stay), code, "A reason that nobody wrote."),
        };

    /// <summary>A sentence about what is done.</summary>
    public static string Of(PlanDoubt doubt) =>
        doubt.Code switch
        {
            DoubtCode.ClockChange =>
                $"The clocks change: there is no {doubt.Local!.Value.InWords()}, so it goes out at {doubt.Time!.Value:HH:mm}.",
            DoubtCode.DailyLimit =>
                $"It would be the {doubt.Number} of {doubt.Date!.Value.InWords()} there, and {doubt.Limit} is the most.",
            DoubtCode.Spacing => $"Another goes out there less than {doubt.Limit} minutes away.",
            DoubtCode.Gap => $"The same post goes out there on {doubt.Date!.Value.InWords()}, and {doubt.Limit} days are to lie between.",
            DoubtCode.DoesNotFit => doubt.Detail!,
            DoubtCode.Rule => $"Rotation wouldn't send it there: it is {ReasonWords.Why(doubt.Rule!.Value)}.",
            DoubtCode.IdenticalText =>
                $"The same text goes to this network on {doubt.Date!.Value.InWords()}, and it refuses it within {doubt.Limit} days.",
            DoubtCode.Waits => "It waits for approval: without it, it doesn't go out.",
            _ => $"It {OutsideDates(doubt)}.",
        };

    /// <summary>The same, of a post that is named.</summary>
    public static string Of(PlanDoubt doubt, string title) =>
        doubt.Code is DoubtCode.BeforeItsDates or DoubtCode.AfterItsDates ? $"“{title}” {OutsideDates(doubt)}." : $"“{title}”: {Of(doubt)}";

    private static string OutsideDates(PlanDoubt doubt) =>
        $"is meant for {doubt.Date!.Value.InWords()} at the {(doubt.Code == DoubtCode.BeforeItsDates ? "earliest" : "latest")}";

    /// <summary>A state, as what follows “it is”.</summary>
    public static string Of(DeliveryState state) =>
        state switch
        {
            DeliveryState.WaitingForApproval => "waiting for approval",
            DeliveryState.Substitute => "a substitute",
            DeliveryState.MayHaveGoneOut => "one that may have gone out",
            DeliveryState.PostItYourself => "yours to post",
            _ => state.ToString().ToLowerInvariant(),
        };
}
