using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Planning;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Planning;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.KeyDates;

/// <param name="Preview">True: nothing is changed; it is said what would be.</param>
/// <param name="Stay">True: all stay where they are, and are in step there from now on.</param>
public sealed record FollowRequest(bool Preview, bool Stay = false);

/// <param name="ChangeSetId">Null: nothing was changed.</param>
public sealed record FollowResult(IReadOnlyList<FollowMove> Moves, IReadOnlyList<FollowStay> Stays, Guid? ChangeSetId);

/// <summary>The key date that a delivery stands relative to.</summary>
/// <param name="KeyDateId">Null: none, from now on.</param>
/// <param name="Occurrence">Which coming of it.</param>
public sealed record TieEdit(Id<KeyDate>? KeyDateId, LocalDate? Occurrence);

/// <param name="Days">From the key date to the delivery; below nought: before it.</param>
/// <param name="Date">Where the key date stands now; null: it isn't there any more.</param>
public sealed record TieView(Id<KeyDate> KeyDateId, LocalDate Occurrence, string Title, int Days, LocalDate? Date);

/// <summary>A key date that deliveries to come haven't followed.</summary>
/// <param name="Stood">Where it stood, as they still have it; the earliest, of one that recurs.</param>
/// <param name="IsGone">Its calendar no longer has it.</param>
public sealed record MovedAway(Id<KeyDate> Id, string Title, int Deliveries, LocalDate Stood, bool IsGone);

/// <summary>What key dates ask of people now.</summary>
/// <param name="Live">What must be done by somebody, from yesterday to the day after tomorrow, and isn't done.</param>
public sealed record KeyDateNeeds(IReadOnlyList<KeyDateView> Live, IReadOnlyList<MovedAway> MovedAway);

/// <summary>Deliveries that stand relative to key dates.</summary>
public static class FollowEndpoints
{
    public static void MapFollowing(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/key-dates/needs", NeedsAsync).Needs(Right.Schedule);
        workspace.MapPost("/key-dates/{id}/follow", FollowAsync).Needs(Right.Schedule);
        workspace.MapGet("/deliveries/{id}/key-date", ShowTieAsync).Needs(Right.Schedule);
        workspace.MapPut("/deliveries/{id}/key-date", TieAsync).Needs(Right.Schedule);
    }

    private static async Task<KeyDateNeeds> NeedsAsync(
        Id<Workspace> workspaceId,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        KeyDateReader reader,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        LocalDate today = workspace.DateOf(await clock.NowAsync(cancellation));
        List<KeyDateView> near = await reader.ReadAsync(workspace, today.PlusDays(-1), today.PlusDays(2), http.Caller(), cancellation);
        List<KeyDateTie> ties = await db.TiesToCome(workspaceId).AsNoTracking().ToListAsync(cancellation);
        List<Id<KeyDate>> ids = [.. ties.Select(t => t.KeyDateId).Distinct()];
        List<KeyDate> tied = await db
            .KeyDates.AsNoTracking()
            .Where(d => d.WorkspaceId == workspaceId && ids.Contains(d.Id))
            .ToListAsync(cancellation);
        ILookup<Id<KeyDate>, KeyDateTie> byDate = ties.ToLookup(t => t.KeyDateId);
        return new(
            [.. near.Where(k => k is { IsLive: true, IsDone: false })],
            [
                .. tied.Select(d => (Date: d, Away: byDate[d.Id].Where(t => d.At(t.Occurrence, workspace.Zone)?.Date != t.Stood).ToArray()))
                    .Where(m => m.Away.Length > 0)
                    .Select(m => new MovedAway(m.Date.Id, m.Date.Title, m.Away.Length, m.Away.Min(t => t.Stood), m.Date.IsGone))
                    .OrderBy(m => m.Title, StringComparer.Ordinal),
            ]
        );
    }

    private static async Task<FollowResult> FollowAsync(
        Id<Workspace> workspaceId,
        Id<KeyDate> id,
        FollowRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        Following following,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        KeyDate keyDate = await KeyDateEndpoints.FindAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        if (request.Preview)
        {
            var (would, wouldStay) = await following.FollowAsync(workspace, keyDate, request.Stay, now, cancellation);
            return new(would, wouldStay, null);
        }
        var act = db.BeginAct(workspaceId, http.Actor(), now, new(request.Stay ? ActCode.PostsStay : ActCode.PostsFollow, keyDate.Title));
        var (moves, stays) = await following.FollowAsync(workspace, keyDate, request.Stay, now, cancellation);
        if (moves.Count + stays.Count == 0)
            throw ProblemException.Conflict("Nothing stands relative to it that hasn’t followed already.");
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(moves, stays, act.Id.Value);
    }

    private static async Task<TieView?> ShowTieAsync(Id<Workspace> workspaceId, Id<Delivery> id, LarkDb db, CancellationToken cancellation)
    {
        Delivery delivery = await db.DeliveryToActAsync(workspaceId, id, null, cancellation);
        if (await db.TieOfAsync(workspaceId, id, cancellation) is not { } tie)
            return null;
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        return View(delivery, tie, await KeyDateEndpoints.FindAsync(workspaceId, tie.KeyDateId, db, cancellation), workspace);
    }

    /// <summary>Lets a delivery stand relative to a key date from now on, at the distance that it has.</summary>
    private static async Task<ActDone> TieAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        TieEdit edit,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        Delivery delivery = await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation);
        if (!delivery.MayMove())
            throw ProblemException.Conflict($"It can’t move any more, so it can’t follow: it is {PlanWords.Of(delivery.State)}.");
        KeyDateTie? before = await db.TieOfAsync(workspaceId, id, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        Data.Rows.ChangeSet act;
        if (edit.KeyDateId is not { } keyDateId)
        {
            act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.DeliveryParted));
            if (before is not null)
                db.KeyDateTies.Remove(before);
        }
        else
        {
            KeyDateComing coming =
                await db.ComingOfAsync(workspace, keyDateId, edit.Occurrence, cancellation)
                ?? throw ProblemException.NotFound("This key date, on that date");
            act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.DeliveryTied, coming.KeyDate.Title));
            db.Tie(delivery, coming, before);
        }
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(act.Id.Value);
    }

    private static TieView View(Delivery delivery, KeyDateTie tie, KeyDate keyDate, Workspace workspace) =>
        new(
            keyDate.Id,
            keyDate.Rule is null ? keyDate.Date : tie.Occurrence,
            keyDate.Title,
            Period.DaysBetween(tie.Stood, delivery.LocalDate),
            keyDate.At(tie.Occurrence, workspace.Zone)?.Date
        );
}
