using AbleLark.Core;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>The kinds of background work; each has a loop of its own.</summary>
public enum WorkKind
{
    Scheduling,
    Sending,
    Figures,
    Audiences,
    Outside,
    Calendars,
    Tidying,
}

/// <summary>Something that background work failed on again and again: counted, and put aside until <see cref="RetryAt"/> so that it stops
/// nothing else.</summary>
public sealed class WorkFailure
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required WorkKind Work { get; init; }

    /// <summary>Identity of the workspace, channel or delivery that it failed on.</summary>
    public required Guid Subject { get; init; }

    /// <summary>Failures in a row.</summary>
    public int Count { get; set; }

    /// <summary>Machine time of the first in a row.</summary>
    public Instant FirstAt { get; set; }

    /// <summary>Machine time of the latest.</summary>
    public Instant LastAt { get; set; }

    /// <summary>Machine time.</summary>
    public Instant RetryAt { get; set; }

    /// <summary>What happened, for a person.</summary>
    public string Words { get; set; } = "";
}
