using AbleLark.Core;
using AbleLark.Core.LineUps;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>Turns occurrences that come near into deliveries, which only a person changes.</summary>
public sealed class Scheduling(LarkDb db, LineUpReader reader)
{
    /// <summary>Schedules every occurrence whose date is not after the given one; returns how many deliveries came of it.</summary>
    public async Task<int> ScheduleAsync(Id<Workspace> id, Func<Workspace, LocalDate> through, Instant now, CancellationToken cancellation)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // One process at a time for each workspace: the others wait here, then find it scheduled.
        Workspace workspace = await db.LockWorkspaceAsync(id, cancellation);
        LocalDate last = through(workspace);
        SchedulePlan plan = SchedulePlan.Of(workspace, await reader.ReadAsync(workspace, cancellation), last, now);
        await WritePassedAsync(id, plan.Passed, cancellation);
        db.Deliveries.AddRange(plan.Deliveries);
        workspace.NextToPass = plan.NextToPass;
        workspace.ScheduledStamp = workspace.PlanStamp;
        if (workspace.ScheduledThrough is null || workspace.ScheduledThrough < last)
            workspace.ScheduledThrough = last;
        await db.SaveChangesAsync(cancellation);
        // What was just scheduled is no reason to schedule again.
        if (plan.Deliveries.Count > 0)
            await db.Database.ExecuteSqlAsync($"update workspaces set scheduled_stamp = plan_stamp where id = {id.Value}", cancellation);
        await transaction.CommitAsync(cancellation);
        return plan.Deliveries.Count;
    }

    /// <summary>Once each: one whose slot was moved to later on the same day comes by again.</summary>
    private async Task WritePassedAsync(Id<Workspace> id, IReadOnlyList<PassedPlace> passed, CancellationToken cancellation)
    {
        if (passed.Count == 0)
            return;
        List<LocalDate> dates = [.. passed.Select(p => p.OriginDate).Distinct()];
        HashSet<Origin> known =
        [
            .. await db
                .PassedPlaces.Where(p => p.WorkspaceId == id && dates.Contains(p.OriginDate))
                .Select(p => new Origin(p.OriginKind, p.OriginId, p.OriginDate, p.OriginTime))
                .ToListAsync(cancellation),
        ];
        db.PassedPlaces.AddRange(passed.Where(p => !known.Contains(p.Origin)));
    }
}
