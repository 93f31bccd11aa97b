using AbleLark.Core.Acts;
using AbleLark.Core.Content;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Posts;

/// <summary>Approval of a post: of the very content of each variant and wording that was read, and of no other.</summary>
public sealed class Approval : HasActor
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Approval> Id { get; init; }
    public required Id<Post> PostId { get; init; }

    /// <summary>The post's version that was read.</summary>
    public required int Version { get; init; }

    public required Instant At { get; init; }

    /// <summary>By network key, or by channel where that has content of its own: the <see cref="ContentHash"/> of each wording.</summary>
    public required IReadOnlyDictionary<string, IReadOnlyList<string>> Hashes { get; init; }

    /// <summary>True when it was given to this very content on the network. Of a network that was not known yet it covers what it covers
    /// on any other.</summary>
    public bool Covers(string key, string hash) =>
        Hashes.TryGetValue(key, out IReadOnlyList<string>? own) ? own.Contains(hash) : Hashes.Values.Any(h => h.Contains(hash));
}
