using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>Which state may follow which, and what each means for the rotation.</summary>
public static class DeliveryStates
{
    public static bool MayBecome(this DeliveryState from, DeliveryState to) =>
        from switch
        {
            DeliveryState.Planned => to
                is DeliveryState.Sending
                    or DeliveryState.Missed
                    or DeliveryState.Cancelled
                    or DeliveryState.WaitingForApproval
                    or DeliveryState.PostItYourself,
            DeliveryState.WaitingForApproval => to is DeliveryState.Planned or DeliveryState.Missed or DeliveryState.Cancelled,
            DeliveryState.Substitute => to is DeliveryState.Planned or DeliveryState.Missed or DeliveryState.Cancelled,
            // Planned: given back before anything was tried. Missed: looked up and not there, but too late to go by itself.
            DeliveryState.Sending => to
                is DeliveryState.Sent
                    or DeliveryState.Refused
                    or DeliveryState.MayHaveGoneOut
                    or DeliveryState.Planned
                    or DeliveryState.PostItYourself
                    or DeliveryState.Missed,
            DeliveryState.MayHaveGoneOut => to is DeliveryState.Sent or DeliveryState.Refused,
            DeliveryState.PostItYourself => to is DeliveryState.Sent or DeliveryState.Cancelled,
            DeliveryState.Cancelled => to
                is DeliveryState.Planned
                    or DeliveryState.WaitingForApproval
                    or DeliveryState.Substitute
                    or DeliveryState.PostItYourself,
            _ => false,
        };

    /// <summary>What a person alone may decide of what may have gone out, and nothing does by itself: that it is sent again, or looked for
    /// once more; and of what is out in part, that the rest is sent.</summary>
    public static bool MayBecomeByPerson(this DeliveryState from, DeliveryState to) =>
        from switch
        {
            DeliveryState.MayHaveGoneOut => to is DeliveryState.Planned or DeliveryState.Sending,
            DeliveryState.Sent => to is DeliveryState.Sending,
            _ => false,
        };

    /// <summary>True for states that count as the post's turn on that channel.</summary>
    public static bool IsTurn(this DeliveryState state) =>
        state is not (DeliveryState.Refused or DeliveryState.Missed or DeliveryState.Cancelled);

    /// <summary>True for states that wait for a person.</summary>
    public static bool NeedsAPerson(this DeliveryState state) =>
        state is DeliveryState.Refused or DeliveryState.Missed or DeliveryState.MayHaveGoneOut or DeliveryState.PostItYourself;

    /// <summary>True for a scheduled place to come, which may be given to another post.</summary>
    public static bool MayBeTaken(this Delivery delivery, Instant now) =>
        delivery.OriginKind == OriginKind.Place
        && delivery.State is DeliveryState.Planned or DeliveryState.WaitingForApproval
        && delivery.At > now;

    /// <summary>True while nothing of it has been sent, so that its time may still change.</summary>
    public static bool MayMove(this Delivery delivery) =>
        delivery.State is DeliveryState.Planned or DeliveryState.WaitingForApproval or DeliveryState.Substitute;

    /// <summary>
    /// Why taking an act back may not bring this delivery to that state and time; null when it may. Nothing that was or is being sent
    /// changes, nothing comes back whose time has passed, and nothing for which another went out in its place.
    /// </summary>
    /// <param name="at">The time that it would have.</param>
    /// <param name="otherPost">True when it would send another post than now.</param>
    /// <param name="replaced">A delivery made instead of this one has gone out, may have, or is on its way.</param>
    public static string? WhyNotBack(this Delivery delivery, DeliveryState to, Instant at, Instant now, bool otherPost, bool replaced) =>
        delivery.State switch
        {
            DeliveryState.Sending
            or DeliveryState.Sent
            or DeliveryState.MayHaveGoneOut
            or DeliveryState.PostItYourself when to != delivery.State || at != delivery.At || otherPost => "What has been sent stays sent.",
            _ when replaced => "What went out in the place of another stays, so the other does not come back: it would go out twice.",
            _ when to.IsToCome() && at <= now =>
                "A delivery whose time has passed does not come back: it would go out late. Reschedule the post.",
            _ when to != delivery.State && !delivery.State.MayBecome(to) => "A delivery that has moved on stays as it is.",
            _ => null,
        };

    /// <summary>True for states that still end in a sending, unless somebody steps in.</summary>
    public static bool IsToCome(this DeliveryState state) =>
        state is DeliveryState.Planned or DeliveryState.WaitingForApproval or DeliveryState.Substitute or DeliveryState.Sending;
}
