using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.KeyDates;

/// <param name="Mark">One or two characters that stand for it.</param>
/// <param name="Colour">As #rrggbb.</param>
public sealed record KeyDateKindView(Id<KeyDateKind> Id, string Name, string Mark, string Colour, bool IsShownToClients);

public sealed record KeyDateKindEdit(
    [Named("the kind")] string Name,
    string Mark,
    [RegularExpression("^#[0-9a-fA-F]{6}$", ErrorMessage = "Write the colour as #rrggbb.")] string Colour,
    bool IsShownToClients
);

/// <summary>The sorts of key dates that a workspace names.</summary>
public static class KeyDateKindEndpoints
{
    private const int Most = 30;

    public static void MapKeyDateKinds(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/key-date-kinds", ListAsync).Needs(Right.View);
        workspace.MapPost("/key-date-kinds", AddAsync).Needs(Right.SetUp).InTurn();
        workspace.MapPut("/key-date-kinds/{id}", EditAsync).Needs(Right.SetUp);
        workspace.MapDelete("/key-date-kinds/{id}", RemoveAsync).Needs(Right.SetUp);
    }

    private static Task<List<KeyDateKindView>> ListAsync(
        Id<Workspace> workspaceId,
        HttpContext http,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        bool seesAll = http.Caller().SeesAll;
        return db
            .KeyDateKinds.Where(k => k.WorkspaceId == workspaceId && (k.IsShownToClients || seesAll))
            .OrderBy(k => k.Name)
            .Select(k => new KeyDateKindView(k.Id, k.Name, k.Mark, k.Colour, k.IsShownToClients))
            .ToListAsync(cancellation);
    }

    private static async Task<KeyDateKindView> AddAsync(
        Id<Workspace> workspaceId,
        KeyDateKindEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Inputs.Room(await db.KeyDateKinds.CountAsync(k => k.WorkspaceId == workspaceId, cancellation), 1, Most, "kinds of key dates");
        KeyDateKind kind = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<KeyDateKind>.New(),
            Name = "",
            Mark = "",
            Colour = "",
        };
        await TakeAsync(kind, edit, db, cancellation);
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.KeyDateKindAdded, kind.Name));
        db.KeyDateKinds.Add(kind);
        await db.SaveChangesAsync(cancellation);
        return View(kind);
    }

    private static async Task<KeyDateKindView> EditAsync(
        Id<Workspace> workspaceId,
        Id<KeyDateKind> id,
        KeyDateKindEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        KeyDateKind kind = await FindAsync(workspaceId, id, db, cancellation);
        await TakeAsync(kind, edit, db, cancellation);
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.KeyDateKindChanged, kind.Name));
        await db.SaveChangesAsync(cancellation);
        return View(kind);
    }

    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId,
        Id<KeyDateKind> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        KeyDateKind kind = await FindAsync(workspaceId, id, db, cancellation);
        int used =
            await db.KeyDates.CountAsync(d => d.WorkspaceId == workspaceId && d.KindId == id, cancellation)
            + await db.CalendarSources.CountAsync(s => s.WorkspaceId == workspaceId && s.KindId == id, cancellation);
        if (used > 0)
            throw ProblemException.Conflict($"{kind.Name} is the kind of {used} key dates or calendars. Give those another kind first.");
        var act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.KeyDateKindRemoved, kind.Name));
        db.KeyDateKinds.Remove(kind);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task TakeAsync(KeyDateKind kind, KeyDateKindEdit edit, LarkDb db, CancellationToken cancellation)
    {
        string name = edit.Name.Trim();
        List<string> others = await db
            .KeyDateKinds.Where(k => k.WorkspaceId == kind.WorkspaceId && k.Id != kind.Id)
            .Select(k => k.Name)
            .ToListAsync(cancellation);
        if (others.Contains(name, StringComparer.OrdinalIgnoreCase))
            throw ProblemException.BadInput($"There is a kind “{name}” already. Give this one another name.");
        string mark = edit.Mark.Trim();
        if (mark.Length == 0 || new System.Globalization.StringInfo(mark).LengthInTextElements > KeyDateKind.MostMark || mark.Length > 16)
            throw ProblemException.BadInput("A mark is one or two characters.");
        (kind.Name, kind.Mark, kind.Colour, kind.IsShownToClients) = (name, mark, edit.Colour.ToLowerInvariant(), edit.IsShownToClients);
    }

    internal static async Task<KeyDateKind> FindAsync(
        Id<Workspace> workspace,
        Id<KeyDateKind> id,
        LarkDb db,
        CancellationToken cancellation
    ) => await db.KeyDateKinds.FindAsync([workspace, id], cancellation) ?? throw ProblemException.NotFound("This kind of key dates");

    private static KeyDateKindView View(KeyDateKind kind) => new(kind.Id, kind.Name, kind.Mark, kind.Colour, kind.IsShownToClients);
}
