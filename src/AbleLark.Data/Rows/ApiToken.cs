using AbleLark.Core;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>Lets a script into one workspace. Only a digest of it is kept: it is shown once, when it is made.</summary>
public sealed class ApiToken
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<ApiToken> Id { get; init; }

    /// <summary>What it is for, in the words of who made it.</summary>
    public required string Name { get; init; }

    /// <summary>SHA-256 of the token, in hexadecimal.</summary>
    public required string Digest { get; init; }

    /// <summary>Whose rights it has.</summary>
    public required Guid PersonId { get; init; }

    /// <summary>Machine time.</summary>
    public required Instant MadeAt { get; init; }

    /// <summary>What it may do; never more than the person may.</summary>
    public List<Right> Rights { get; init; } = [];

    /// <summary>Machine time at which it stops working.</summary>
    public required Instant EndsAt { get; init; }

    public Instant? UsedAt { get; set; }
    public Instant? RevokedAt { get; set; }
}
