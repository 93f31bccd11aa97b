using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Planning;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>Turns occurrences that come near into deliveries, which only a person changes.</summary>
public sealed partial class Scheduling(LarkDb db, LineUpReader reader, Backoff aside, ILogger<Scheduling> log)
{
    /// <summary>Schedules every occurrence whose date is not after the given one; returns how many deliveries came of it. A place that
    /// can't be written down is left out and put aside under its slot.</summary>
    /// <param name="isHurried">True for whoever has other workspaces to look after: it waits for no lock for long.</param>
    public async Task<int> ScheduleAsync(
        Id<Workspace> id,
        Func<Workspace, LocalDate> through,
        Instant now,
        CancellationToken cancellation,
        bool isHurried = false
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        if (isHurried)
            await db.WaitBrieflyAsync(cancellation);
        // One process at a time for each workspace: the others wait here, then find it scheduled.
        Workspace workspace = await db.LockWorkspaceAsync(id, cancellation);
        LocalDate last = through(workspace);
        SchedulePlan plan = SchedulePlan.Of(workspace, await reader.ReadAsync(workspace, cancellation), last, now);
        List<PassedPlace> passed = await NewlyPassedAsync(id, plan.Passed, cancellation);
        Dictionary<Origin, Exception> leftOut = await WriteAsync(plan.Deliveries, passed, cancellation);
        workspace.NextToPass = plan.NextToPass;
        workspace.ScheduledStamp = workspace.PlanStamp;
        if (workspace.ScheduledThrough is null || workspace.ScheduledThrough < last)
            workspace.ScheduledThrough = last;
        await db.SaveChangesAsync(cancellation);
        // What was just scheduled is no reason to schedule again.
        int written = plan.Deliveries.Count(d => !leftOut.ContainsKey(d.Origin));
        if (written > 0)
            await db.Database.ExecuteSqlAsync($"update workspaces set scheduled_stamp = plan_stamp where id = {id.Value}", cancellation);
        await TellAsync(workspace.Id, leftOut, cancellation);
        await transaction.CommitAsync(cancellation);
        return written;
    }

    /// <summary>All at once; where the database refuses that, place by place, without those that it refuses.</summary>
    /// <returns>What was left out, and why.</returns>
    private async Task<Dictionary<Origin, Exception>> WriteAsync(
        IReadOnlyList<Delivery> deliveries,
        List<PassedPlace> passed,
        CancellationToken cancellation
    )
    {
        try
        {
            db.AddRange([.. deliveries, .. passed]);
            await db.SaveChangesAsync(cancellation);
            return [];
        }
        catch (DbUpdateException e) when (!DatabaseTrouble.IsAway(e))
        {
            // The transaction is as it was before: each saving has a savepoint of its own.
            db.LetGoOfNew<HasOrigin>();
        }
        Dictionary<Origin, Exception> leftOut = [];
        foreach (IGrouping<Origin, HasOrigin> place in deliveries.Concat<HasOrigin>(passed).GroupBy(r => r.Origin))
        {
            try
            {
                db.AddRange(place);
                await db.SaveChangesAsync(cancellation);
            }
            catch (DbUpdateException e) when (!DatabaseTrouble.IsAway(e))
            {
                db.LetGoOfNew<HasOrigin>();
                leftOut[place.Key] = e;
            }
        }
        return leftOut;
    }

    /// <summary>Says at Today which places of which slots are left out; what could be written down this time is no longer said.</summary>
    private async Task TellAsync(Id<Workspace> id, Dictionary<Origin, Exception> leftOut, CancellationToken cancellation)
    {
        ILookup<Guid, LocalDate> dates = leftOut.Keys.ToLookup(o => o.Id, o => o.Date);
        List<Guid> before = await db
            .WorkFailures.Where(f => f.WorkspaceId == id && f.Work == WorkKind.Scheduling && f.Subject != id.Value)
            .Select(f => f.Subject)
            .ToListAsync(cancellation);
        foreach (Guid slot in before.Where(s => !dates.Contains(s)))
            await aside.WorkedAsync(WorkKind.Scheduling, id, slot, cancellation);
        foreach (IGrouping<Guid, LocalDate> slot in dates)
        {
            await aside.FailedAsync(
                WorkKind.Scheduling,
                id,
                slot.Key,
                $"Of this slot {string.Join("; ", slot.Order().Select(d => d.InWords()))} can't be scheduled: the database refuses it, "
                    + "most often since something of it is planned or has gone out already. Everything else is scheduled. "
                    + "Skip the date in the calendar, and this is no longer said.",
                null,
                cancellation
            );
            LogLeftOut(id, slot.Key, leftOut.First(l => l.Key.Id == slot.Key).Value);
        }
    }

    /// <summary>Once each: one whose slot was moved to later on the same day comes by again.</summary>
    private async Task<List<PassedPlace>> NewlyPassedAsync(
        Id<Workspace> id,
        IReadOnlyList<PassedPlace> passed,
        CancellationToken cancellation
    )
    {
        if (passed.Count == 0)
            return [];
        List<LocalDate> dates = [.. passed.Select(p => p.OriginDate).Distinct()];
        HashSet<Origin> known =
        [
            .. await db
                .PassedPlaces.Where(p => p.WorkspaceId == id && dates.Contains(p.OriginDate))
                .Select(p => new Origin(p.OriginKind, p.OriginId, p.OriginDate, p.OriginTime))
                .ToListAsync(cancellation),
        ];
        return [.. passed.Where(p => !known.Contains(p.Origin))];
    }

    [LoggerMessage(
        Level = LogLevel.Error,
        Message = "A place of slot {Slot} in workspace {Workspace} can't be written down; it is left out"
    )]
    private partial void LogLeftOut(Id<Workspace> workspace, Guid slot, Exception exception);
}
