using AbleLark.Core.Deliveries;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>The one place that puts what an act can't do, and what speaks against it, into words.</summary>
public static class PlanWords
{
    /// <summary>Why it stays, as what follows a colon.</summary>
    /// <param name="title">The post's.</param>
    public static string Why(PlanStay stay, string title) =>
        stay.Code switch
        {
            StayCode.State => $"it is {Of(stay.State!.Value)}.",
            StayCode.Disconnected => "the channel is disconnected.",
            StayCode.Time => stay.Detail!,
            StayCode.Taken => "the post already goes out there at that time.",
            StayCode.NotReady => $"“{title}” is not ready.",
            StayCode.DoesNotFit => stay.Detail ?? "the post was never checked for it.",
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
