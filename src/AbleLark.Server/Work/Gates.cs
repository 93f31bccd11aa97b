using System.Collections.Concurrent;

namespace AbleLark.Server.Work;

/// <summary>A gate for each key, which lets one through at a time: who does what others want as well lets them wait for it.</summary>
public sealed class Gates<TKey>
    where TKey : notnull
{
    private readonly ConcurrentDictionary<TKey, SemaphoreSlim> _gates = new();

    public SemaphoreSlim Of(TKey key) => _gates.GetOrAdd(key, _ => new(1));
}
