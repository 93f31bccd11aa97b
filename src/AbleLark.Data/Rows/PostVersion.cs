using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Content;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>One state of a post's content; never changed once written.</summary>
public sealed class PostVersion : HasActor
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Post> PostId { get; init; }
    public required int Number { get; init; }
    public required PostContent Content { get; init; }
    public required Instant MadeAt { get; init; }
}
