using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

public enum EntryKind
{
    /// <summary>A delivery: scheduled from the rota, or at an exact time.</summary>
    Delivery,

    /// <summary>What the rota would send as things stand.</summary>
    Projected,

    /// <summary>A place on a channel with nothing to send.</summary>
    Empty,
}

/// <summary>Where a delivery comes from; see <see cref="Origin"/>.</summary>
/// <param name="Id">Of the slot, for a place of a rota.</param>
/// <param name="Date">Original local date.</param>
/// <param name="Time">Original local time; null for a place of a rota.</param>
public sealed record OriginView(OriginKind Kind, Guid Id, LocalDate Date, LocalTime? Time)
{
    public static OriginView Of(Origin origin) => new(origin.Kind, origin.Id, origin.Date, origin.Time);
}

/// <summary>One channel at one time: what goes out there, and why.</summary>
/// <param name="Key">The same from one fetch to the next.</param>
/// <param name="Date">Local date in the workspace's zone.</param>
/// <param name="RotaId">The rota whose slot it is; null for an exact time.</param>
/// <param name="Origin">Where it comes from; decisions about an occurrence stick to it.</param>
/// <param name="Brief"><paramref name="Why"/> in a short phrase.</param>
/// <param name="IsWaiting">True while its post waits for approval.</param>
/// <param name="IsGiven">True when a person gave the post to this place: booked it, or picked it.</param>
/// <param name="IsPicked">True when a person picked the post for this very place.</param>
/// <param name="IsMoved">True when a person moved the occurrence.</param>
/// <param name="May">What the person who asks may do with it.</param>
/// <param name="Revision">Of its delivery, or of what was decided about its place; give it back when you act on it.</param>
/// <param name="IsTakenDown">It went out, and is not on the network any more.</param>
/// <param name="Findings">How many findings stand against its post on the channel, of what is to come.</param>
public sealed record LineUpEntry(
    string Key,
    EntryKind Kind,
    Instant At,
    LocalDate Date,
    LocalTime Time,
    Id<Channel> ChannelId,
    Id<Category>? CategoryId,
    Id<Post>? PostId,
    string? Title,
    DeliveryState? State,
    Id<Delivery>? DeliveryId,
    OriginView Origin,
    string Why,
    string Brief,
    string? Trouble,
    string? Address,
    bool DealtWith,
    IReadOnlyList<EntryAct> May,
    Id<Rota>? RotaId = null,
    PlaceState PlaceState = PlaceState.Open,
    bool IsWaiting = false,
    bool IsGiven = false,
    bool IsPicked = false,
    bool IsMoved = false,
    string? Note = null,
    int? Revision = null,
    int Findings = 0,
    bool IsTakenDown = false
);

/// <param name="ScheduledThrough">Last local date that is scheduled as a whole.</param>
public sealed record LineUpView(Instant Now, LocalDate Today, string Zone, LocalDate? ScheduledThrough, IReadOnlyList<LineUpEntry> Entries);

/// <param name="Through">Last local date to schedule.</param>
/// <param name="PlanStamp">Of what was shown: refused when the plan has changed since. Null: it is scheduled as it is by now.</param>
public sealed record ScheduleRequest(LocalDate Through, long? PlanStamp = null);

/// <param name="Deliveries">Deliveries that were made, and are taken back with <paramref name="ChangeSetId"/>.</param>
public sealed record ScheduleResult(int Deliveries, Guid ChangeSetId);

/// <summary>What scheduling through a date would do.</summary>
/// <param name="PlanStamp">Give it back when scheduling.</param>
/// <param name="Places">Places that become deliveries.</param>
/// <param name="Deliveries">Of them, by channel, what stands in for others apart.</param>
/// <param name="Empty">Places that send nothing, since no post can go there.</param>
/// <param name="Waiting">Deliveries whose post waits for approval.</param>
public sealed record SchedulePreview(long PlanStamp, int Places, IReadOnlyList<ChannelCount> Deliveries, int Empty, int Waiting);

public sealed record ChannelCount(Id<Channel> ChannelId, int Count);

/// <summary>What goes out, went out and would go out, between two dates.</summary>
public static class LineUpEndpoints
{
    /// <summary>How far ahead a planner may schedule at once.</summary>
    private const int MostDays = 183;

    public static void MapLineUp(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/line-up", ShowAsync).Needs(Right.View);
        workspace.MapGet("/line-up/schedule", PreviewAsync).Needs(Right.Schedule);
        workspace.MapPost("/line-up/schedule", ScheduleAsync).Needs(Right.Schedule);
    }

    private static async Task<LineUpView> ShowAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        HttpContext http,
        LineUpViews views,
        CancellationToken cancellation
    )
    {
        (LocalDate first, LocalDate last) = (from.Value, to.Value);
        Inputs.Days(first, last, WorkspaceLimits.LineUpDays);
        return await views.ReadAsync(workspaceId, first, last, http.May(Right.Schedule), cancellation);
    }

    private static async Task<SchedulePreview> PreviewAsync(
        Id<Workspace> workspaceId,
        QueryDate through,
        BusinessClock clock,
        LineUpCache cache,
        CancellationToken cancellation
    )
    {
        (Workspace workspace, SharedLineUp lineUp) = await cache.GetAsync(workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        Check(workspace, through.Value, now);
        SchedulePlan plan = SchedulePlan.Of(workspace, lineUp.Input, through.Value, now);
        Delivery[] going = [.. plan.Deliveries.Where(d => d.State != DeliveryState.Substitute)];
        return new(
            workspace.PlanStamp,
            going.DistinctBy(d => d.Origin).Count(),
            [.. going.CountBy(d => d.ChannelId).Select(c => new ChannelCount(c.Key, c.Value)).OrderByDescending(c => c.Count)],
            plan.Empty,
            going.Count(d => d.State == DeliveryState.WaitingForApproval)
        );
    }

    private static async Task<ScheduleResult> ScheduleAsync(
        Id<Workspace> workspaceId,
        ScheduleRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        Scheduling scheduling,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        Check(workspace, request.Through, now);
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.Scheduled, request.Through));
        int made = await scheduling.ScheduleAsync(
            workspaceId,
            locked =>
                request.PlanStamp is { } shown && shown != locked.PlanStamp
                    ? throw ProblemException.Outdated(
                        "The plan has changed since this was shown. Look at it once more; nothing was scheduled."
                    )
                    : request.Through,
            now,
            cancellation
        );
        return new(made, act.Id.Value);
    }

    private static void Check(Workspace workspace, LocalDate through, Instant now)
    {
        LocalDate today = workspace.DateOf(now);
        if (through < today || through > today.PlusDays(MostDays))
            throw ProblemException.BadInput("Choose a last date between today and half a year from now.");
    }
}
