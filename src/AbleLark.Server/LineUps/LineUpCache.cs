using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.LineUps;

/// <summary>What was last read of each workspace, and worked out from it. It holds while the plan's stamp does, so that trying a change
/// while somebody drags asks the database for one row only.</summary>
/// <param name="time">Machine time: how well posts did, which moves no stamp, may be this old at most.</param>
public sealed class LineUpSnapshots(TimeProvider time)
{
    private const int Most = 50;
    private static readonly TimeSpan Oldest = TimeSpan.FromMinutes(1);
    private readonly ConcurrentDictionary<Id<Workspace>, (long Stamp, long ReadAt, SharedLineUp LineUp)> _kept = [];

    public SharedLineUp? Find(Workspace workspace) =>
        _kept.TryGetValue(workspace.Id, out var kept) && kept.Stamp == workspace.PlanStamp && time.GetElapsedTime(kept.ReadAt) < Oldest
            ? kept.LineUp
            : null;

    /// <summary>For whoever reads a workspace: all views of a page ask at once when the plan changes.</summary>
    public KeyedLocks<Id<Workspace>> Locks { get; } = new();

    public void Keep(Workspace workspace, SharedLineUp lineUp)
    {
        if (_kept.Count >= Most)
            _kept.Clear();
        _kept[workspace.Id] = (workspace.PlanStamp, time.GetTimestamp(), lineUp);
    }
}

/// <summary>The line-up as everybody looks at it. Whoever writes by it reads its input afresh, under the workspace's lock.</summary>
public sealed class LineUpCache(LarkDb db, LineUpReader reader, LineUpSnapshots snapshots)
{
    public async Task<(Workspace Workspace, SharedLineUp LineUp)> GetAsync(Id<Workspace> id, CancellationToken cancellation)
    {
        Workspace workspace = await FindAsync(id, cancellation);
        if (snapshots.Find(workspace) is { } kept)
            return (workspace, kept);
        SemaphoreSlim one = snapshots.Locks.Of(id);
        await one.WaitAsync(cancellation);
        try
        {
            // Whoever had to wait may find it read, of a plan that has changed once more.
            workspace = await FindAsync(id, cancellation);
            if (snapshots.Find(workspace) is { } read)
                return (workspace, read);
            SharedLineUp lineUp = new(await reader.ReadAsync(workspace, cancellation));
            snapshots.Keep(workspace, lineUp);
            return (workspace, lineUp);
        }
        finally
        {
            one.Release();
        }
    }

    private async Task<Workspace> FindAsync(Id<Workspace> id, CancellationToken cancellation) =>
        await db.Workspaces.AsNoTracking().SingleOrDefaultAsync(w => w.Id == id, cancellation)
        ?? throw ProblemException.NotFound("This workspace");
}
