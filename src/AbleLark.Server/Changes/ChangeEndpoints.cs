using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Checks;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Changes;

/// <param name="Act">In words.</param>
/// <param name="Token">Name of the token, where a script did it for the person.</param>
/// <param name="MayUndo">True while whoever asks may take it back.</param>
public sealed record ChangeLine(Guid Id, string Act, ActCode Code, string? Who, string? Token, Instant At, bool Undone, bool MayUndo);

/// <param name="ChangeSetId">Undoing goes by this.</param>
public sealed record ActDone(Guid ChangeSetId);

/// <param name="Undone">Things that are as before.</param>
/// <param name="Kept">What could not be taken back, and why.</param>
public sealed record UndoResult(int Undone, IReadOnlyList<string> Kept);

public static class ChangeEndpoints
{
    private const int MostListed = 50;

    public static void MapChanges(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/changes", ListAsync).Needs(Right.View);
        workspace.MapPost("/changes/{id}/undo", UndoAsync).Needs(Right.View);
    }

    private static async Task<List<ChangeLine>> ListAsync(
        Id<Workspace> workspaceId,
        HttpContext http,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        var acts = await db
            .ChangeSets.AsNoTracking()
            .Where(c => c.WorkspaceId == workspaceId)
            .OrderByDescending(c => c.At)
            .ThenByDescending(c => c.Id)
            .Take(MostListed)
            .Select(c => new { Act = c, ChangedAnything = c.Changes.Any() })
            .ToListAsync(cancellation);
        ActorNames names = await ActorNames.ReadAsync(db, workspaceId, acts.Select(a => a.Act.By), cancellation);
        return
        [
            .. acts.Select(a => new ChangeLine(
                a.Act.Id.Value,
                a.Act.Act.Words,
                a.Act.Act.Code,
                names.PersonOf(a.Act.By),
                names.ScriptOf(a.Act.By),
                a.Act.At,
                a.Act.UndoneAt is not null,
                a.ChangedAnything && a.Act.UndoneAt is null && NeededToUndo(a.Act, http).All(http.May)
            )),
        ];
    }

    /// <summary>Each takes back what they did themselves, by the rights that doing it took; what others did takes the right to all of
    /// it.</summary>
    private static List<Right> NeededToUndo(ChangeSet act, HttpContext http) =>
        http.Actor().IsFor(act.By) && act.Rights.Count > 0 && http.Caller().SeesAll ? act.Rights : [.. act.Rights, Right.SetUp];

    private static async Task<UndoResult> UndoAsync(
        Id<Workspace> workspaceId,
        Id<ChangeSet> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // What is scheduled meanwhile waits, or is there.
        await db.LockWorkspaceAsync(workspaceId, cancellation);
        ChangeSet act =
            await db.ChangeSets.SingleOrDefaultAsync(c => c.WorkspaceId == workspaceId && c.Id == id, cancellation)
            ?? throw ProblemException.NotFound("This change");
        foreach (Right right in NeededToUndo(act, http))
            http.Demand(right);
        if (act.UndoneAt is not null)
            throw ProblemException.Conflict("This has been taken back already.");
        Instant now = await clock.NowAsync(cancellation);
        UndoOutcome outcome = await new Undo(
            db,
            now,
            !http.May(Right.Approve),
            (id, posts) => StalePosts.CheckAsync(id, posts, db, networks, cancellation)
        ).TakeBackAsync(act, http.Actor(), cancellation);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(outcome.Undone, outcome.Kept);
    }
}
