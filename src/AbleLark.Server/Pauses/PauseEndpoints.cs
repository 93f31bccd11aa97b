using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Pauses;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Pauses;

public sealed record PauseView(Id<Pause> Id, Paused What, Guid Target, LocalDate From, LocalDate? To);

/// <param name="Target">Identity of the slot, category or channel; null for the workspace.</param>
/// <param name="From">Null: today.</param>
/// <param name="To">Last day of the pause; null: until somebody ends it.</param>
public sealed record PauseRequest(Paused What, Guid? Target = null, LocalDate? From = null, LocalDate? To = null);

/// <summary>Pausing a slot, a category, a channel, or all sending.</summary>
public static class PauseEndpoints
{
    public static void MapPauses(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/pauses", ListAsync).Needs(Right.View);
        workspace.MapPost("/pauses", AddAsync).Needs(Right.SetUp);
        workspace.MapDelete("/pauses/{id}", EndAsync).Needs(Right.SetUp);
    }

    private static async Task<List<PauseView>> ListAsync(
        Id<Workspace> workspaceId,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        LocalDate today = await TodayAsync(workspaceId, db, clock, cancellation);
        return await db
            .Pauses.Where(p => p.WorkspaceId == workspaceId && (p.To == null || p.To >= today))
            .OrderBy(p => p.From)
            .ThenBy(p => p.Id)
            .Select(p => new PauseView(p.Id, p.What, p.Target, p.From, p.To))
            .ToListAsync(cancellation);
    }

    private static async Task<PauseView> AddAsync(
        Id<Workspace> workspaceId,
        PauseRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        LocalDate today = await TodayAsync(workspaceId, db, clock, cancellation);
        LocalDate from = request.From ?? today;
        if (from < today)
            throw ProblemException.BadInput("A pause begins today at the earliest.");
        if (request.To < from)
            throw ProblemException.BadInput("The pause ends before it begins. Swap the dates.");
        Guid target =
            request.What == Paused.Workspace
                ? workspaceId.Value
                : request.Target ?? throw ProblemException.BadInput("Say what is to rest.");
        string name =
            await NameAsync(workspaceId, request.What, target, db, cancellation) ?? throw ProblemException.NotFound("What is to rest");
        if (
            await db.Pauses.AnyAsync(
                p => p.WorkspaceId == workspaceId && p.What == request.What && p.Target == target && (p.To == null || p.To >= from),
                cancellation
            )
        )
            throw ProblemException.Conflict($"{name} is paused already, or is going to be. End that pause first.");
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.Paused, name));
        Pause pause = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<Pause>.New(),
            What = request.What,
            Target = target,
            From = from,
            To = request.To,
        };
        db.Pauses.Add(pause);
        await db.SaveChangesAsync(cancellation);
        return new(pause.Id, pause.What, pause.Target, pause.From, pause.To);
    }

    private static async Task<ActDone> EndAsync(
        Id<Workspace> workspaceId,
        Id<Pause> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Pause pause =
            await db.Pauses.SingleOrDefaultAsync(p => p.WorkspaceId == workspaceId && p.Id == id, cancellation)
            ?? throw ProblemException.NotFound("This pause");
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.PauseEnded));
        db.Pauses.Remove(pause);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<string?> NameAsync(
        Id<Workspace> workspace,
        Paused what,
        Guid target,
        LarkDb db,
        CancellationToken cancellation
    ) =>
        what switch
        {
            Paused.Slot => await db
                .Slots.Where(s => s.WorkspaceId == workspace && s.Id == new Id<Core.Rotas.Slot>(target) && s.RemovedAt == null)
                .Select(s => "The slot")
                .FirstOrDefaultAsync(cancellation),
            Paused.Category => await db
                .Categories.Where(c => c.WorkspaceId == workspace && c.Id == new Id<Core.Categories.Category>(target))
                .Select(c => c.Name)
                .FirstOrDefaultAsync(cancellation),
            Paused.Channel => await db
                .Channels.Where(c => c.WorkspaceId == workspace && c.Id == new Id<Core.Channels.Channel>(target))
                .Select(c => c.Name)
                .FirstOrDefaultAsync(cancellation),
            _ => "Everything",
        };

    private static async Task<LocalDate> TodayAsync(Id<Workspace> id, LarkDb db, BusinessClock clock, CancellationToken cancellation) =>
        (await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == id, cancellation)).DateOf(await clock.NowAsync(cancellation));
}
