using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Data.History;
using AbleLark.Data.Work;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Deliveries;

/// <param name="End">Null: nothing is known of how it ended.</param>
/// <param name="LookUps">Times it was looked for on the network and not found.</param>
public sealed record AttemptView(string Step, Instant StartedAt, Instant? EndedAt, AttemptEnd? End, string? Reason, int LookUps);

/// <param name="Sent">What was sent, frozen at that moment.</param>
/// <param name="Revision">Give it back in If-Match when you act on it: whoever looked at an older one is told.</param>
/// <param name="Figures">The latest reading; null before the first.</param>
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
    ResolvedContent? Sent,
    SentFacts? Facts,
    FigureSet? Figures,
    Instant? FiguresAt,
    IReadOnlyList<AttemptView> Attempts
);

/// <summary>One thing that waits for a person.</summary>
public sealed record NeedView(
    Id<Delivery> DeliveryId,
    Id<Post> PostId,
    string Title,
    Id<Channel> ChannelId,
    Instant At,
    LocalDate Date,
    LocalTime Time,
    DeliveryState State,
    string Trouble,
    int Revision
);

/// <summary>A place of the rota whose time passed with nothing sent.</summary>
/// <param name="At">In the workspace's zone.</param>
public sealed record PassedView(
    Id<PassedPlace> Id,
    LocalDateTime At,
    Id<Category>? CategoryId,
    IReadOnlyList<Id<Channel>> Channels,
    string Why
);

/// <summary>Something that background work fails on again and again, and leaves alone for a while in between.</summary>
/// <param name="ChannelId">The channel that it concerns; null: the whole workspace.</param>
/// <param name="Since">Machine time.</param>
/// <param name="RetryAt">When it is tried next, by machine time.</param>
/// <param name="Count">Failures in a row.</param>
public sealed record PutAsideView(WorkKind Work, Id<Channel>? ChannelId, Instant Since, Instant RetryAt, int Count, string Words);

public sealed record DismissPassedRequest(IReadOnlyList<Id<PassedPlace>> Ids);

public sealed record RescheduleRequest(LocalDate Date, LocalTime Time);

/// <summary>What a person found on the network about a delivery that may have gone out.</summary>
public enum Found
{
    /// <summary>It is there; say at which address.</summary>
    IsThere,

    /// <summary>It isn't; send it.</summary>
    IsNotThere,

    /// <summary>Have the network looked through once more; nothing is sent.</summary>
    LookAgain,
}

/// <param name="Address">The post's own address on the network, http or https; needed when it is there.</param>
public sealed record FoundRequest(Found Found, string? Address = null);

/// <param name="CategoryId">Under which the delivery counts in comparisons from now on.</param>
public sealed record CountUnderRequest(Id<Category> CategoryId);

public sealed record Rescheduled(Id<Delivery> DeliveryId, Guid ChangeSetId);

/// <summary>Single deliveries: looking at one, and what a person does when one failed.</summary>
public static class DeliveryEndpoints
{
    private static readonly Duration PassedShown = Duration.FromDays(14);
    private static readonly DeliveryState[] Waiting = [.. Enum.GetValues<DeliveryState>().Where(s => s.NeedsAPerson())];

    public static void MapDeliveries(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/needs", NeedsAsync).Needs(Right.View);
        workspace.MapGet("/needs/passed", PassedAsync).Needs(Right.View);
        workspace.MapPost("/needs/passed/dismiss", DismissPassedAsync).Needs(Right.Schedule);
        workspace.MapGet("/needs/put-aside", PutAsideAsync).Needs(Right.View);
        workspace.MapGet("/deliveries/{id}", ShowAsync).Needs(Right.View);
        workspace.MapPost("/deliveries/{id}/reschedule", RescheduleAsync).Needs(Right.Schedule);
        workspace.MapPost("/deliveries/{id}/found", FoundAsync).Needs(Right.Schedule);
        workspace.MapPost("/deliveries/{id}/category", CountUnderAsync).Needs(Right.Schedule);
        workspace.MapPost("/deliveries/{id}/dismiss", DismissAsync).Needs(Right.Schedule);
        workspace.MapPost("/deliveries/{id}/cancel", CancelAsync).Needs(Right.Schedule);
    }

    private static Task<List<NeedView>> NeedsAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        db
            .Deliveries.Where(d => d.WorkspaceId == workspaceId && Waiting.Contains(d.State) && !d.DealtWith)
            .Join(db.Posts, d => new { d.WorkspaceId, Id = d.PostId }, p => new { p.WorkspaceId, p.Id }, (d, p) => new { d, p.Title })
            .OrderByDescending(x => x.d.At)
            .Take(200)
            .Select(x => new NeedView(
                x.d.Id,
                x.d.PostId,
                x.Title,
                x.d.ChannelId,
                x.d.At,
                x.d.LocalDate,
                x.d.LocalTime,
                x.d.State,
                x.d.Trouble ?? "",
                x.d.Revision
            ))
            .ToListAsync(cancellation);

    /// <summary>What background work fails on again and again, the longest first.</summary>
    private static async Task<List<PutAsideView>> PutAsideAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation)
    {
        List<WorkFailure> failures = await db
            .WorkFailures.AsNoTracking()
            .Where(f => f.WorkspaceId == workspaceId && f.Count >= PutAside.ShownAfter)
            .OrderBy(f => f.FirstAt)
            .ToListAsync(cancellation);
        HashSet<Guid> channels =
        [
            .. await db.Channels.Where(c => c.WorkspaceId == workspaceId).Select(c => c.Id.Value).ToListAsync(cancellation),
        ];
        // A single delivery ends before long in a state of its own, which shows.
        return
        [
            .. failures
                .Where(f => f.Subject == workspaceId.Value || channels.Contains(f.Subject))
                .Select(f => new PutAsideView(
                    f.Work,
                    channels.Contains(f.Subject) ? new(f.Subject) : null,
                    f.FirstAt,
                    f.RetryAt,
                    f.Count,
                    f.Words
                )),
        ];
    }

    /// <summary>Places of the rota that were missed in the last two weeks, the latest first.</summary>
    private static async Task<List<PassedView>> PassedAsync(
        Id<Workspace> workspaceId,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Instant since = await clock.NowAsync(cancellation) - PassedShown;
        return await db
            .PassedPlaces.Where(p => p.WorkspaceId == workspaceId && !p.DealtWith && p.At > since)
            .OrderByDescending(p => p.At)
            .Take(200)
            .Select(p => new PassedView(p.Id, p.Local, p.CategoryId, p.Channels, p.Why))
            .ToListAsync(cancellation);
    }

    /// <summary>Says that nothing more is to be done about places that were missed.</summary>
    private static async Task<ActDone> DismissPassedAsync(
        Id<Workspace> workspaceId,
        DismissPassedRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        List<PassedPlace> places = await db
            .PassedPlaces.Where(p => p.WorkspaceId == workspaceId && request.Ids.Contains(p.Id) && !p.DealtWith)
            .ToListAsync(cancellation);
        if (places.Count == 0)
            throw ProblemException.Conflict("There is nothing to dismiss: these places have been dealt with.");
        var act = db.BeginAct(
            workspaceId,
            http.PersonId(),
            await clock.NowAsync(cancellation),
            places.Count == 1 ? "Dismissed a missed place" : $"Dismissed {places.Count} missed places"
        );
        foreach (PassedPlace place in places)
            place.DealtWith = true;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<DeliveryView> ShowAsync(Id<Workspace> workspaceId, Id<Delivery> id, LarkDb db, CancellationToken cancellation)
    {
        Delivery d = await FindAsync(workspaceId, id, db, cancellation);
        string title = await db
            .Posts.Where(p => p.WorkspaceId == workspaceId && p.Id == d.PostId)
            .Select(p => p.Title)
            .SingleAsync(cancellation);
        List<AttemptView> attempts = await db
            .DeliveryAttempts.Where(a => a.WorkspaceId == workspaceId && a.DeliveryId == id)
            .OrderBy(a => a.StartedAt)
            .Select(a => new AttemptView(a.Step, a.StartedAt, a.EndedAt, a.End, a.Reason, a.LookUps))
            .ToListAsync(cancellation);
        Reading? latest = await db
            .Readings.AsNoTracking()
            .Where(r => r.WorkspaceId == workspaceId && r.DeliveryId == id)
            .OrderByDescending(r => r.At)
            .FirstOrDefaultAsync(cancellation);
        return new(
            d.Id,
            d.PostId,
            title,
            d.ChannelId,
            d.SentAt ?? d.At,
            d.LocalDate,
            d.LocalTime,
            d.State,
            d.Why,
            d.Trouble,
            d.ShownAddress,
            d.DealtWith,
            d.Revision,
            d.Version,
            d.Sent,
            d.Facts,
            latest?.Figures,
            latest?.At,
            attempts
        );
    }

    /// <summary>Plans the same post on the same channel again: a new delivery with a key of its own, in place of this one.</summary>
    private static async Task<Rescheduled> RescheduleAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        RescheduleRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Delivery old = await FindToActAsync(workspaceId, id, ifMatch, db, cancellation);
        IReadOnlyList<EntryAct> may = EntryActs.Of(old);
        bool waiting = may.Contains(EntryAct.Reschedule);
        if (!waiting && !may.Contains(EntryAct.Move))
            throw ProblemException.Conflict($"This delivery can't be moved: it is {Words(old.State)}.");
        Workspace workspace = await db.Workspaces.SingleAsync(w => w.Id == workspaceId, cancellation);
        Post post = await PostEndpoints.FindAsync(workspaceId, old.PostId, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        Instant at = workspace.ComingInstant(request.Date, request.Time, now);
        if (
            await db.Deliveries.AnyAsync(
                d =>
                    d.WorkspaceId == workspaceId
                    && d.PostId == old.PostId
                    && d.ChannelId == old.ChannelId
                    && d.At == at
                    && d.State != DeliveryState.Cancelled,
                cancellation
            )
        )
            throw ProblemException.Conflict("The post already goes out there at that time. Choose another.");
        var act = db.BeginAct(workspaceId, http.PersonId(), now, "Rescheduled a delivery");
        if (waiting)
            old.DealtWith = true;
        else
            old.Become(DeliveryState.Cancelled);
        Delivery fresh = PostPlanning.New(workspace, old.PostId, old.ChannelId, at, old.Wording, old.Id);
        // What has no approval waits for it at its new time as well.
        fresh.WaitOrGo(
            post,
            await db
                .Channels.Where(c => c.WorkspaceId == workspaceId && c.Id == old.ChannelId)
                .Select(c => c.Network)
                .SingleAsync(cancellation)
        );
        db.Deliveries.Add(fresh);
        await db.SaveChangesAsync(cancellation);
        return new(fresh.Id, act.Id.Value);
    }

    /// <summary>
    /// A person says what they found about a delivery that may have gone out. Sent again, it goes under the same key where the network
    /// honours
    /// keys, and as a new delivery where it doesn't.
    /// </summary>
    private static async Task<ActDone> FoundAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        FoundRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await FindToActAsync(workspaceId, id, ifMatch, db, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.SayWhatWasFound))
            throw ProblemException.Conflict($"There is no doubt about this delivery: it is {Words(delivery.State)}.");
        Instant now = await clock.NowAsync(cancellation);
        List<DeliveryAttempt> attempts = await db
            .DeliveryAttempts.Where(a => a.WorkspaceId == workspaceId && a.DeliveryId == id)
            .OrderBy(a => a.StartedAt)
            .ToListAsync(cancellation);
        ChangeSet act;
        switch (request.Found)
        {
            case Found.IsThere:
                string address = (request.Address ?? "").Trim();
                if (!WebAddress.IsValid(address))
                    throw ProblemException.BadInput("Give the post's own address on the network, beginning with http:// or https://.");
                act = db.BeginAct(workspaceId, http.PersonId(), now, "Found a delivery on the network");
                delivery.Become(DeliveryState.Sent);
                (delivery.Address, delivery.SentAt, delivery.Trouble) = (address, attempts.LastOrDefault()?.Since ?? delivery.At, null);
                delivery.Facts = await FactsAsync(delivery, db, cancellation);
                break;
            case Found.LookAgain:
                act = db.BeginAct(workspaceId, http.PersonId(), now, "Had a delivery looked for again");
                delivery.LookAgain();
                delivery.LeaseUntil = Instant.FromUnixTimeSeconds(0);
                break;
            default:
                act = db.BeginAct(workspaceId, http.PersonId(), now, "Sent a delivery again that is not on the network");
                await SendAgainAsync(delivery, attempts, now, db, networks, cancellation);
                break;
        }
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<SentFacts> FactsAsync(Delivery delivery, LarkDb db, CancellationToken cancellation)
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == delivery.WorkspaceId, cancellation);
        Post post = await db
            .Posts.AsNoTracking()
            .SingleAsync(p => p.WorkspaceId == delivery.WorkspaceId && p.Id == delivery.PostId, cancellation);
        Channel channel = await db
            .Channels.AsNoTracking()
            .SingleAsync(c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId, cancellation);
        return SentFacts.Of(delivery, post, channel, delivery.SentAt!.Value, workspace.Zone);
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
        Delivery delivery = await FindToActAsync(workspaceId, id, ifMatch, db, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.CountUnder))
            throw ProblemException.Conflict($"Only what was sent counts under a category; this delivery is {Words(delivery.State)}.");
        string category =
            await db
                .Categories.Where(c => c.WorkspaceId == workspaceId && c.Id == request.CategoryId)
                .Select(c => c.Name)
                .SingleOrDefaultAsync(cancellation)
            ?? throw ProblemException.BadInput("This category isn't in the workspace. Choose another.");
        var act = db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), $"Counted a delivery under {category}");
        delivery.Facts = delivery.Facts! with { CategoryId = request.CategoryId };
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task SendAgainAsync(
        Delivery delivery,
        List<DeliveryAttempt> attempts,
        Instant now,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        Post post = await PostEndpoints.FindAsync(delivery.WorkspaceId, delivery.PostId, db, cancellation);
        if (post.Stage != Stage.Ready)
            throw ProblemException.Conflict($"“{post.Title}” is not ready. Mark it as ready, then send it again.");
        Workspace workspace = await db.Workspaces.SingleAsync(w => w.Id == delivery.WorkspaceId, cancellation);
        Channel channel = await db.Channels.SingleAsync(
            c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId,
            cancellation
        );
        foreach (DeliveryAttempt attempt in attempts.Where(a => a.IsOpen))
            (attempt.End, attempt.EndedAt, attempt.Reason) = (
                AttemptEnd.Absent,
                attempt.EndedAt ?? attempt.StartedAt,
                "A person looked, and it is not there."
            );
        if (networks.Has(channel.Network) && networks[channel.Network].Sending.HonoursKeys)
        {
            delivery.SendAgain(now, now.InZone(workspace.Zone).LocalDateTime);
            return;
        }
        delivery.Become(DeliveryState.Refused);
        (delivery.DealtWith, delivery.Trouble) = (
            true,
            "A person looked, and it is not there. It was sent again as a delivery of its own."
        );
        db.Deliveries.Add(PostPlanning.New(workspace, delivery.PostId, delivery.ChannelId, now, delivery.Wording, delivery.Id));
    }

    /// <summary>Says that nothing more is to be done about a failure; the post goes to the front of its line.</summary>
    private static async Task<ActDone> DismissAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await FindToActAsync(workspaceId, id, ifMatch, db, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.Dismiss))
            throw ProblemException.Conflict($"There is nothing to dismiss: this delivery is {Words(delivery.State)}.");
        var act = db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), "Dismissed a failure");
        delivery.DealtWith = true;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<ActDone> CancelAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await FindToActAsync(workspaceId, id, ifMatch, db, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.Cancel))
            throw ProblemException.Conflict($"This delivery can't be cancelled: it is {Words(delivery.State)}.");
        var act = db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), "Cancelled a delivery");
        delivery.Become(DeliveryState.Cancelled);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<Delivery> FindAsync(Id<Workspace> workspace, Id<Delivery> id, LarkDb db, CancellationToken cancellation) =>
        await db.Deliveries.FindAsync([workspace, id], cancellation) ?? throw ProblemException.NotFound("This delivery");

    /// <param name="ifMatch">The revision that the person looked at; without it, any.</param>
    private static async Task<Delivery> FindToActAsync(
        Id<Workspace> workspace,
        Id<Delivery> id,
        string? ifMatch,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await FindAsync(workspace, id, db, cancellation);
        if (ifMatch is null)
            return delivery;
        if (!int.TryParse(ifMatch.Trim('"'), out int revision))
            throw ProblemException.BadInput("Say in If-Match which revision of the delivery you looked at.");
        if (revision != delivery.Revision)
            throw ProblemException.Outdated(
                $"Somebody else changed this delivery since you looked at it: it is {Words(delivery.State)} now. Look again, then decide."
            );
        return delivery;
    }

    private static string Words(DeliveryState state) =>
        state switch
        {
            DeliveryState.WaitingForApproval => "waiting for approval",
            DeliveryState.Substitute => "a substitute",
            DeliveryState.MayHaveGoneOut => "one that may have gone out",
            DeliveryState.PostItYourself => "yours to post",
            _ => state.ToString().ToLowerInvariant(),
        };
}
