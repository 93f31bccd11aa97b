using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Infrastructure;

namespace AbleLark.Data.Damage;

/// <summary>Which rows are put aside, as this process knows it: every query of such a kind leaves them out.</summary>
public sealed class DamagedRows : IInterceptor
{
    private readonly ConcurrentDictionary<Type, Guid[]> _aside = new();

    /// <summary>How many rows are put aside.</summary>
    public int Count => _aside.Values.Sum(a => a.Length);

    /// <summary>Those of a context; null: it reads whatever there is.</summary>
    internal static DamagedRows? Of(DbContextOptions options) =>
        options.FindExtension<CoreOptionsExtension>()?.Interceptors?.OfType<DamagedRows>().FirstOrDefault();

    /// <summary>Ids of a kind's rows, or of those that they belong to.</summary>
    internal List<Id<TOwner>> Of<T, TOwner>()
        where T : class
        where TOwner : class => _aside.TryGetValue(typeof(T), out Guid[]? ids) ? [.. ids.Select(i => new Id<TOwner>(i))] : [];

    /// <summary>Takes over what is written down.</summary>
    /// <returns>True when it is other than what this process knew.</returns>
    internal async Task<bool> ReadAsync(LarkDb db, IEnumerable<Type> kinds, CancellationToken cancellation)
    {
        List<DamagedRow> rows = await db.DamagedRows.AsNoTracking().ToListAsync(cancellation);
        ILookup<string, Guid> byKind = rows.ToLookup(r => r.Kind, r => r.RowId);
        bool isOther = false;
        foreach (Type type in _aside.Keys.Where(t => !byKind.Contains(t.Name)))
            isOther |= _aside.TryRemove(type, out _);
        foreach (Type type in kinds.Where(t => byKind.Contains(t.Name)))
        {
            Guid[] ids = [.. byKind[type.Name].Order()];
            isOther |= !_aside.TryGetValue(type, out Guid[]? before) || !before.SequenceEqual(ids);
            _aside[type] = ids;
        }
        return isOther;
    }
}
