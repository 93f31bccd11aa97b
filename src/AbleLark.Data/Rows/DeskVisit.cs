using AbleLark.Core;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>A person who has a post open on the desk.</summary>
public sealed class DeskVisit
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Post> PostId { get; init; }
    public required Guid PersonId { get; init; }

    /// <summary>Machine time: when their page last said so.</summary>
    public required Instant SeenAt { get; set; }

    /// <summary>True while they have typed what isn't saved yet.</summary>
    public required bool IsWriting { get; set; }
}
