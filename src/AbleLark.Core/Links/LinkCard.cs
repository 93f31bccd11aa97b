using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Links;

/// <summary>What the page under a link says of itself, as it was last read for a workspace.</summary>
public sealed class LinkCard
{
    public required Id<Workspace> WorkspaceId { get; init; }

    /// <summary>The link, as posts name it.</summary>
    public required string Address { get; init; }

    /// <summary>Empty: it says none.</summary>
    public string Title { get; set; } = "";

    /// <summary>Empty: it says none.</summary>
    public string Text { get; set; } = "";

    /// <summary>Addresses of pictures, the page's own choice first.</summary>
    public IReadOnlyList<string> Pictures { get; set; } = [];

    /// <summary>Machine time.</summary>
    public Instant ReadAt { get; set; }
}
