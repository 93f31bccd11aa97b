using System.Text.Json.Serialization;
using NodaTime;

namespace AbleLark.StandIns;

/// <param name="Interests">Words that this account's followers care for, and how much more than usual.</param>
public sealed record Account(string Id, string Network, string Handle, string Name, int Followers, Dictionary<string, double> Interests)
{
    /// <summary>True: programs may do for it what they may not for others.</summary>
    public bool IsBusiness { get; init; }

    /// <summary>True: it is a person's; false: an organisation's page.</summary>
    public bool IsPerson { get; init; }

    /// <summary>True: a group of people, who post in it.</summary>
    public bool IsGroup { get; init; }

    /// <summary>What programs are told that it is.</summary>
    [JsonIgnore]
    public string Kind =>
        IsBusiness ? "business"
        : IsGroup ? "group"
        : IsPerson ? "profile"
        : "page";
}

/// <param name="Under">The post that it stands under, as a comment or a further part; null: none.</param>
/// <param name="More">What else it says, by name.</param>
public sealed record RemotePost(
    string Id,
    string Network,
    string AccountId,
    string Text,
    string? Link,
    ShownMedia[] Media,
    Instant CreatedAt,
    string? Under,
    Dictionary<string, string> More
);

/// <summary>A file that goes with a post.</summary>
/// <param name="Id">Of the upload.</param>
/// <param name="AltText">A picture in words.</param>
/// <param name="Kind">Media type; null: it was posted before that was kept.</param>
public sealed record ShownMedia(string Id, string? AltText = null, string? Kind = null);

/// <summary>What is known of an upload.</summary>
/// <param name="Seconds">A video's length.</param>
/// <param name="Pages">A document's.</param>
public sealed record MediaFacts(string Kind, long Bytes, int Width, int Height, double Seconds = 0, int Pages = 0);

public sealed record TokenPair(string Access, string Refresh, Instant ExpiresAt);
