using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Planning;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Rotas;

/// <summary>The workspace's recurring weeks and their slots.</summary>
public static class RotaEndpoints
{
    private const int MostRotas = 20;

    public static void MapRotas(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/rotas", ListAsync).Needs(Right.View);
        workspace.MapPost("/rotas", AddAsync).Needs(Right.SetUp).InTurn();
        workspace.MapPut("/rotas/{id}", SaveAsync).Needs(Right.SetUp).InTurn();
        workspace.MapPost("/rotas/{id}/consequences", ConsequencesAsync).Needs(Right.SetUp);
        workspace.MapDelete("/rotas/{id}", RemoveAsync).Needs(Right.SetUp);
        workspace.MapPost("/rotas/slots", AddSlotAsync).Needs(Right.SetUp).InTurn();
        workspace.MapDelete("/rotas/slots/{id}", RemoveSlotAsync).Needs(Right.SetUp);
    }

    private static async Task<List<RotaView>> ListAsync(
        Id<Workspace> workspaceId,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        RotaEdits edits = await EditsAsync(workspaceId, db, clock, cancellation);
        List<Rota> rotas = await db
            .Rotas.AsNoTracking()
            .Include(r => r.Slots.Where(s => s.RemovedAt == null))
            .Where(r => r.WorkspaceId == workspaceId && r.RemovedAt == null)
            .OrderBy(r => r.Rank)
            .ToListAsync(cancellation);
        return [.. rotas.Select(edits.View)];
    }

    private static async Task<RotaSaved> AddAsync(
        Id<Workspace> workspaceId,
        RotaEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        RotaEdits edits = await EditsAsync(workspaceId, db, clock, cancellation);
        await RoomAsync(workspaceId, null, edit.Slots.Count, db, cancellation);
        if (edits.Rotas.Count >= MostRotas)
            throw ProblemException.BadInput($"{MostRotas} rotas is the most in one workspace. Remove one that is over.");
        int rank = 1 + (await db.Rotas.Where(r => r.WorkspaceId == workspaceId).MaxAsync(r => (int?)r.Rank, cancellation) ?? 0);
        Rota rota = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<Rota>.New(),
            Name = "",
            Zone = edits.Workspace.Zone,
            Rank = rank,
        };
        edits.Fill(rota, edit);
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.RotaAdded, rota.Name));
        db.Rotas.Add(rota);
        rota.Slots.AddRange(edit.Slots.Select((s, i) => edits.NewSlot(rota.Id, s, i)));
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value, edits.View(rota), []);
    }

    /// <param name="rota">The rota that is to have so many; null: one more.</param>
    private static async Task RoomAsync(Id<Workspace> workspace, Id<Rota>? rota, int slots, LarkDb db, CancellationToken cancellation)
    {
        int others = await db.Slots.CountAsync(
            s =>
                s.WorkspaceId == workspace
                && s.RemovedAt == null
                && s.RotaId != rota
                && db.Rotas.Any(r => r.WorkspaceId == workspace && r.Id == s.RotaId && r.RemovedAt == null),
            cancellation
        );
        Inputs.Room(others, slots, WorkspaceLimits.Slots, "slots in its rotas");
    }

    /// <summary>Saves a rota with all its slots at once.</summary>
    private static async Task<RotaSaved> SaveAsync(
        Id<Workspace> workspaceId,
        Id<Rota> id,
        RotaEdit edit,
        HttpContext http,
        LarkDb db,
        PlanWriter writer,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Rota rota = await FindAsync(workspaceId, id, db, cancellation);
        if (edit.Version is null)
            throw ProblemException.BadInput("Say in `version` which version of the rota you changed.");
        if (edit.Version != rota.Version)
            throw ProblemException.Outdated(
                "Somebody else changed this rota since you opened it. Your changes are still with you: look at theirs, then apply yours "
                    + "again."
            );
        await RoomAsync(workspaceId, id, edit.Slots.Count, db, cancellation);
        (RotaEdits edits, RotaChange change) = await ChangeAsync(workspaceId, rota, edit, db, clock, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.RotaChanged, rota.Name));
        edits.Fill(rota, edit);
        List<string> orphans = await change.WriteAsync(db, writer, edits, rota, edit, now, cancellation);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value, edits.View(rota), orphans);
    }

    /// <summary>What saving a rota would do to decisions and to what is scheduled: to be answered before it is done.</summary>
    private static async Task<RotaConsequences> ConsequencesAsync(
        Id<Workspace> workspaceId,
        Id<Rota> id,
        RotaEdit edit,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    ) =>
        (await ChangeAsync(workspaceId, await FindAsync(workspaceId, id, db, cancellation), edit, db, clock, cancellation))
            .Change
            .Consequences;

    private static async Task<(RotaEdits Edits, RotaChange Change)> ChangeAsync(
        Id<Workspace> workspaceId,
        Rota rota,
        RotaEdit edit,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        RotaEdits.CheckNamedOnce(edit);
        if (edit.Slots.Any(e => e.Id is { } wanted && rota.Slots.All(s => s.Id != wanted)))
            throw ProblemException.BadInput("One of the slots isn't in this rota any more. Fetch the rota again.");
        RotaEdits edits = await EditsAsync(workspaceId, db, clock, cancellation);
        return (edits, await RotaChange.ReadAsync(db, edits, rota, edit, await clock.NowAsync(cancellation), cancellation));
    }

    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId,
        Id<Rota> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Rota rota = await FindAsync(workspaceId, id, db, cancellation);
        if (await db.Rotas.CountAsync(r => r.WorkspaceId == workspaceId && r.RemovedAt == null, cancellation) == 1)
            throw ProblemException.Conflict("This is the only rota. Take its slots out instead.");
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.RotaRemoved, rota.Name));
        rota.RemovedAt = now;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>Adds a slot to the first rota.</summary>
    private static async Task<SlotView> AddSlotAsync(
        Id<Workspace> workspaceId,
        SlotEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        await RoomAsync(workspaceId, null, 1, db, cancellation);
        RotaEdits edits = await EditsAsync(workspaceId, db, clock, cancellation);
        Rota rota = await db
            .Rotas.Include(r => r.Slots)
            .Where(r => r.WorkspaceId == workspaceId && r.RemovedAt == null)
            .OrderBy(r => r.Rank)
            .FirstAsync(cancellation);
        Slot slot = edits.NewSlot(rota.Id, edit, 1 + (rota.Slots.Count == 0 ? 0 : rota.Slots.Max(s => s.Position)));
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.SlotAdded, slot.Time));
        db.Slots.Add(slot);
        rota.Version++;
        await db.SaveChangesAsync(cancellation);
        return edits.View(rota, slot);
    }

    /// <summary>Ends the slot. What has been scheduled from it stays.</summary>
    private static async Task<ActDone> RemoveSlotAsync(
        Id<Workspace> workspaceId,
        Id<Slot> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        (Rota rota, Slot slot) = await FindSlotAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.SlotRemoved, slot.Time));
        slot.RemovedAt = now;
        rota.Version++;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<RotaEdits> EditsAsync(Id<Workspace> id, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == id, cancellation);
        return await RotaEdits.ReadAsync(db, workspace, workspace.DateOf(await clock.NowAsync(cancellation)), cancellation);
    }

    private static async Task<Rota> FindAsync(Id<Workspace> workspace, Id<Rota> id, LarkDb db, CancellationToken cancellation) =>
        await db
            .Rotas.Include(r => r.Slots)
            .SingleOrDefaultAsync(r => r.WorkspaceId == workspace && r.Id == id && r.RemovedAt == null, cancellation)
        ?? throw ProblemException.NotFound("This rota");

    private static async Task<(Rota Rota, Slot Slot)> FindSlotAsync(
        Id<Workspace> workspace,
        Id<Slot> id,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        Slot slot =
            await db.Slots.SingleOrDefaultAsync(s => s.WorkspaceId == workspace && s.Id == id && s.RemovedAt == null, cancellation)
            ?? throw ProblemException.NotFound("This slot");
        return (
            await db.Rotas.Include(r => r.Slots).SingleAsync(r => r.WorkspaceId == workspace && r.Id == slot.RotaId, cancellation),
            slot
        );
    }
}
