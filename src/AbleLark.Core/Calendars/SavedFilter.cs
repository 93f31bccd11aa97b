using AbleLark.Core.Workspaces;

namespace AbleLark.Core.Calendars;

/// <summary>A way of looking at the calendar that was given a name: for everybody in the workspace.</summary>
public sealed class SavedFilter
{
    public const int Longest = 2_000;

    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<SavedFilter> Id { get; init; }
    public required string Name { get; set; }

    /// <summary>What of the calendar's address makes it: its query, without the date.</summary>
    public required string Query { get; set; }
}
