using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>Turns occurrences that come near into deliveries, which only a person changes.</summary>
public sealed class Scheduling(LarkDb db, LineUpReader reader)
{
    /// <summary>Schedules every occurrence whose date is not after the given one; returns how many deliveries came of it.</summary>
    public async Task<int> ScheduleAsync(Id<Workspace> id, Func<Workspace, LocalDate> through, Instant now, CancellationToken cancellation)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // One process at a time for each workspace: the others wait here, then find it scheduled.
        Workspace workspace = await db.LockWorkspaceAsync(id, cancellation);
        LocalDate last = through(workspace);
        Instant until = workspace.StartOf(last.PlusDays(1));
        LineUpInput input = await reader.ReadAsync(workspace, cancellation);
        await WritePassedAsync(workspace, input, now, cancellation);
        IReadOnlyList<LineUpPlace> places = LineUp.Project(input, now, until, withSubstitutes: true);
        Delivery[] scheduled =
        [
            .. from place in places
            from pick in place.Picks
            where pick.PostId is not null && pick.Scheduled is null
            from delivery in Deliver(workspace, place, pick)
            select delivery,
        ];
        db.Deliveries.AddRange(scheduled);
        workspace.NextToPass = places.Where(p => p.IsEmpty && CanBeMissed(p)).Select(p => p.Occurrence.At).FirstOrDefault(until);
        workspace.ScheduledStamp = workspace.PlanStamp;
        if (workspace.ScheduledThrough is null || workspace.ScheduledThrough < last)
            workspace.ScheduledThrough = last;
        await db.SaveChangesAsync(cancellation);
        // What was just scheduled is no reason to schedule again.
        if (scheduled.Length > 0)
            await db.Database.ExecuteSqlAsync($"update workspaces set scheduled_stamp = plan_stamp where id = {id.Value}", cancellation);
        await transaction.CommitAsync(cancellation);
        return scheduled.Length;
    }

    /// <summary>Writes down places whose time came since the last look and that were never scheduled: empty ones, and all of them after
    /// the server was down for long.</summary>
    private async Task WritePassedAsync(Workspace workspace, LineUpInput input, Instant now, CancellationToken cancellation)
    {
        // Only what was seen coming: a slot that is made today for an hour ago has missed nothing.
        if (workspace.NextToPass is not { } first || first > now)
            return;
        List<LineUpPlace> passed = [.. LineUp.Project(input, first, now).Where(p => !p.IsScheduled && CanBeMissed(p))];
        if (passed.Count == 0)
            return;
        // One whose slot was moved to later on the same day comes by again.
        List<LocalDate> dates = [.. passed.Select(p => p.Occurrence.Origin.Date).Distinct()];
        HashSet<Origin> known =
        [
            .. await db
                .PassedPlaces.Where(p => p.WorkspaceId == workspace.Id && dates.Contains(p.OriginDate))
                .Select(p => new Origin(p.OriginKind, p.OriginId, p.OriginDate, p.OriginTime))
                .ToListAsync(cancellation),
        ];
        db.PassedPlaces.AddRange(
            passed
                .Where(p => !known.Contains(p.Occurrence.Origin))
                .Select(place => new PassedPlace
                {
                    WorkspaceId = workspace.Id,
                    Id = Id<PassedPlace>.New(),
                    Origin = place.Occurrence.Origin,
                    At = place.Occurrence.At,
                    Local = place.Occurrence.At.InZone(workspace.Zone).LocalDateTime,
                    Channels = [.. place.Occurrence.Slot.Channels],
                    CategoryId = place.Occurrence.Slot is { IsPool: false, Categories: { Count: > 0 } of }
                        ? of[place.Occurrence.Number % of.Count]
                        : null,
                    Why = place.IsEmpty ? place.Reason.Words : "Its time passed before it was scheduled.",
                })
        );
    }

    /// <summary>True for places that were to send something: a slot kept free, a pause or a skip is nobody's miss.</summary>
    private static bool CanBeMissed(LineUpPlace place) =>
        place.State == PlaceState.Open
        && place.Occurrence.Slot.Categories.Count > 0
        && place.Reason.Code is not (ReasonCode.NoChannel or ReasonCode.CategoryPaused);

    public static LocalDate Horizon(Workspace workspace, Instant now) => workspace.DateOf(now + workspace.ScheduleAhead);

    private static IEnumerable<Delivery> Deliver(Workspace workspace, LineUpPlace place, Pick pick)
    {
        yield return Deliver(workspace, place, pick, pick.IsWaiting ? DeliveryState.WaitingForApproval : DeliveryState.Planned);
        if (pick.Substitute is { } substitute)
            yield return Deliver(workspace, place, substitute, DeliveryState.Substitute);
    }

    private static Delivery Deliver(Workspace workspace, LineUpPlace place, Pick pick, DeliveryState state)
    {
        LocalDateTime local = place.Occurrence.At.InZone(workspace.Zone).LocalDateTime;
        return new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<Delivery>.New(),
            PostId = pick.PostId!.Value,
            ChannelId = pick.ChannelId,
            At = place.Occurrence.At,
            LocalDate = local.Date,
            LocalTime = local.TimeOfDay,
            Origin = place.Occurrence.Origin,
            State = state,
            Why =
                state == DeliveryState.Substitute
                    ? $"Goes out if the post before it has no approval in time. {pick.Reason.Words}"
                    : pick.Reason.Words,
            DrawnBy = pick.DrawnBy?.Line,
            DrawnInOrder = pick.DrawnBy?.Order,
            Round = pick.DrawnBy?.Round,
            Wording = pick.Wording,
        };
    }
}
