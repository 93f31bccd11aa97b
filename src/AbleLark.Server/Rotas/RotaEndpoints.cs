using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Server.Categories;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Sessions;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Rotas;

/// <param name="Days">Weekdays, 1 (Monday) to 7 (Sunday), as ISO 8601 counts them.</param>
public sealed record SlotView(Id<Slot> Id, IReadOnlyList<int> Days, LocalTime Time, Id<Category>? CategoryId, IReadOnlyList<Id<Channel>> Channels);

public sealed record SlotEdit(IReadOnlyList<int> Days, LocalTime Time, Id<Category>? CategoryId, IReadOnlyList<Id<Channel>> Channels);

public sealed record RotaView(Id<Rota> Id, string Name, string Zone, IReadOnlyList<SlotView> Slots);

/// <summary>The workspace's recurring week and its slots.</summary>
public static class RotaEndpoints
{
    public static void MapRota(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/rota", ShowAsync);
        workspace.MapPost("/rota/slots", AddAsync);
        workspace.MapPut("/rota/slots/{id}", EditAsync);
        workspace.MapDelete("/rota/slots/{id}", RemoveAsync);
    }

    private static async Task<RotaView> ShowAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation)
    {
        Rota rota = await db.Rotas.AsNoTracking().Include(r => r.Slots.Where(s => s.RemovedAt == null))
            .Where(r => r.WorkspaceId == workspaceId).OrderBy(r => r.Rank).FirstAsync(cancellation);
        return new(rota.Id, rota.Name, rota.Zone.Id, [.. rota.Slots.OrderBy(s => s.Time).ThenBy(s => s.Place).Select(View)]);
    }

    private static async Task<SlotView> AddAsync(
        Id<Workspace> workspaceId, SlotEdit edit, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        Rota rota = await db.Rotas.Where(r => r.WorkspaceId == workspaceId).OrderBy(r => r.Rank).FirstAsync(cancellation);
        int place = 1 + (await db.Slots.Where(s => s.WorkspaceId == workspaceId && s.RotaId == rota.Id).MaxAsync(s => (int?)s.Place, cancellation) ?? 0);
        Slot slot = new() { WorkspaceId = workspaceId, Id = Id<Slot>.New(), RotaId = rota.Id, Days = [], Time = default, Channels = [], Place = place };
        await FillAsync(slot, edit, db, cancellation);
        db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), $"Added a slot at {slot.Time:HH:mm}");
        db.Slots.Add(slot);
        await db.SaveChangesAsync(cancellation);
        return View(slot);
    }

    private static async Task<SlotView> EditAsync(
        Id<Workspace> workspaceId, Id<Slot> id, SlotEdit edit, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        Slot slot = await FindAsync(workspaceId, id, db, cancellation);
        db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), $"Changed the slot at {slot.Time:HH:mm}");
        await FillAsync(slot, edit, db, cancellation);
        await db.SaveChangesAsync(cancellation);
        return View(slot);
    }

    /// <summary>Ends the slot. What has been settled from it stays.</summary>
    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId, Id<Slot> id, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        Slot slot = await FindAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, $"Removed the slot at {slot.Time:HH:mm}");
        slot.RemovedAt = now;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<Slot> FindAsync(Id<Workspace> workspace, Id<Slot> id, LarkDb db, CancellationToken cancellation) =>
        await db.Slots.SingleOrDefaultAsync(s => s.WorkspaceId == workspace && s.Id == id && s.RemovedAt == null, cancellation)
        ?? throw ProblemException.NotFound("This slot");

    private static async Task FillAsync(Slot slot, SlotEdit edit, LarkDb db, CancellationToken cancellation)
    {
        int[] days = [.. (edit.Days ?? []).Distinct().Order()];
        if (days.Length == 0) throw ProblemException.BadInput("Choose at least one weekday for the slot.");
        if (days.Any(d => d is < 1 or > 7)) throw ProblemException.BadInput("Weekdays run from 1 (Monday) to 7 (Sunday).");
        if ((edit.Channels?.Count ?? 0) == 0) throw ProblemException.BadInput("Choose at least one channel for the slot.");
        if (edit.CategoryId is { } category && !await db.Categories.AnyAsync(c => c.WorkspaceId == slot.WorkspaceId && c.Id == category, cancellation))
            throw ProblemException.BadInput("This category isn't in the workspace. Choose another.");
        slot.Days = [.. days.Select(d => (IsoDayOfWeek)d)];
        slot.Time = new LocalTime(edit.Time.Hour, edit.Time.Minute);
        slot.CategoryId = edit.CategoryId;
        slot.Channels = await db.KnownChannelsAsync(slot.WorkspaceId, edit.Channels, cancellation);
    }

    private static SlotView View(Slot s) => new(s.Id, [.. s.Days.Select(d => (int)d)], s.Time, s.CategoryId, s.Channels);
}
