using System.Runtime.CompilerServices;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace AbleLark.Data;

/// <summary>
/// The one lock of a workspace: acts that rest on what else is there are one after the other. It keeps nobody from writing rows that
/// belong to the workspace. Whoever holds it too long is ended (see <see cref="HeldLocks"/>).
/// </summary>
public static class WorkspaceLock
{
    /// <summary>The workspace as it is now, locked until the transaction ends: one process at a time schedules, books or gives times in
    /// it.</summary>
    /// <param name="by">Which code takes it.</param>
    /// <param name="in">In which file that is.</param>
    public static async Task<Workspace> LockWorkspaceAsync(
        this LarkDb db,
        Id<Workspace> id,
        CancellationToken cancellation,
        [CallerMemberName] string by = "",
        [CallerFilePath] string @in = ""
    )
    {
        Workspace workspace = await db
            .Workspaces.FromSql($"select * from workspaces where id = {id.Value} for no key update")
            .SingleAsync(cancellation);
        await WatchAsync(db, id, by, @in, cancellation);
        await db.Entry(workspace).ReloadAsync(cancellation);
        return workspace;
    }

    /// <summary>Begins a transaction in which nobody else counts or changes what a workspace may hold, or goes on in the one that is
    /// open.</summary>
    /// <param name="by">Which code takes it.</param>
    /// <param name="in">In which file that is.</param>
    public static async Task<AloneInWorkspace> BeginAloneAsync(
        this LarkDb db,
        Id<Workspace> id,
        CancellationToken cancellation,
        [CallerMemberName] string by = "",
        [CallerFilePath] string @in = ""
    )
    {
        IDbContextTransaction? own = db.Database.CurrentTransaction is null ? await db.Database.BeginTransactionAsync(cancellation) : null;
        AloneInWorkspace alone = new(own);
        try
        {
            await db
                .Database.SqlQuery<Guid>($"select id as \"Value\" from workspaces where id = {id.Value} for no key update")
                .ToListAsync(cancellation);
            if (own is not null)
                await WatchAsync(db, id, by, @in, cancellation);
            return alone;
        }
        catch
        {
            await alone.DisposeAsync();
            throw;
        }
    }

    /// <summary>Lets this transaction wait for locks for a second only: who has others to look after doesn't stand in a line.</summary>
    public static Task WaitBrieflyAsync(this LarkDb db, CancellationToken cancellation) =>
        db.Database.ExecuteSqlAsync($"set local lock_timeout = '1s'", cancellation);

    private static async Task WatchAsync(LarkDb db, Id<Workspace> id, string by, string @in, CancellationToken cancellation)
    {
        if (db.MayHoldLocks || HeldLocks.Of(db) is not { } held)
            return;
        string transaction = await db
            .Database.SqlQuery<string>($"select pg_current_xact_id()::xid::text as \"Value\"")
            .SingleAsync(cancellation);
        held.Taken(db, id, $"{Path.GetFileNameWithoutExtension(@in)}.{by}", transaction);
    }
}

/// <summary>A workspace's lock for as long as a transaction is open.</summary>
public sealed class AloneInWorkspace(IDbContextTransaction? own) : IAsyncDisposable
{
    /// <summary>Writes down what was saved, unless whoever began the transaction does.</summary>
    public Task CommitAsync(CancellationToken cancellation) => own?.CommitAsync(cancellation) ?? Task.CompletedTask;

    public ValueTask DisposeAsync() => own?.DisposeAsync() ?? ValueTask.CompletedTask;
}
