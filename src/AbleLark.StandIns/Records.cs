using NodaTime;

namespace AbleLark.StandIns;

/// <param name="Interests">Words that this account's followers care for, and how much more than usual.</param>
public sealed record Account(string Id, string Network, string Handle, string Name, int Followers, Dictionary<string, double> Interests);

/// <param name="Under">The post that it stands under, as a comment or a further part; null: none.</param>
/// <param name="More">What else it says, by name.</param>
public sealed record RemotePost(
    string Id,
    string Network,
    string AccountId,
    string Text,
    string? Link,
    string[] Media,
    Instant CreatedAt,
    string? Under,
    Dictionary<string, string> More
);

public sealed record TokenPair(string Access, string Refresh, Instant ExpiresAt);
