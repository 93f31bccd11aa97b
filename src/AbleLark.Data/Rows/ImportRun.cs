using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Imports;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

public enum ImportState
{
    /// <summary>Begun: nothing of it is in the bank.</summary>
    Open,
    Imported,
    TakenBack,
}

/// <summary>A sheet that is being read into the bank, or was. All that is decided about it is kept, so that it can be left and gone on
/// with, by anybody.</summary>
public sealed class ImportRun : HasActor
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<ImportRun> Id { get; init; }
    public required string FileName { get; set; }

    /// <summary>Where the file lies among the kept files.</summary>
    public required string SourceKey { get; init; }

    public required Instant StartedAt { get; init; }

    /// <summary>How the file is read, where somebody said so; null: as it was recognised.</summary>
    public string? Encoding { get; set; }

    public string? Delimiter { get; set; }
    public string? SheetName { get; set; }

    public required ImportPlan Plan { get; set; }

    /// <summary>Its headers in plain form: what was chosen for them is remembered for others like them.</summary>
    public required string Headers { get; set; }

    /// <summary>Grows with every change, to it or to its rows.</summary>
    public int Revision { get; set; }

    /// <summary>Revision at which the file or its columns last changed; rows changed since are found by theirs.</summary>
    public int PlanRevision { get; set; }

    public ImportState State { get; set; }

    /// <summary>When it came into the bank.</summary>
    public Instant? At { get; set; }

    /// <summary>New posts.</summary>
    public int Posts { get; set; }

    /// <summary>Posts that were there and took something over.</summary>
    public int Changed { get; set; }

    public int Deliveries { get; set; }
    public Id<ChangeSet>? ChangeSetId { get; set; }
    public Instant? TakenBackAt { get; set; }
}

/// <summary>What was changed in one row of a sheet.</summary>
public sealed class ImportEdit
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<ImportRun> ImportId { get; init; }

    /// <summary>Number in the file, from 1.</summary>
    public required int Row { get; init; }

    public required RowEdit Edit { get; set; }

    /// <summary>The import's as it was written.</summary>
    public required int Revision { get; set; }
}

/// <summary>What a row came to.</summary>
public enum RowEnd
{
    /// <summary>A new post.</summary>
    Added,

    /// <summary>Part of the post of a row before it.</summary>
    Joined,

    /// <summary>Another wording of a post that was there.</summary>
    Wording,

    /// <summary>A post that was there took it over.</summary>
    Updated,

    /// <summary>It was there already, just so.</summary>
    Unchanged,

    /// <summary>Left out, by a person or as a double.</summary>
    LeftOut,

    /// <summary>It could not be imported as it was.</summary>
    Refused,
}

/// <summary>What became of one row of a sheet.</summary>
public sealed class ImportedRow
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<ImportRun> ImportId { get; init; }

    /// <summary>Number in the file, from 1.</summary>
    public required int Row { get; init; }

    public required RowEnd End { get; init; }
    public Id<Post>? PostId { get; init; }

    /// <summary>What stood in the way, in words; empty: nothing.</summary>
    public required string Words { get; init; }
}
