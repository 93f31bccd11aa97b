using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Calendars;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Calendars;

/// <param name="Query">Of the calendar's address, without the date.</param>
public sealed record SavedFilterView(Id<SavedFilter> Id, string Name, string Query);

/// <summary>Under a name that there is already, that one is saved anew.</summary>
public sealed record SavedFilterEdit(
    [Named("the view")] string Name,
    [StringLength(SavedFilter.Longest, ErrorMessage = "That is more than an address holds. Choose less.")] string Query
);

/// <summary>Ways of looking at the calendar that were given a name.</summary>
public static class FilterEndpoints
{
    private const int Most = 100;

    public static void MapSavedFilters(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/calendar/filters", ListAsync).Needs(Right.View);
        workspace.MapPut("/calendar/filters", SaveAsync).Needs(Right.Schedule).InTurn();
        workspace.MapDelete("/calendar/filters/{id}", RemoveAsync).Needs(Right.Schedule);
    }

    private static Task<List<SavedFilterView>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        db
            .SavedFilters.Where(f => f.WorkspaceId == workspaceId)
            .OrderBy(f => f.Name)
            .Select(f => new SavedFilterView(f.Id, f.Name, f.Query))
            .ToListAsync(cancellation);

    private static async Task<SavedFilterView> SaveAsync(
        Id<Workspace> workspaceId,
        SavedFilterEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        string name = edit.Name.Trim();
        SavedFilter? filter = await db.SavedFilters.SingleOrDefaultAsync(f => f.WorkspaceId == workspaceId && f.Name == name, cancellation);
        if (filter is null)
        {
            Inputs.Room(await db.SavedFilters.CountAsync(f => f.WorkspaceId == workspaceId, cancellation), 1, Most, "saved views");
            db.SavedFilters.Add(
                filter = new()
                {
                    WorkspaceId = workspaceId,
                    Id = Id<SavedFilter>.New(),
                    Name = name,
                    Query = "",
                }
            );
        }
        filter.Query = edit.Query;
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.ViewSaved, name));
        await db.SaveChangesAsync(cancellation);
        return new(filter.Id, filter.Name, filter.Query);
    }

    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId,
        Id<SavedFilter> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        SavedFilter filter =
            await db.SavedFilters.SingleOrDefaultAsync(f => f.WorkspaceId == workspaceId && f.Id == id, cancellation)
            ?? throw ProblemException.NotFound("This saved view");
        var act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.ViewRemoved, filter.Name));
        db.SavedFilters.Remove(filter);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }
}
