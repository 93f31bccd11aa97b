using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>The line-up of one workspace as it is shown: what went out, goes out and would go out.</summary>
public sealed class LineUpViews(LarkDb db, BusinessClock clock, LineUpCache cache)
{
    /// <param name="mayPlan">True: each entry says what may be done with it.</param>
    public async Task<LineUpView> ReadAsync(
        Id<Workspace> workspaceId,
        LocalDate first,
        LocalDate last,
        bool mayPlan,
        CancellationToken cancellation
    )
    {
        (Workspace workspace, SharedLineUp lineUp) = await cache.GetAsync(workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        IReadOnlyList<LineUpPlace> places = lineUp.Project(now, workspace.StartOf(last.PlusDays(1)));
        List<ShownDelivery> shown = await DeliveriesAsync(workspace, first, last, cancellation);

        Dictionary<Id<Slot>, Id<Rota>> rotas = await db.RotasOfSlotsAsync(workspaceId, cancellation);
        FindingCounts findings = new(lineUp.Input);
        IReadOnlyDictionary<Id<Post>, LineUpPost> bank = findings.Bank;
        IEnumerable<LineUpEntry> deliveries = shown.Select(d =>
            Entry(d, d.Origin.SlotId is { } slot && rotas.TryGetValue(slot, out Id<Rota> rota) ? rota : null, mayPlan) with
            {
                Findings = d.State is DeliveryState.Planned or DeliveryState.WaitingForApproval ? findings.Of(d.PostId, d.ChannelId) : 0,
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
            select pick.PostId is { } post ? entry with { Findings = findings.Of(post, pick.ChannelId) } : entry;
        return new(
            now,
            workspace.DateOf(now),
            workspace.Zone.Id,
            workspace.ScheduledThrough,
            [.. deliveries.Concat(projected).OrderBy(e => e.At).ThenBy(e => e.Key, StringComparer.Ordinal)]
        );
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
        Reason? Why,
        bool IsRescheduled,
        string? Trouble,
        string? Address,
        bool DealtWith,
        int Revision,
        bool IsDown
    );

    private Task<List<ShownDelivery>> DeliveriesAsync(Workspace workspace, LocalDate first, LocalDate last, CancellationToken cancellation)
    {
        return (
            from d in db.ShownDeliveries(workspace, first, last)
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
                d.Revision,
                d.TakenDownAt != null
            )
        ).ToListAsync(cancellation);
    }

    private static string WhyOf(ShownDelivery d) =>
        d.Why?.Words ?? (d.IsRescheduled ? "Rescheduled by a person." : "Date and time set by a person.");

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
            d.Why?.Brief ?? WhyOf(d),
            d.Trouble,
            Delivery.Shown(d.Address),
            d.DealtWith,
            mayPlan ? EntryActs.Of(d.State, d.DealtWith, isSent: d.State == DeliveryState.Sent, isDown: d.IsDown) : [],
            rota,
            Revision: d.Revision,
            IsTakenDown: d.IsDown
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
            occurrence.Decision?.Note,
            Revision: occurrence.Decision?.Revision ?? 0
        );
    }
}

/// <summary>What several views of a plan read alike.</summary>
internal static class PlanReading
{
    /// <summary>Deliveries of a time, but for cancelled ones.</summary>
    public static IQueryable<Delivery> ShownDeliveries(this LarkDb db, Workspace workspace, LocalDate first, LocalDate last)
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
    public static Task<Dictionary<Id<Slot>, Id<Rota>>> RotasOfSlotsAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        CancellationToken cancellation
    ) =>
        // Of one that is put aside, too: what was scheduled from it stays.
        db
            .Slots.IgnoreQueryFilters()
            .Where(s => s.WorkspaceId == workspace)
            .Select(s => new { s.Id, s.RotaId })
            .ToDictionaryAsync(s => s.Id, s => s.RotaId, cancellation);
}
