using AbleLark.Core;
using AbleLark.Core.Workspaces;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data;

public static class WorkspaceLock
{
    /// <summary>The workspace as it is now, locked until the transaction ends: one process at a time schedules, books or gives times in
    /// it.</summary>
    public static async Task<Workspace> LockWorkspaceAsync(this LarkDb db, Id<Workspace> id, CancellationToken cancellation)
    {
        Workspace workspace = await db
            .Workspaces.FromSql($"select * from workspaces where id = {id.Value} for update")
            .SingleAsync(cancellation);
        await db.Entry(workspace).ReloadAsync(cancellation);
        return workspace;
    }
}
