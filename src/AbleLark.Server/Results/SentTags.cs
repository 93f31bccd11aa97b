using System.Collections.Concurrent;

namespace AbleLark.Server.Results;

/// <summary>Hashtags of what was sent, by delivery. What was sent never changes, so that what was once read of it holds for good.</summary>
public sealed class SentTags
{
    private const int Most = 500_000;
    private readonly ConcurrentDictionary<Guid, string[]> _kept = [];

    /// <summary>Null: never read, or forgotten.</summary>
    public string[]? Of(Guid delivery) => _kept.GetValueOrDefault(delivery);

    public void Keep(IEnumerable<(Guid Delivery, string[] Tags)> read)
    {
        if (_kept.Count > Most)
            _kept.Clear();
        foreach ((Guid delivery, string[] tags) in read)
            _kept[delivery] = tags;
    }
}
