using System.Collections.Concurrent;

namespace AbleLark.StandIns;

/// <summary>Trouble that can be ordered, for one account or for all.</summary>
public sealed class Faults(Store store)
{
    public static IReadOnlyList<string> Kinds { get; } =
    ["refuse", "error", "slow", "late", "silent", "nonsense", "loseAnswer", "expiredToken", "rateLimited", "down"];

    public const string RefusalWords = "This account may not post just now. Check its standing on the network.";

    /// <summary>Takes the next fault ordered for the account, if any.</summary>
    public Task<string?> NextAsync(string accountId) => store.TakeFaultAsync(accountId);
}

/// <summary>How a network behaves apart from faults; the rules file that tells the application of it is changed together with it.</summary>
/// <param name="HonoursKeys">False: the same idempotency key posts again.</param>
/// <param name="LatencyMilliseconds">How long each posting takes to be answered.</param>
/// <param name="LateSeconds">After how many seconds the fault `late` does its work.</param>
public sealed record NetworkManners(bool HonoursKeys = true, int LatencyMilliseconds = 0, double LateSeconds = 17);

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
            while (recent.TryPeek(out DateTimeOffset first) && first < now.AddMinutes(-1))
                recent.Dequeue();
            if (recent.Count >= MostPerMinute)
                return (int)Math.Ceiling((recent.Peek().AddMinutes(1) - now).TotalSeconds);
            recent.Enqueue(now);
            return null;
        }
    }
}
