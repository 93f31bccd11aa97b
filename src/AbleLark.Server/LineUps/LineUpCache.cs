using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Core.LineUps;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.LineUps;

/// <summary>What was last read of each workspace. It holds while the plan's stamp does, so that trying a change while somebody drags asks
/// the database for one row only.</summary>
public sealed class LineUpSnapshots
{
    private const int Most = 50;
    private readonly ConcurrentDictionary<Id<Workspace>, (long Stamp, LineUpInput Input)> _kept = [];

    public LineUpInput? Find(Workspace workspace) =>
        _kept.TryGetValue(workspace.Id, out var kept) && kept.Stamp == workspace.PlanStamp ? kept.Input : null;

    public void Keep(Workspace workspace, LineUpInput input)
    {
        if (_kept.Count >= Most)
            _kept.Clear();
        _kept[workspace.Id] = (workspace.PlanStamp, input);
    }
}

/// <summary>The line-up's input for looking ahead only. For what has been sent already, read it afresh.</summary>
public sealed class LineUpCache(LarkDb db, LineUpReader reader, LineUpSnapshots snapshots)
{
    public async Task<(Workspace Workspace, LineUpInput Input)> GetAsync(Id<Workspace> id, CancellationToken cancellation)
    {
        Workspace workspace =
            await db.Workspaces.AsNoTracking().SingleOrDefaultAsync(w => w.Id == id, cancellation)
            ?? throw ProblemException.NotFound("This workspace");
        if (snapshots.Find(workspace) is { } kept)
            return (workspace, kept);
        LineUpInput input = await reader.ReadAsync(workspace, cancellation);
        snapshots.Keep(workspace, input);
        return (workspace, input);
    }
}
