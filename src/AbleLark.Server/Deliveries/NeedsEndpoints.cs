using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Damage;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Deliveries;

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
/// <param name="SlotId">The slot of which single places can't be scheduled; null: it is no slot.</param>
/// <param name="Since">Machine time.</param>
/// <param name="RetryAt">When it is tried next, by machine time.</param>
/// <param name="Count">Failures in a row.</param>
public sealed record PutAsideView(
    WorkKind Work,
    Id<Channel>? ChannelId,
    Id<Slot>? SlotId,
    Instant Since,
    Instant RetryAt,
    int Count,
    string Words
);

/// <summary>A row that can't be read, or holds what nothing can be worked out from.</summary>
/// <param name="FoundAt">Machine time.</param>
public sealed record DamagedRowView(string Table, Guid Id, string Field, string Words, Instant FoundAt);

/// <param name="Rows">The first of them.</param>
/// <param name="Belonging">How many others are left out since they belong to one of them.</param>
public sealed record DamagedView(IReadOnlyList<DamagedRowView> Rows, int Total, int Belonging);

public sealed record DismissPassedRequest(IReadOnlyList<Id<PassedPlace>> Ids);

/// <summary>What waits for a person, as Today lists it.</summary>
public static class NeedsEndpoints
{
    private static readonly DeliveryState[] Waiting = [.. Enum.GetValues<DeliveryState>().Where(s => s.NeedsAPerson())];
    private static readonly Duration PassedShown = Duration.FromDays(14);

    public static void MapNeeds(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/needs", NeedsAsync).Needs(Right.View);
        workspace.MapGet("/needs/passed", PassedAsync).Needs(Right.View);
        workspace.MapPost("/needs/passed/dismiss", DismissPassedAsync).Needs(Right.Schedule);
        workspace.MapGet("/needs/put-aside", PutAsideAsync).Needs(Right.View);
        workspace.MapGet("/needs/damaged", DamagedAsync).Needs(Right.SetUp);
    }

    /// <summary>Rows that can't be read and are left out of everything; those that belong to them are counted alone.</summary>
    private static async Task<DamagedView> DamagedAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation)
    {
        List<DamagedRow> rows = await db
            .DamagedRows.AsNoTracking()
            .Where(d => d.WorkspaceId == workspaceId)
            .OrderBy(d => d.FoundAt)
            .ThenBy(d => d.Kind)
            .ToListAsync(cancellation);
        List<DamagedRow> own = [.. rows.Where(r => !r.IsBelonging)];
        return new(
            [.. own.Take(MostDamaged).Select(r => new DamagedRowView(r.Table, r.RowId, r.Field, r.Words, r.FoundAt))],
            own.Count,
            rows.Count - own.Count
        );
    }

    private const int MostDamaged = 20;

    /// <summary>Deliveries that wait for a person, of any workspace.</summary>
    internal static IQueryable<Delivery> NeedingSomebody(this LarkDb db) =>
        db.Deliveries.Where(d => !d.DealtWith && (Waiting.Contains(d.State) || (d.State == DeliveryState.Sent && d.Trouble != null)));

    private static Task<List<NeedView>> NeedsAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        db.NeedingSomebody()
            .Where(d => d.WorkspaceId == workspaceId)
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
            .Where(f => f.WorkspaceId == workspaceId)
            .Where(Backoff.IsShown)
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
                .Where(f => f.Subject == workspaceId.Value || channels.Contains(f.Subject) || f.Work == WorkKind.Scheduling)
                .Select(f => new PutAsideView(
                    f.Work,
                    channels.Contains(f.Subject) ? new(f.Subject) : null,
                    f.Work == WorkKind.Scheduling && f.Subject != workspaceId.Value ? new(f.Subject) : null,
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
        List<PassedPlace> passed = await db
            .PassedPlaces.AsNoTracking()
            .Where(p => p.WorkspaceId == workspaceId && !p.DealtWith && p.At > since)
            .OrderByDescending(p => p.At)
            .Take(200)
            .ToListAsync(cancellation);
        return [.. passed.Select(p => new PassedView(p.Id, p.Local, p.CategoryId, p.Channels, p.Why.Words))];
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
        var act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.PassedDismissed, places.Count));
        foreach (PassedPlace place in places)
            place.DealtWith = true;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }
}
