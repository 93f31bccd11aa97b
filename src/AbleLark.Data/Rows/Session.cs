using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>Somebody is signed in: the cookie holds a secret, of which only a digest is kept, and says nothing once the row is
/// gone.</summary>
public sealed class Session
{
    /// <summary>SHA-256 of the secret, in hexadecimal.</summary>
    public required string Digest { get; init; }

    public required Guid PersonId { get; init; }

    /// <summary>The person's, when they signed in: another since ends the session.</summary>
    public required string SecurityStamp { get; init; }

    /// <summary>Who they are, as the framework writes it; encrypted with the server's keys.</summary>
    public required byte[] Ticket { get; set; }

    /// <summary>Machine time.</summary>
    public required Instant MadeAt { get; init; }

    /// <summary>Machine time.</summary>
    public required Instant EndsAt { get; set; }
}

/// <summary>How often something may be tried yet, such as a password of one account: by whatever name its tries are counted.</summary>
public sealed class TryCount
{
    public required string Key { get; init; }

    /// <summary>Machine time up to which its tries are used up: the further it lies ahead, the longer the next one waits.</summary>
    public required Instant UsedUntil { get; set; }
}
