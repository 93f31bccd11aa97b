using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>One act of a person, with everything it changed: undo, take-back, history and audit read it.</summary>
public sealed class ChangeSet : HasActor
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<ChangeSet> Id { get; init; }

    /// <summary>Business time.</summary>
    public required Instant At { get; init; }

    public required Act Act { get; set; }

    /// <summary>What doing it took, and taking it back takes; empty: nobody's right, or it isn't known.</summary>
    public List<Right> Rights { get; init; } = [];

    public Instant? UndoneAt { get; set; }
    public List<Change> Changes { get; init; } = [];
}

public enum ChangeKind
{
    Added,
    Changed,
    Removed,
}

/// <summary>One thing that an act changed, before and after.</summary>
public sealed class Change
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<ChangeSet> ChangeSetId { get; init; }
    public required int Number { get; init; }
    public required ChangeKind Kind { get; init; }

    /// <summary>Name of the entity's type, such as Post.</summary>
    public required string Entity { get; init; }

    public required Guid EntityId { get; init; }

    /// <summary>The changed properties before, as JSON; null for something added.</summary>
    public Dictionary<string, System.Text.Json.JsonElement>? Before { get; init; }

    /// <summary>The changed properties after, as JSON; null for something removed.</summary>
    public Dictionary<string, System.Text.Json.JsonElement>? After { get; init; }
}
