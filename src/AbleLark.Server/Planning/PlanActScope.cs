using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Planning;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Planning;

/// <summary>An act on the plan, as it is found once nobody else can change it.</summary>
/// <param name="Logged">What the log says of it.</param>
public sealed record FoundAct(PlanAct Act, Act Logged);

/// <summary>One act on the plan from beginning to end: alone in the workspace, logged, written and saved, or refused with nothing
/// changed.</summary>
public sealed class PlanActScope(LarkDb db, PlanWriter writer, BusinessClock clock)
{
    /// <param name="find">Reads what it is done to, once nobody else can change it.</param>
    /// <param name="then">What goes with it, before it is saved.</param>
    /// <exception cref="ProblemException">It can't be done, or the time can't be planned for.</exception>
    public async Task<(PlanChange Change, Guid ChangeSetId)> DoAsync(
        Id<Workspace> id,
        HttpContext http,
        Func<Workspace, Instant, Task<FoundAct>> find,
        CancellationToken cancellation,
        Func<Workspace, PlanChange, Task>? then = null
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        Workspace workspace = await db.LockWorkspaceAsync(id, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        FoundAct found = await find(workspace, now);
        ChangeSet act = db.BeginAct(id, http.Actor(), now, found.Logged);
        PlanChange change = await writer.DoAsync(workspace, found.Act, now, cancellation);
        if (change.Done == 0)
            throw await RefusedAsync(id, change, cancellation);
        if (then is not null)
            await then(workspace, change);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return (change, act.Id.Value);
    }

    private async Task<ProblemException> RefusedAsync(Id<Workspace> id, PlanChange change, CancellationToken cancellation)
    {
        PlanStay stay = change.Stays[0];
        string? title = await db
            .Posts.Where(p => p.WorkspaceId == id && p.Id == stay.PostId)
            .Select(p => p.Title)
            .SingleOrDefaultAsync(cancellation);
        bool wasToGo = stay is { ChannelId: not null, DeliveryId: null, Place: null };
        if (change.Stays.Count == 1 && !wasToGo)
            return Refused(stay, title);
        Dictionary<Id<Channel>, string> names = await db
            .Channels.Where(c => c.WorkspaceId == id)
            .ToDictionaryAsync(c => c.Id, c => c.Name, cancellation);
        IEnumerable<string> each = change.Stays.Take(5).Select(s => $"{NameOf(s)}{PlanWords.Why(s, title)}");
        return new(StatusCodes.Status409Conflict, $"Nothing was changed. {string.Join(" ", each)}") { Code = ProblemCodes.Of(stay.Code) };

        string NameOf(PlanStay one) => one.ChannelId is { } channel ? $"{names[channel]}: " : "";
    }

    internal static ProblemException Refused(PlanStay stay, string? title)
    {
        string why = PlanWords.Why(stay, title);
        string sentence = char.ToUpperInvariant(why[0]) + why[1..];
        (int status, string words) = stay.Code switch
        {
            StayCode.Time or StayCode.NotItsChannel or StayCode.NotInBank or StayCode.Same => (StatusCodes.Status400BadRequest, sentence),
            StayCode.Gone => (StatusCodes.Status404NotFound, ProblemException.NotFound("This place").Message),
            StayCode.PlanChanged => (StatusCodes.Status412PreconditionFailed, sentence),
            StayCode.ChangedSince => (StatusCodes.Status412PreconditionFailed, $"{sentence} Look again, then decide."),
            _ => (StatusCodes.Status409Conflict, $"Nothing was changed: {why}"),
        };
        return new(status, words) { Code = ProblemCodes.Of(stay.Code) };
    }
}
