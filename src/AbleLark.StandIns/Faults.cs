using System.Collections.Concurrent;

namespace AbleLark.StandIns;

/// <summary>Trouble that can be ordered, for one account or for all.</summary>
public sealed class Faults(Store store)
{
    public static IReadOnlyList<string> Kinds { get; } = ["refuse", "error", "slow", "loseAnswer", "expiredToken", "rateLimited", "down"];

    public const string RefusalWords = "This account may not post just now. Check its standing on the network.";

    /// <summary>Takes the next fault ordered for the account, if any.</summary>
    public Task<string?> NextAsync(string accountId) => store.TakeFaultAsync(accountId);
}

/// <summary>Most posts an account may make in a minute of machine time.</summary>
public sealed class RateLimit
{
    private const int MostPerMinute = 900;
    private readonly ConcurrentDictionary<string, Queue<DateTimeOffset>> _recent = new();

    /// <summary>Null when the post may pass; else the seconds to wait.</summary>
    public int? Ask(string accountId)
    {
        Queue<DateTimeOffset> recent = _recent.GetOrAdd(accountId, _ => new());
        DateTimeOffset now = DateTimeOffset.UtcNow;
        lock (recent)
        {
            while (recent.TryPeek(out DateTimeOffset first) && first < now.AddMinutes(-1)) recent.Dequeue();
            if (recent.Count >= MostPerMinute) return (int)Math.Ceiling((recent.Peek().AddMinutes(1) - now).TotalSeconds);
            recent.Enqueue(now);
            return null;
        }
    }
}
