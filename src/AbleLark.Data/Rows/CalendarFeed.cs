using AbleLark.Core;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>A secret address at which a calendar program reads what is planned. Only a digest of it is kept: it is shown once, when it is
/// made.</summary>
public sealed class CalendarFeed
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<CalendarFeed> Id { get; init; }

    /// <summary>Whose calendar it is for, in the words of who made it.</summary>
    public required string Name { get; init; }

    /// <summary>SHA-256 of the address's secret, in hexadecimal.</summary>
    public required string Digest { get; init; }

    /// <summary>It gives what this person may see, and nothing once they have left.</summary>
    public required Guid PersonId { get; init; }

    /// <summary>What of the calendar it gives: the query of its address.</summary>
    public required string Query { get; init; }

    /// <summary>Machine time.</summary>
    public required Instant MadeAt { get; init; }

    public Instant? UsedAt { get; set; }
    public Instant? RevokedAt { get; set; }
}
