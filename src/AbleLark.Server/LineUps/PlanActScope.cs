using AbleLark.Core;
using AbleLark.Core.Planning;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.History;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>One act on single deliveries from beginning to end: alone in the workspace, logged, written and saved, or refused with nothing
/// changed.</summary>
public sealed class PlanActScope(LarkDb db, PlanWriter writer, BusinessClock clock)
{
    /// <param name="words">For the log.</param>
    /// <param name="find">Reads what it is done to, once nobody else can change it.</param>
    /// <exception cref="ProblemException">It can't be done, or the time can't be planned for.</exception>
    public async Task<(PlanChange Change, Guid ChangeSetId)> DoAsync(
        Id<Workspace> id,
        HttpContext http,
        string words,
        Func<Task<PlanAct>> find,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        Workspace workspace = await db.LockWorkspaceAsync(id, cancellation);
        PlanAct asked = await find();
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(id, http.PersonId(), now, words);
        PlanChange change = await writer.DoAsync(workspace, asked, now, cancellation);
        if (change.Done == 0)
            throw await RefusedAsync(id, change.Stays[0], cancellation);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return (change, act.Id.Value);
    }

    private async Task<ProblemException> RefusedAsync(Id<Workspace> id, PlanStay stay, CancellationToken cancellation)
    {
        if (stay.Code == StayCode.Time)
            return ProblemException.BadInput(stay.Detail!);
        string title = await db.Posts.Where(p => p.WorkspaceId == id && p.Id == stay.PostId).Select(p => p.Title).SingleAsync(cancellation);
        return ProblemException.Conflict($"Nothing was changed: {PlanWords.Why(stay, title)}");
    }
}
