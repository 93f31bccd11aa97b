using AbleLark.Core;
using AbleLark.Core.Workspaces;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

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

    /// <summary>Begins a transaction in which nobody else counts or changes what a workspace may hold, or goes on in the one that is
    /// open.</summary>
    public static async Task<AloneInWorkspace> BeginAloneAsync(this LarkDb db, Id<Workspace> id, CancellationToken cancellation)
    {
        IDbContextTransaction? own = db.Database.CurrentTransaction is null ? await db.Database.BeginTransactionAsync(cancellation) : null;
        AloneInWorkspace alone = new(own);
        try
        {
            await db
                .Database.SqlQuery<Guid>($"select id as \"Value\" from workspaces where id = {id.Value} for update")
                .ToListAsync(cancellation);
            return alone;
        }
        catch
        {
            await alone.DisposeAsync();
            throw;
        }
    }
}

/// <summary>A workspace's lock for as long as a transaction is open.</summary>
public sealed class AloneInWorkspace(IDbContextTransaction? own) : IAsyncDisposable
{
    /// <summary>Writes down what was saved, unless whoever began the transaction does.</summary>
    public Task CommitAsync(CancellationToken cancellation) => own?.CommitAsync(cancellation) ?? Task.CompletedTask;

    public ValueTask DisposeAsync() => own?.DisposeAsync() ?? ValueTask.CompletedTask;
}
