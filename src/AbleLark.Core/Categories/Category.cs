using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;

namespace AbleLark.Core.Categories;

/// <summary>A content pillar: a kind of post that serves the strategy.</summary>
public sealed class Category
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Category> Id { get; init; }
    public required string Name { get; set; }

    /// <summary>Key of a colour in the interface's palette, such as `reed`.</summary>
    public required string Colour { get; set; }

    /// <summary>Two letters, so that colour is never the only sign.</summary>
    public required string Monogram { get; set; }

    public int Place { get; set; }

    /// <summary>Where its posts go when a post doesn't choose channels of its own.</summary>
    public List<Id<Channel>> UsualChannels { get; set; } = [];
}
