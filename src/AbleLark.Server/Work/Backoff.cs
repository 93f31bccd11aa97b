using System.Linq.Expressions;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Kinds;
using AbleLark.Data.Rows;
using AbleLark.Server.Checks;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Work;

/// <summary>Counts what background work fails on and leaves it alone for a growing while, so that it stops nothing else. Kept in the
/// database: all processes mind it.</summary>
public sealed class Backoff(LarkDb db, IClock machine, LoopHealth health, DamageWatch watch)
{
    private static readonly Duration FirstPause = Duration.FromSeconds(2);
    private static readonly Duration LongestPause = Duration.FromMinutes(5);

    /// <summary>Failures in a row after which people are shown it: a hiccup is nobody's business.</summary>
    public const int ShownAfter = 3;

    /// <summary>What people are shown. A slot of which a place can't be written down is shown at once: it is no hiccup.</summary>
    public static Expression<Func<WorkFailure, bool>> IsShown { get; } =
        f => f.Count >= ShownAfter || (f.Work == WorkKind.Scheduling && f.Subject != (Guid)(object)f.WorkspaceId);

    private static bool IsPlace(WorkKind work, Id<Workspace> workspace, Guid subject) =>
        work == WorkKind.Scheduling && subject != workspace.Value;

    /// <summary>2 seconds, then double each time, up to 5 minutes.</summary>
    public static Duration Pause(int failures) => Duration.Min(LongestPause, FirstPause * Math.Pow(2, Math.Clamp(failures - 1, 0, 20)));

    /// <summary>What is due, without what is left alone now.</summary>
    public async Task<List<T>> WithoutAsync<T>(WorkKind work, List<T> due, Func<T, Guid> subject, CancellationToken cancellation)
    {
        if (due.Count == 0)
        {
            health.PutAside(work, 0);
            return due;
        }
        Instant now = machine.Now();
        HashSet<Guid> aside =
        [
            .. await db.WorkFailures.Where(f => f.Work == work && f.RetryAt > now).Select(f => f.Subject).ToListAsync(cancellation),
        ];
        health.PutAside(work, aside.Count);
        return [.. due.Where(d => !aside.Contains(subject(d)))];
    }

    /// <param name="wait">How long it asks to be left alone; null: a growing while.</param>
    /// <param name="failure">Of ours; null: somebody else's, such as a network's.</param>
    /// <returns>Failures in a row.</returns>
    public async Task<int> FailedAsync(
        WorkKind work,
        Id<Workspace> workspace,
        Guid subject,
        string words,
        Duration? wait,
        CancellationToken cancellation,
        Exception? failure = null
    )
    {
        health.FailedOnOne(work);
        // It may rest on a damaged row: without it, it goes on at the next try.
        if (failure is not null && DamageWatch.MayBeDamage(failure))
            await watch.LookAsync(workspace, cancellation);
        words = words.Replace("\0", "", StringComparison.Ordinal);
        Instant now = machine.Now();
        int before = await db
            .WorkFailures.Where(f => f.WorkspaceId == workspace && f.Work == work && f.Subject == subject)
            .Select(f => f.Count)
            .FirstOrDefaultAsync(cancellation);
        Instant retry = now + (wait ?? Pause(before + 1));
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into work_failures (workspace_id, work, subject, count, first_at, last_at, retry_at, words)
            values ({workspace.Value}, {work.ToString()}, {subject}, 1, {now}, {now}, {retry}, {words})
            on conflict (workspace_id, work, subject) do update
            set count = work_failures.count + 1, last_at = excluded.last_at, retry_at = excluded.retry_at, words = excluded.words
            """,
            cancellation
        );
        if (before + 1 == (IsPlace(work, workspace, subject) ? 1 : ShownAfter))
            await ChangeNotification.TellAsync(db, workspace, Topic.Deliveries, cancellation);
        return before + 1;
    }

    /// <summary>It went well: whatever was counted against it is over.</summary>
    public async Task WorkedAsync(WorkKind work, Id<Workspace> workspace, Guid subject, CancellationToken cancellation)
    {
        int shown = await db
            .WorkFailures.Where(f => f.WorkspaceId == workspace && f.Work == work && f.Subject == subject)
            .Select(f => f.Count)
            .FirstOrDefaultAsync(cancellation);
        if (shown == 0)
            return;
        await db
            .WorkFailures.Where(f => f.WorkspaceId == workspace && f.Work == work && f.Subject == subject)
            .ExecuteDeleteAsync(cancellation);
        if (shown >= (IsPlace(work, workspace, subject) ? 1 : ShownAfter))
            await ChangeNotification.TellAsync(db, workspace, Topic.Deliveries, cancellation);
    }
}
