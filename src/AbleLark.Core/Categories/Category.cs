using AbleLark.Core.Channels;
using AbleLark.Core.Orders;
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

    public int Position { get; set; }

    /// <summary>Where its posts go when a post doesn't choose channels of its own.</summary>
    public List<Id<Channel>> UsualChannels { get; set; } = [];

    /// <summary>How its posts take turns.</summary>
    public OrderRule Order { get; set; } = OrderRule.Usual;

    /// <summary>Days that must lie between two turns of a post on a channel; null: never twice on one date.</summary>
    public int? GapDays { get; set; }

    /// <summary>What a new post starts with.</summary>
    public Lifespan Lifespan { get; set; } = Lifespan.Evergreen;

    /// <summary>Hashtags that a new post starts with, without the sign.</summary>
    public List<string> Hashtags { get; set; } = [];

    /// <summary>True: a post that becomes ready waits for approval first.</summary>
    public bool NeedsApproval { get; set; }

    /// <summary>False: a new post stays out of the rotation until a planner lets it in.</summary>
    public bool NewPostsRotate { get; set; } = true;

    /// <summary>Share of all deliveries that the plan gives it, 0 to 1; null: none was set.</summary>
    public double? TargetShare { get; set; }

    /// <summary>Another like it, with something changed: for trying.</summary>
    public Category CopyWith(Action<Category> change)
    {
        Category other = (Category)MemberwiseClone();
        change(other);
        return other;
    }
}
