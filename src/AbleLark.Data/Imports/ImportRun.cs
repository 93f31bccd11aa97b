using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data.History;
using NodaTime;

namespace AbleLark.Data.Imports;

/// <summary>A sheet that was read into the bank.</summary>
public sealed class ImportRun
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<ImportRun> Id { get; init; }
    public required string FileName { get; init; }
    public required Instant At { get; init; }
    public required int Posts { get; init; }
    public required int Deliveries { get; init; }
    public required Id<ChangeSet> ChangeSetId { get; init; }
    public Instant? TakenBackAt { get; set; }
}
