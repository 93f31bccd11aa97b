using AbleLark.Core;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Checks;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>Schedules what comes near in every workspace, each apart: one that can't be worked out is put aside.</summary>
public sealed partial class SchedulingWork(IServiceScopeFactory scopes, NetworkBook networks, ILogger<SchedulingWork> log) : IBackgroundWork
{
    /// <summary>The rules by which posts were checked last: what is scheduled rests on that.</summary>
    private string _checkedBy = networks.Version;

    public WorkKind Kind => WorkKind.Scheduling;

    public TimeSpan Pause => TimeSpan.FromMilliseconds(500);

    public async Task RunAsync(Instant now, CancellationToken stopping)
    {
        await TurnRulesAsync(now, stopping);
        foreach (Id<Workspace> id in await DueAsync(now, stopping))
        {
            stopping.ThrowIfCancellationRequested();
            await using AsyncServiceScope scope = scopes.CreateAsyncScope();
            Backoff aside = scope.ServiceProvider.GetRequiredService<Backoff>();
            try
            {
                await scope
                    .ServiceProvider.GetRequiredService<Scheduling>()
                    .ScheduleAsync(id, w => SchedulePlan.Horizon(w, now), now, stopping, isHurried: true);
                await aside.WorkedAsync(Kind, id, id.Value, stopping);
            }
            catch (Exception e) when (!stopping.IsCancellationRequested && !DatabaseTrouble.IsAway(e))
            {
                LogFailure(id, e);
                await aside.FailedAsync(
                    Kind,
                    id,
                    id.Value,
                    DatabaseTrouble.IsHeld(e)
                        ? "Scheduling waits for another act in this workspace, which takes long. It is tried again by itself."
                        : "The recurring week can't be worked out, so nothing more of it is scheduled. Look through the dates of the "
                            + $"rota's slots; if they are right, tell whoever runs Able Lark. ({e.Message})",
                    null,
                    stopping,
                    e
                );
            }
        }
    }

    /// <summary>On the day from which other rules hold, posts are checked by them before anything is scheduled.</summary>
    private async Task TurnRulesAsync(Instant now, CancellationToken stopping)
    {
        networks.TurnTo(now.InUtc().Date);
        string current = networks.Version;
        if (current == _checkedBy)
            return;
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        int posts = await StalePosts.CheckAnewAsync(
            scope.ServiceProvider.GetRequiredService<LarkDb>(),
            networks,
            now,
            stopping,
            scope.ServiceProvider.GetRequiredService<DamageWatch>()
        );
        LogTurned(posts);
        _checkedBy = current;
    }

    [LoggerMessage(Level = LogLevel.Information, Message = "Other rules of networks hold from today on: {Posts} posts were checked anew")]
    private partial void LogTurned(int posts);

    /// <summary>Workspaces in which something is to be scheduled or written down as passed.</summary>
    private async Task<List<Id<Workspace>>> DueAsync(Instant now, CancellationToken cancellation)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        IQueryable<Workspace> all = scope.ServiceProvider.GetRequiredService<LarkDb>().Workspaces.AsNoTracking();
        List<Workspace> workspaces;
        try
        {
            workspaces = await all.ToListAsync(cancellation);
        }
        catch (Exception e) when (DamageWatch.MayBeDamage(e))
        {
            // One that can't be read stops none of the others.
            if (!await scope.ServiceProvider.GetRequiredService<DamageWatch>().LookAtAllAsync(cancellation))
                throw;
            workspaces = await all.ToListAsync(cancellation);
        }
        List<Id<Workspace>> due =
        [
            .. workspaces
                .Where(w =>
                    !(w.ScheduledStamp == w.PlanStamp && w.ScheduledThrough >= SchedulePlan.Horizon(w, now) && !(w.NextToPass <= now))
                )
                .Select(w => w.Id),
        ];
        return await scope.ServiceProvider.GetRequiredService<Backoff>().WithoutAsync(Kind, due, w => w.Value, cancellation);
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "Workspace {Workspace} can't be scheduled; it is put aside for a while")]
    private partial void LogFailure(Id<Workspace> workspace, Exception exception);
}
