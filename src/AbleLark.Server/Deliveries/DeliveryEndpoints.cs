using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Planning;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Deliveries;

/// <param name="End">Null: nothing is known of how it ended.</param>
/// <param name="LookUps">Times it was looked for on the network and not found.</param>
public sealed record AttemptView(string Step, Instant StartedAt, Instant? EndedAt, AttemptEnd? End, string? Reason, int LookUps);

/// <param name="Look">What was sent, frozen at that moment; before that what would be, as things stand. Null: its network is gone.</param>
/// <param name="Revision">Give it back in If-Match when you act on it: whoever looked at an older one is told.</param>
/// <param name="Lacking">What of it isn't out, though the post is; null: nothing.</param>
/// <param name="Figures">The latest reading; null before the first.</param>
/// <param name="TakenDownAt">Null: what was sent is there.</param>
/// <param name="TakesDown">Its network lets programs take it down.</param>
public sealed record DeliveryView(
    Id<Delivery> Id,
    Id<Post> PostId,
    string Title,
    Id<Channel> ChannelId,
    Instant At,
    LocalDate Date,
    LocalTime Time,
    DeliveryState State,
    string? Why,
    string? Trouble,
    string? Address,
    bool DealtWith,
    int Revision,
    int? Version,
    ResolvedContent? Look,
    LackingView? Lacking,
    SentFacts? Facts,
    FigureSet? Figures,
    Instant? FiguresAt,
    IReadOnlyList<AttemptView> Attempts,
    Instant? TakenDownAt,
    bool TakesDown
);

public sealed record RescheduleRequest(LocalDate Date, LocalTime Time);

/// <param name="CategoryId">Under which the delivery counts in comparisons from now on.</param>
public sealed record CountUnderRequest(Id<Category> CategoryId);

public sealed record Rescheduled(Id<Delivery> DeliveryId, Guid ChangeSetId);

/// <summary>Single deliveries: looking at one, and what a person does when one failed.</summary>
public static class DeliveryEndpoints
{
    public static void MapDeliveries(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/deliveries/{id}", ShowAsync).Needs(Right.View);
        workspace.MapPost("/deliveries/{id}/reschedule", RescheduleAsync).Needs(Right.Schedule);
        workspace.MapPost("/deliveries/{id}/category", CountUnderAsync).Needs(Right.Schedule);
        workspace.MapPost("/deliveries/{id}/dismiss", DismissAsync).Needs(Right.Schedule);
        workspace.MapPost("/deliveries/{id}/cancel", CancelAsync).Needs(Right.Schedule);
    }

    private static async Task<DeliveryView> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        LarkDb db,
        NetworkBook networks,
        StepsOf stepsOf,
        CancellationToken cancellation
    )
    {
        Delivery d = await db.DeliveryAsync(workspaceId, id, cancellation);
        Post post = await db.Posts.AsNoTracking().SingleAsync(p => p.WorkspaceId == workspaceId && p.Id == d.PostId, cancellation);
        List<AttemptView> attempts = await db
            .DeliveryAttempts.Where(a => a.WorkspaceId == workspaceId && a.DeliveryId == id)
            .OrderBy(a => a.StartedAt)
            .Select(a => new AttemptView(a.Step, a.StartedAt, a.EndedAt, a.End, a.Reason, a.LookUps))
            .ToListAsync(cancellation);
        SendingStep.Publish? lacking = await RestEndpoints.LackingAsync(d, db, networks, stepsOf, cancellation);
        Reading? latest = await db
            .Readings.AsNoTracking()
            .Where(r => r.WorkspaceId == workspaceId && r.DeliveryId == id)
            .OrderByDescending(r => r.At)
            .FirstOrDefaultAsync(cancellation);
        return new(
            d.Id,
            d.PostId,
            post.Title,
            d.ChannelId,
            d.SentAt ?? d.At,
            d.LocalDate,
            d.LocalTime,
            d.State,
            d.Why?.Words,
            d.Trouble,
            d.ShownAddress,
            d.DealtWith,
            d.Revision,
            d.Version,
            d.Sent ?? await WouldSendAsync(d, post, db, networks, cancellation),
            lacking is null ? null : new(lacking.Key, lacking.Fields.Get(ContentFields.Text) ?? ""),
            d.Facts,
            latest?.Figures,
            latest?.At,
            attempts,
            d.TakenDownAt,
            await TakeDownEndpoints.OffersAsync(d, db, networks, cancellation)
        );
    }

    private static async Task<ResolvedContent?> WouldSendAsync(
        Delivery delivery,
        Post post,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        Channel channel = await db
            .Channels.AsNoTracking()
            .SingleAsync(c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId, cancellation);
        if (!networks.Has(channel.Network))
            return null;
        ContentSources sources = await db.SourcesAsync(delivery.WorkspaceId, post.Content.AllFiles(), cancellation);
        return post.Content.For(new(networks.For(channel), channel.Id), delivery.Wording, sources: sources);
    }

    /// <summary>Gives what is still to come another time; plans what failed again, as a new delivery with a key of its own.</summary>
    private static async Task<Rescheduled> RescheduleAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        RescheduleRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        (PlanChange change, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (_, _) =>
                new(
                    new PlanAct.Reschedule(
                        await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation),
                        request.Date + request.Time
                    ),
                    new(ActCode.DeliveryRescheduled)
                ),
            cancellation
        );
        return new(change.Added is [{ Delivery: var fresh }] ? fresh.Id : id, act);
    }

    /// <summary>Counts what was sent under another category from now on. Moving its post does not: what was sent was sent as what it was
    /// then.</summary>
    private static async Task<ActDone> CountUnderAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        CountUnderRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.CountUnder))
            throw ProblemException.Conflict(
                $"Only what was sent counts under a category; this delivery is {PlanWords.Of(delivery.State)}."
            );
        string category =
            await db
                .Categories.Where(c => c.WorkspaceId == workspaceId && c.Id == request.CategoryId)
                .Select(c => c.Name)
                .SingleOrDefaultAsync(cancellation)
            ?? throw ProblemException.BadInput("This category isn't in the workspace. Choose another.");
        var act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.CountedUnder, category));
        delivery.Facts = delivery.Facts! with { CategoryId = request.CategoryId };
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>Says that nothing more is to be done about a failure; the post goes to the front of its line.</summary>
    private static async Task<ActDone> DismissAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        (_, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (_, _) =>
                new(
                    new PlanAct.Dismiss(await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation)),
                    new(ActCode.FailureDismissed)
                ),
            cancellation
        );
        return new(act);
    }

    private static async Task<ActDone> CancelAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        (_, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (_, _) =>
                new(
                    new PlanAct.Cancel([await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation)]),
                    new(ActCode.DeliveryCancelled)
                ),
            cancellation
        );
        return new(act);
    }
}
