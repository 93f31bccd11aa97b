using NodaTime;

namespace AbleLark.StandIns;

/// <param name="Interests">Words that this account's followers care for, and how much more than usual.</param>
public sealed record Account(string Id, string Network, string Handle, string Name, int Followers, Dictionary<string, double> Interests);

public sealed record RemotePost(
    string Id,
    string Network,
    string AccountId,
    string Text,
    string? Link,
    string[] Media,
    Instant CreatedAt,
    string? Under = null
);

public sealed record TokenPair(string Access, string Refresh, Instant ExpiresAt);
