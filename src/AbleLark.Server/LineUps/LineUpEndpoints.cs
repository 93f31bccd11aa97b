using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
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
/// <param name="Revision">Of its delivery; give it back in If-Match when you act on it.</param>
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
    int Findings = 0
);

/// <param name="ScheduledThrough">Last local date that is scheduled as a whole.</param>
public sealed record LineUpView(Instant Now, LocalDate Today, string Zone, LocalDate? ScheduledThrough, IReadOnlyList<LineUpEntry> Entries);

/// <param name="Through">Last local date to schedule.</param>
public sealed record ScheduleRequest(LocalDate Through);

/// <param name="Deliveries">Deliveries that were made.</param>
public sealed record ScheduleResult(int Deliveries);

/// <summary>What goes out, went out and would go out, between two dates.</summary>
public static class LineUpEndpoints
{
    /// <summary>How far ahead a planner may schedule at once.</summary>
    private const int MostDays = 183;

    public static void MapLineUp(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/line-up", ShowAsync).Needs(Right.View);
        workspace.MapPost("/line-up/schedule", ScheduleAsync).Needs(Right.Schedule);
    }

    private static async Task<LineUpView> ShowAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        LineUpCache cache,
        CancellationToken cancellation
    )
    {
        (LocalDate first, LocalDate last) = (from.Value, to.Value);
        if (last < first)
            throw ProblemException.BadInput("The last date lies before the first. Swap them.");
        if (NodaTime.Period.DaysBetween(first, last) >= WorkspaceLimits.LineUpDays)
            throw ProblemException.BadInput($"{WorkspaceLimits.LineUpDays} days is the most at once. Ask for a shorter time.");
        (Workspace workspace, SharedLineUp lineUp) = await cache.GetAsync(workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        IReadOnlyList<LineUpPlace> places = lineUp.Project(now, workspace.StartOf(last.PlusDays(1)));
        List<ShownDelivery> shown = await DeliveriesAsync(db, workspace, first, last, cancellation);

        Dictionary<Id<Slot>, Id<Rota>> rotas = await db.RotasOfSlotsAsync(workspaceId, cancellation);
        bool mayPlan = http.Role().May(Right.Schedule);
        Dictionary<Id<Post>, LineUpPost> bank = lineUp.Input.Bank.ToDictionary(p => p.Id);
        Dictionary<Id<Channel>, Channel> channels = lineUp.Input.Channels.ToDictionary(c => c.Id);
        IEnumerable<LineUpEntry> deliveries = shown.Select(d =>
            Entry(d, d.Origin.SlotId is { } slot ? rotas[slot] : null, mayPlan) with
            {
                Findings = d.State is DeliveryState.Planned or DeliveryState.WaitingForApproval ? FindingsOf(d.PostId, d.ChannelId) : 0,
            }
        );
        IEnumerable<LineUpEntry> projected =
            from place in places
            from pick in place.Picks
            where pick.Scheduled is null || pick.Scheduled.State == DeliveryState.Cancelled
            let entry = Entry(
                workspace,
                place,
                pick,
                pick.PostId is { } id ? bank[id] : null,
                Runways.CategoryOf(place.Occurrence, pick, bank),
                mayPlan
            )
            where entry.Date >= first
            select pick.PostId is { } post ? entry with { Findings = FindingsOf(post, pick.ChannelId) } : entry;
        return new(
            now,
            workspace.DateOf(now),
            workspace.Zone.Id,
            workspace.ScheduledThrough,
            [.. deliveries.Concat(projected).OrderBy(e => e.At).ThenBy(e => e.Key, StringComparer.Ordinal)]
        );

        int FindingsOf(Id<Post> post, Id<Channel> channel) =>
            bank.TryGetValue(post, out LineUpPost? found) && channels.TryGetValue(channel, out Channel? on)
                ? found.FitOn(on)?.Findings.Count ?? 0
                : 0;
    }

    /// <summary>What is shown of a delivery.</summary>
    private sealed record ShownDelivery(
        Id<Delivery> Id,
        Instant At,
        LocalDate Date,
        LocalTime Time,
        Id<Channel> ChannelId,
        Id<Post> PostId,
        string Title,
        Id<Category> CategoryId,
        DeliveryState State,
        Origin Origin,
        string? Why,
        bool IsRescheduled,
        string? Trouble,
        string? Address,
        bool DealtWith,
        int Revision
    );

    private static Task<List<ShownDelivery>> DeliveriesAsync(
        LarkDb db,
        Workspace workspace,
        LocalDate first,
        LocalDate last,
        CancellationToken cancellation
    )
    {
        return (
            from d in Shown(db, workspace, first, last)
            join post in db.Posts on new { d.WorkspaceId, d.PostId } equals new { post.WorkspaceId, PostId = post.Id }
            select new ShownDelivery(
                d.Id,
                d.At,
                d.LocalDate,
                d.LocalTime,
                d.ChannelId,
                d.PostId,
                post.Title,
                post.CategoryId,
                d.State,
                new Origin(d.OriginKind, d.OriginId, d.OriginDate, d.OriginTime),
                d.Why,
                d.InsteadOf != null,
                d.Trouble,
                d.Address,
                d.DealtWith,
                d.Revision
            )
        ).ToListAsync(cancellation);
    }

    /// <summary>Deliveries of a time, but for cancelled ones.</summary>
    internal static IQueryable<Delivery> Shown(LarkDb db, Workspace workspace, LocalDate first, LocalDate last)
    {
        // By instant for the index; a day more on each side, should the workspace have moved to another zone.
        (Instant begin, Instant end) = (workspace.StartOf(first.PlusDays(-1)), workspace.StartOf(last.PlusDays(2)));
        return db.Deliveries.Where(d =>
            d.WorkspaceId == workspace.Id
            && d.At >= begin
            && d.At < end
            && d.LocalDate >= first
            && d.LocalDate <= last
            && d.State != DeliveryState.Cancelled
        );
    }

    /// <summary>To which rota each slot belongs; ended ones too, whose deliveries stay.</summary>
    internal static Task<Dictionary<Id<Slot>, Id<Rota>>> RotasOfSlotsAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        CancellationToken cancellation
    ) =>
        db
            .Slots.Where(s => s.WorkspaceId == workspace)
            .Select(s => new { s.Id, s.RotaId })
            .ToDictionaryAsync(s => s.Id, s => s.RotaId, cancellation);

    private static string WhyOf(ShownDelivery d) =>
        d.Why ?? (d.IsRescheduled ? "Rescheduled by a person." : "Date and time set by a person.");

    private static LineUpEntry Entry(ShownDelivery d, Id<Rota>? rota, bool mayPlan) =>
        new(
            d.Id.ToString(),
            EntryKind.Delivery,
            d.At,
            d.Date,
            d.Time,
            d.ChannelId,
            d.CategoryId,
            d.PostId,
            d.Title,
            d.State,
            d.Id,
            OriginView.Of(d.Origin),
            WhyOf(d),
            ReasonWords.Brief(WhyOf(d)),
            d.Trouble,
            Delivery.Shown(d.Address),
            d.DealtWith,
            mayPlan ? EntryActs.Of(d.State, d.DealtWith, isSent: d.State == DeliveryState.Sent) : [],
            rota,
            Revision: d.Revision
        );

    private static LineUpEntry Entry(
        Workspace workspace,
        LineUpPlace place,
        Pick pick,
        LineUpPost? post,
        Id<Category>? category,
        bool mayPlan
    )
    {
        Occurrence occurrence = place.Occurrence;
        LocalDateTime local = occurrence.At.InZone(workspace.Zone).LocalDateTime;
        return new(
            $"{occurrence.Origin.Id}:{occurrence.Origin.Date:uuuu-MM-dd}:{pick.ChannelId}",
            post is null ? EntryKind.Empty : EntryKind.Projected,
            occurrence.At,
            local.Date,
            local.TimeOfDay,
            pick.ChannelId,
            category,
            pick.PostId,
            post?.Title,
            null,
            null,
            OriginView.Of(occurrence.Origin),
            pick.Reason.Words,
            pick.Reason.Brief,
            null,
            null,
            false,
            mayPlan ? EntryActs.Of(place, pick) : [],
            occurrence.Rota.Id,
            place.State,
            pick.IsWaiting,
            pick.IsGiven,
            pick.Reason.Code == ReasonCode.Picked,
            occurrence.Decision?.MovedTo is not null,
            occurrence.Decision?.Note
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
        LocalDate today = workspace.DateOf(now);
        if (request.Through < today || request.Through > today.PlusDays(MostDays))
            throw ProblemException.BadInput("Choose a last date between today and half a year from now.");
        db.BeginAct(
            workspaceId,
            http.PersonId(),
            now,
            $"Scheduled everything through {request.Through.ToString("d MMM yyyy", System.Globalization.CultureInfo.InvariantCulture)}"
        );
        return new(await scheduling.ScheduleAsync(workspaceId, _ => request.Through, now, cancellation));
    }
}
