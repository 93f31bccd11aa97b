using AbleLark.Core;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>A row that can't be read, or holds what nothing can be worked out from. It is left where it is and left out of everything, so
/// that the rest goes on.</summary>
public sealed class DamagedRow
{
    public required Id<Workspace> WorkspaceId { get; init; }

    /// <summary>Name of its type, such as Slot.</summary>
    public required string Kind { get; init; }

    public required Guid RowId { get; init; }

    /// <summary>Name of its table.</summary>
    public required string Table { get; init; }

    /// <summary>Which column, or which row that it belongs to.</summary>
    public required string Field { get; init; }

    public required string Words { get; init; }

    /// <summary>Machine time.</summary>
    public required Instant FoundAt { get; init; }

    /// <summary>True: it can be read, and is left out since it belongs to a row that can't. An identity in itself is always read.</summary>
    public bool IsBelonging => Field.EndsWith("_id", StringComparison.Ordinal);
}
