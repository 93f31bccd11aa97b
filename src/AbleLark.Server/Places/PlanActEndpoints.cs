using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using NodaTime;

namespace AbleLark.Server.Places;

/// <summary>What may be done with several deliveries and places as one.</summary>
public enum ManyAct
{
    /// <summary>Each goes out so much later, or earlier, by the clock of its zone.</summary>
    Shift,

    /// <summary>Each post once more, so much later or earlier, at an exact time.</summary>
    Copy,

    /// <summary>Deliveries are cancelled, places skipped.</summary>
    Cancel,

    /// <summary>Their posts wait for approval from now on.</summary>
    AskForApproval,
}

/// <param name="Revision">The one that was looked at; whatever was changed since is left alone.</param>
public sealed record ChosenDelivery(Id<Delivery> Id, int Revision);

/// <summary>An occurrence that may still change.</summary>
/// <param name="Date">Its original date.</param>
/// <param name="Revision">Of what was decided about it when it was looked at; nought: nothing was.</param>
public sealed record ChosenPlace(Id<Slot> SlotId, LocalDate Date, int Revision)
{
    internal SeenPlace Seen => new(Origin.Place(SlotId, Date), Revision);
}

/// <param name="Days">To shift or copy by; below nought: earlier.</param>
/// <param name="Minutes">Beside the days, by the clock.</param>
/// <param name="Preview">True: says what would come of it, and changes nothing.</param>
/// <param name="PlanStamp">Of what was shown: refused when the plan has changed since. Null: it is done as it is by now.</param>
public sealed record PlanActRequest(
    ManyAct Act,
    IReadOnlyList<ChosenDelivery> Deliveries,
    IReadOnlyList<ChosenPlace> Places,
    int Days = 0,
    int Minutes = 0,
    bool Preview = false,
    long? PlanStamp = null
)
{
    internal bool IsForward => (Days * 1440L) + Minutes > 0;

    internal TimeShift By => new(Days, Minutes);
}

/// <param name="Done">With how many deliveries and places; for approval, posts.</param>
/// <param name="LeftOut">What it wasn't done with, and why.</param>
/// <param name="Remarks">What is otherwise than asked for, though it was done.</param>
/// <param name="PlanStamp">Of a preview: give it back when doing it.</param>
/// <param name="ChangeSetId">Null: nothing was changed, it was only looked at.</param>
public sealed record PlanActResult(
    int Done,
    IReadOnlyList<string> LeftOut,
    IReadOnlyList<string> Remarks,
    long PlanStamp,
    Guid? ChangeSetId
);

/// <summary>Several deliveries and places, moved, copied or cancelled in one act, which is undone as one.</summary>
public static class PlanActEndpoints
{
    private const int Most = 5_000;

    /// <summary>How far anything is shifted or copied at once.</summary>
    private const int MostDays = 366;

    public static void MapPlanActs(this RouteGroupBuilder workspace) => workspace.MapPost("/line-up/acts", DoAsync).Needs(Right.Schedule);

    private static async Task<PlanActResult> DoAsync(
        Id<Workspace> workspaceId,
        PlanActRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        PlanActs acts,
        CancellationToken cancellation
    )
    {
        int chosen = request.Deliveries.Count + request.Places.Count;
        if (chosen == 0)
            throw ProblemException.BadInput("Choose at least one delivery or place.");
        if (chosen > Most)
            throw ProblemException.BadInput($"That is more than {Most} at once. Do it in parts.");
        if (request.Act is ManyAct.Shift or ManyAct.Copy)
        {
            if (request is { Days: 0, Minutes: 0 })
                throw ProblemException.BadInput("Say by how many days or minutes.");
            if (request.Days is < -MostDays or > MostDays || request.Minutes is <= -1440 or >= 1440)
                throw ProblemException.BadInput("Up to a year of days, and less than a day of minutes, at once.");
        }
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // Two who move the same week are one after the other; the second finds what the first has changed.
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        if (request.Places.Any(p => p.Date > workspace.DateOf(now).PlusDays(MostDays)))
            throw ProblemException.BadInput("Places are worked out for a year ahead. Choose nearer ones.");
        if (request.PlanStamp is { } shown && shown != workspace.PlanStamp)
            throw ProblemException.Outdated("The plan has changed since this was shown. Look at it once more; nothing was changed.");
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), now, new(CodeOf(request.Act)));
        int done = await acts.DoAsync(workspace, request, now, cancellation);
        IReadOnlyList<string> remarks = [.. acts.Remarks.Distinct()];
        // The same that is done otherwise, but for the saving.
        if (request.Preview)
            return new(done, acts.LeftOut, remarks, workspace.PlanStamp, null);
        if (done == 0)
            throw ProblemException.Conflict($"Nothing was changed. {string.Join(" ", acts.LeftOut.Take(5))}");
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(done, acts.LeftOut, remarks, workspace.PlanStamp, act.Id.Value);
    }

    private static ActCode CodeOf(ManyAct act) =>
        act switch
        {
            ManyAct.Shift => ActCode.ChosenMoved,
            ManyAct.Copy => ActCode.ChosenCopied,
            ManyAct.Cancel => ActCode.ChosenCancelled,
            _ => ActCode.ChosenAskedFor,
        };
}
