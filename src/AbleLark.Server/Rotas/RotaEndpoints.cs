using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Sessions;
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
        workspace.MapGet("/rotas", ListAsync);
        workspace.MapPost("/rotas", AddAsync);
        workspace.MapPut("/rotas/{id}", SaveAsync);
        workspace.MapDelete("/rotas/{id}", RemoveAsync);
        workspace.MapPost("/rotas/slots", AddSlotAsync);
        workspace.MapPut("/rotas/slots/{id}", EditSlotAsync);
        workspace.MapDelete("/rotas/slots/{id}", RemoveSlotAsync);
    }

    private static async Task<List<RotaView>> ListAsync(Id<Workspace> workspaceId, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        RotaEdits edits = await EditsAsync(workspaceId, db, clock, cancellation);
        List<Rota> rotas = await db.Rotas.AsNoTracking().Include(r => r.Slots.Where(s => s.RemovedAt == null))
            .Where(r => r.WorkspaceId == workspaceId && r.RemovedAt == null).OrderBy(r => r.Rank).ToListAsync(cancellation);
        return [.. rotas.Select(edits.View)];
    }

    private static async Task<RotaSaved> AddAsync(Id<Workspace> workspaceId, RotaEdit edit, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        RotaEdits edits = await EditsAsync(workspaceId, db, clock, cancellation);
        if (edits.Rotas.Count >= MostRotas) throw ProblemException.BadInput($"{MostRotas} rotas is the most in one workspace. Remove one that is over.");
        int rank = 1 + (await db.Rotas.Where(r => r.WorkspaceId == workspaceId).MaxAsync(r => (int?)r.Rank, cancellation) ?? 0);
        Rota rota = new() { WorkspaceId = workspaceId, Id = Id<Rota>.New(), Name = "", Zone = edits.Workspace.Zone, Rank = rank };
        edits.Fill(rota, edit);
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), $"Added the rota {rota.Name}");
        db.Rotas.Add(rota);
        for (int i = 0; i < edit.Slots.Count; i++)
        {
            Slot slot = edits.NewSlot(rota.Id, edit.Slots[i]);
            slot.Place = i;
            edits.Fill(slot, edit.Slots[i]);
            rota.Slots.Add(slot);
        }
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value, edits.View(rota), []);
    }

    /// <summary>Saves a rota with all its slots at once.</summary>
    private static async Task<RotaSaved> SaveAsync(Id<Workspace> workspaceId, Id<Rota> id, RotaEdit edit, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        Rota rota = await FindAsync(workspaceId, id, db, cancellation);
        if (edit.Version is null) throw ProblemException.BadInput("Say in `version` which version of the rota you changed.");
        if (edit.Version != rota.Version) throw ProblemException.Outdated("Somebody else changed this rota since you opened it. Your changes are still with you: look at theirs, then apply yours again.");
        RotaEdits edits = await EditsAsync(workspaceId, db, clock, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, $"Changed the rota {rota.Name}");
        edits.Fill(rota, edit);
        if (edit.Slots.Any(e => e.Id is { } wanted && rota.Slots.All(s => s.Id != wanted))) throw ProblemException.BadInput("One of the slots isn't in this rota any more. Fetch the rota again.");
        Dictionary<Id<Slot>, SlotEdit> wantedById = edit.Slots.Where(e => e.Id is not null).ToDictionary(e => e.Id!.Value);
        int place = rota.Slots.Count == 0 ? 0 : rota.Slots.Max(s => s.Place) + 1;
        List<string> orphans = [];
        foreach (Slot slot in rota.Slots.Where(s => s.RemovedAt is null && !(s.To < edits.Today)).ToList())
        {
            if (!wantedById.TryGetValue(slot.Id, out SlotEdit? wanted)) slot.RemovedAt = now;
            else if (RotaEdits.ChangesDates(slot, wanted)) orphans.AddRange(await SucceedAsync(edits, rota, slot, wanted, now, place++, db, cancellation));
            else edits.Fill(slot, wanted);
        }
        foreach (SlotEdit added in edit.Slots.Where(e => e.Id is null))
        {
            Slot slot = edits.NewSlot(rota.Id, added);
            slot.Place = place++;
            edits.Fill(slot, added);
            db.Slots.Add(slot);
        }
        rota.Version++;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value, edits.View(rota), orphans);
    }

    private static async Task<ActDone> RemoveAsync(Id<Workspace> workspaceId, Id<Rota> id, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        Rota rota = await FindAsync(workspaceId, id, db, cancellation);
        if (await db.Rotas.CountAsync(r => r.WorkspaceId == workspaceId && r.RemovedAt == null, cancellation) == 1) throw ProblemException.Conflict("This is the only rota. Take its slots out instead.");
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, $"Removed the rota {rota.Name}");
        rota.RemovedAt = now;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>Adds a slot to the first rota.</summary>
    private static async Task<SlotView> AddSlotAsync(Id<Workspace> workspaceId, SlotEdit edit, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        RotaEdits edits = await EditsAsync(workspaceId, db, clock, cancellation);
        Rota rota = await db.Rotas.Include(r => r.Slots).Where(r => r.WorkspaceId == workspaceId && r.RemovedAt == null).OrderBy(r => r.Rank).FirstAsync(cancellation);
        Slot slot = edits.NewSlot(rota.Id, edit);
        slot.Place = 1 + (rota.Slots.Count == 0 ? 0 : rota.Slots.Max(s => s.Place));
        edits.Fill(slot, edit);
        db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), $"Added a slot at {slot.Time:HH:mm}");
        db.Slots.Add(slot);
        rota.Version++;
        await db.SaveChangesAsync(cancellation);
        return edits.View(rota, slot);
    }

    private static async Task<SlotView> EditSlotAsync(Id<Workspace> workspaceId, Id<Slot> id, SlotEdit edit, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        (Rota rota, Slot slot) = await FindSlotAsync(workspaceId, id, db, cancellation);
        RotaEdits edits = await EditsAsync(workspaceId, db, clock, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.PersonId(), now, $"Changed the slot at {slot.Time:HH:mm}");
        rota.Version++;
        if (RotaEdits.ChangesDates(slot, edit))
        {
            await SucceedAsync(edits, rota, slot, edit, now, rota.Slots.Max(s => s.Place) + 1, db, cancellation);
            slot = rota.Slots[^1];
        }
        else
        {
            edits.Fill(slot, edit);
        }
        await db.SaveChangesAsync(cancellation);
        return edits.View(rota, slot);
    }

    /// <summary>Ends the slot. What has been settled from it stays.</summary>
    private static async Task<ActDone> RemoveSlotAsync(Id<Workspace> workspaceId, Id<Slot> id, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        (Rota rota, Slot slot) = await FindSlotAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, $"Removed the slot at {slot.Time:HH:mm}");
        slot.RemovedAt = now;
        rota.Version++;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>
    /// Ends a slot whose dates change, and begins its successor after what is settled. Decisions about later occurrences go
    /// over to it where it comes round on the same date; the others are dropped and named.
    /// </summary>
    private static async Task<List<string>> SucceedAsync(RotaEdits edits, Rota rota, Slot slot, SlotEdit wanted, Instant now, int place, LarkDb db, CancellationToken cancellation)
    {
        bool isSettledAhead = await db.Deliveries.AnyAsync(d => d.WorkspaceId == slot.WorkspaceId && d.SlotId == slot.Id && d.SlotDate >= edits.Today, cancellation);
        LocalDate last = edits.Today.PlusDays(-1);
        if (isSettledAhead && edits.Workspace.SettledThrough > last) last = edits.Workspace.SettledThrough.Value;
        Slot successor = edits.NewSlot(rota.Id, wanted);
        successor.Place = place;
        edits.Fill(successor, wanted with { Anchor = wanted.Anchor ?? (wanted.Rhythm == Rhythm.Weeks && slot.Rhythm == Rhythm.Weeks ? slot.Anchor : null) });
        if (isSettledAhead && !(successor.From > last)) successor.From = last.PlusDays(1);
        if (isSettledAhead) slot.To = last;
        else slot.RemovedAt = now;
        db.Slots.Add(successor);
        List<string> orphans = [];
        foreach (Decision decision in await db.Decisions.Where(d => d.WorkspaceId == slot.WorkspaceId && d.SlotId == slot.Id && d.Date > last).ToListAsync(cancellation))
        {
            db.Decisions.Remove(decision);
            if (successor.ComesRoundOn(decision.Date))
                db.Decisions.Add(new() { WorkspaceId = slot.WorkspaceId, Id = Id<Decision>.New(), SlotId = successor.Id, Date = decision.Date, IsSkipped = decision.IsSkipped, MovedTo = decision.MovedTo, Note = decision.Note, Posts = decision.Posts });
            else
                orphans.Add(string.Create(CultureInfo.InvariantCulture, $"{decision.Date:ddd d MMM} {slot.Time:HH:mm}: {Words(decision)}"));
        }
        return orphans;
    }

    private static string Words(Decision d) => d.IsSkipped ? "skipped" : d.Posts.Count > 0 ? "a post given by hand" : d.MovedTo is not null ? "moved" : "a note";

    private static async Task<RotaEdits> EditsAsync(Id<Workspace> id, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == id, cancellation);
        return await RotaEdits.ReadAsync(db, workspace, workspace.DateOf(await clock.NowAsync(cancellation)), cancellation);
    }

    private static async Task<Rota> FindAsync(Id<Workspace> workspace, Id<Rota> id, LarkDb db, CancellationToken cancellation) =>
        await db.Rotas.Include(r => r.Slots).SingleOrDefaultAsync(r => r.WorkspaceId == workspace && r.Id == id && r.RemovedAt == null, cancellation)
        ?? throw ProblemException.NotFound("This rota");

    private static async Task<(Rota Rota, Slot Slot)> FindSlotAsync(Id<Workspace> workspace, Id<Slot> id, LarkDb db, CancellationToken cancellation)
    {
        Slot slot = await db.Slots.SingleOrDefaultAsync(s => s.WorkspaceId == workspace && s.Id == id && s.RemovedAt == null, cancellation) ?? throw ProblemException.NotFound("This slot");
        return (await db.Rotas.Include(r => r.Slots).SingleAsync(r => r.WorkspaceId == workspace && r.Id == slot.RotaId, cancellation), slot);
    }
}
