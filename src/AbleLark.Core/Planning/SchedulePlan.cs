using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What is scheduled now: which places become deliveries, and which have passed without.</summary>
/// <param name="Deliveries">New ones.</param>
/// <param name="Passed">Places that passed since the last look and sent nothing; some may be written down already.</param>
/// <param name="NextToPass">When the next of these places passes, if nothing comes for it.</param>
public sealed record SchedulePlan(IReadOnlyList<Delivery> Deliveries, IReadOnlyList<PassedPlace> Passed, Instant NextToPass)
{
    /// <summary>How many places were to send something, and can't.</summary>
    public int Empty { get; private init; }

    /// <param name="through">Last local date that is scheduled.</param>
    public static SchedulePlan Of(Workspace workspace, LineUpInput input, LocalDate through, Instant now)
    {
        Instant until = workspace.StartOf(through.PlusDays(1));
        IReadOnlyList<LineUpPlace> places = LineUp.Project(input, now, until, withSubstitutes: true);
        LineUpPlace[] empty = [.. places.Where(p => p.IsEmpty && CanBeMissed(p))];
        return new(
            [.. DeliveriesOf(workspace, places)],
            [.. PassedBy(workspace, input, now)],
            empty.Select(p => p.Occurrence.At).FirstOrDefault(until)
        )
        {
            Empty = empty.Length,
        };
    }

    /// <summary>The last local date whose places are scheduled by themselves.</summary>
    public static LocalDate Horizon(Workspace workspace, Instant now) => workspace.DateOf(now + workspace.ScheduleAhead);

    /// <summary>The deliveries that places become: one for each channel that has a post and no delivery yet, and its substitute.</summary>
    public static IEnumerable<Delivery> DeliveriesOf(Workspace workspace, IEnumerable<LineUpPlace> places) =>
        from place in places
        from pick in place.Picks
        where pick.PostId is not null && pick.Scheduled is null
        from delivery in Deliver(workspace, place, pick)
        select delivery;

    /// <summary>Empty places whose time came since the last look, and all of them after nothing was scheduled for long.</summary>
    private static IEnumerable<PassedPlace> PassedBy(Workspace workspace, LineUpInput input, Instant now)
    {
        // Only what was seen coming: a slot that is made today for an hour ago has missed nothing.
        if (workspace.NextToPass is not { } first || first > now)
            return [];
        return LineUp
            .Project(input, first, now)
            .Where(p => !p.IsScheduled && CanBeMissed(p))
            .Select(place => new PassedPlace
            {
                WorkspaceId = workspace.Id,
                Id = Id<PassedPlace>.New(),
                Origin = place.Occurrence.Origin,
                At = place.Occurrence.At,
                Local = place.Occurrence.At.InZone(workspace.Zone).LocalDateTime,
                Channels = [.. place.Occurrence.Slot.Channels],
                CategoryId = place.Occurrence.Slot.Source.InTurn(place.Occurrence.Number),
                Why = place.IsEmpty ? place.Reason : new(ReasonCode.PassedUnscheduled),
            });
    }

    /// <summary>True for places that were to send something: a slot kept free, a pause or a skip is nobody's miss.</summary>
    private static bool CanBeMissed(LineUpPlace place) =>
        place.State == PlaceState.Open
        && !place.Occurrence.Slot.Source.IsNone
        && place.Reason.Code is not (ReasonCode.NoChannel or ReasonCode.CategoryPaused);

    private static IEnumerable<Delivery> Deliver(Workspace workspace, LineUpPlace place, Pick pick)
    {
        yield return Deliver(workspace, place, pick, pick.IsWaiting ? DeliveryState.WaitingForApproval : DeliveryState.Planned);
        if (pick.Substitute is { } substitute)
            yield return Deliver(workspace, place, substitute, DeliveryState.Substitute);
    }

    private static Delivery Deliver(Workspace workspace, LineUpPlace place, Pick pick, DeliveryState state)
    {
        return new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<Delivery>.New(),
            PostId = pick.PostId!.Value,
            ChannelId = pick.ChannelId,
            Time = PlannedTime.Of(place.Occurrence.At, workspace.Zone),
            Origin = place.Occurrence.Origin,
            State = state,
            Why = pick.Reason with { AsSubstitute = state == DeliveryState.Substitute },
            DrawnBy = pick.DrawnBy?.Line,
            DrawnInOrder = pick.DrawnBy?.Order,
            Round = pick.DrawnBy?.Round,
            Wording = pick.Wording,
        };
    }
}
