using System.Collections.Concurrent;
using System.Data.Common;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Infrastructure;

namespace AbleLark.Data;

/// <summary>A transaction that holds a workspace's lock.</summary>
/// <param name="What">Which code took it.</param>
/// <param name="Since">As <see cref="TimeProvider.GetTimestamp"/> gives it.</param>
/// <param name="Transaction">As the database calls it: no other is ever ended for it.</param>
public sealed record HeldLock(Id<Workspace> Workspace, string What, long Since, string Transaction);

/// <summary>Which transactions of this process hold workspaces' locks: one that holds it for too long is ended, since everybody else of
/// that workspace waits for it.</summary>
public sealed class HeldLocks(TimeProvider time) : DbTransactionInterceptor
{
    private readonly ConcurrentDictionary<DbContextId, HeldLock> _held = new();

    internal void Taken(LarkDb db, Id<Workspace> workspace, string what, string transaction) =>
        _held[db.ContextId] = new(workspace, what, time.GetTimestamp(), transaction);

    /// <summary>Those of a context; null: nobody watches over them.</summary>
    internal static HeldLocks? Of(LarkDb db) =>
        db.GetService<IDbContextOptions>().FindExtension<CoreOptionsExtension>()?.Interceptors?.OfType<HeldLocks>().FirstOrDefault();

    /// <summary>True when one has been held for longer.</summary>
    public bool IsAnyOlder(TimeSpan longest) => _held.Values.Any(h => time.GetElapsedTime(h.Since) >= longest);

    /// <summary>Ends transactions that have held a lock for longer; nothing of them is written down.</summary>
    /// <returns>Those that were ended.</returns>
    public async Task<IReadOnlyList<HeldLock>> EndAsync(TimeSpan longest, LarkDb through, CancellationToken cancellation)
    {
        List<HeldLock> ended = [];
        foreach ((DbContextId id, HeldLock held) in _held)
        {
            if (time.GetElapsedTime(held.Since) < longest || !_held.TryRemove(id, out _))
                continue;
            // What was dropped without a word is over, and its connection may serve another by now.
            List<bool> found = await through
                .Database.SqlQuery<bool>(
                    $"""
                    select pg_terminate_backend(pid) as "Value" from pg_stat_activity
                    where backend_xid::text = {held.Transaction} and datname = current_database()
                    """
                )
                .ToListAsync(cancellation);
            if (found.Count > 0)
                ended.Add(held);
        }
        return ended;
    }

    public override void TransactionCommitted(DbTransaction transaction, TransactionEndEventData eventData) => Over(eventData.Context);

    public override Task TransactionCommittedAsync(
        DbTransaction transaction,
        TransactionEndEventData eventData,
        CancellationToken cancellationToken = default
    )
    {
        Over(eventData.Context);
        return Task.CompletedTask;
    }

    public override void TransactionRolledBack(DbTransaction transaction, TransactionEndEventData eventData) => Over(eventData.Context);

    public override Task TransactionRolledBackAsync(
        DbTransaction transaction,
        TransactionEndEventData eventData,
        CancellationToken cancellationToken = default
    )
    {
        Over(eventData.Context);
        return Task.CompletedTask;
    }

    private void Over(DbContext? db)
    {
        if (db is not null)
            _held.TryRemove(db.ContextId, out _);
    }
}
