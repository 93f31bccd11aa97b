using System.Collections.Concurrent;

namespace AbleLark.Server.Work;

/// <summary>A lock for each key: who does what others want as well lets them wait for it.</summary>
public sealed class KeyedLocks<TKey>
    where TKey : notnull
{
    private readonly ConcurrentDictionary<TKey, SemaphoreSlim> _locks = new();

    public SemaphoreSlim Of(TKey key) => _locks.GetOrAdd(key, _ => new(1));
}
