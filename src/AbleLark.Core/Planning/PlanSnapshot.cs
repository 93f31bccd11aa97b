using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What an act touches, and what stands around it, as it is now.</summary>
public sealed record PlanSnapshot
{
    public required Workspace Workspace { get; init; }
    public required Instant Now { get; init; }

    /// <summary>All of the workspace's.</summary>
    public required IReadOnlyDictionary<Id<Channel>, Channel> Channels { get; init; }

    /// <summary>Those that the act's deliveries and wishes name, removed ones too.</summary>
    public required IReadOnlyDictionary<Id<Post>, Post> Posts { get; init; }

    /// <summary>Least days between two times of a post, by its category; null: the category doesn't say.</summary>
    public required IReadOnlyDictionary<Id<Category>, int?> Gaps { get; init; }

    /// <summary>What goes out in the place of the act's deliveries if approval doesn't come in time.</summary>
    public required ILookup<(Origin, Id<Channel>), Delivery> Substitutes { get; init; }

    /// <summary>What goes out, went out or is kept for going out: of these posts at any time, and on these channels two days around the
    /// times that the act names; on accounts of networks that mind identical texts, as many days around as they mind. The act's own
    /// deliveries are among them.</summary>
    public required IReadOnlyList<Neighbour> Others { get; init; }

    /// <summary>All that the line-up is worked out from, for acts on places; null for others.</summary>
    public LineUpInput? LineUp { get; init; }

    /// <summary>Those of the act's deliveries for which another goes out already.</summary>
    public IReadOnlySet<Id<Delivery>> Replaced { get; init; } = new HashSet<Id<Delivery>>();

    /// <summary>Networks that refuse the same text again within fewer days than this.</summary>
    public IReadOnlyDictionary<string, int> IdenticalTextDays { get; init; } = new Dictionary<string, int>();

    /// <summary>What a post says in a wording on a channel whose network minds; null: it doesn't.</summary>
    internal string? TextOf(Post post, Channel channel, int wording) =>
        IdenticalTextDays.ContainsKey(channel.Network) ? post.FitOn(channel)?.FingerprintOf(wording) : null;

    internal int GapOf(Post post) => post.GapDays ?? Gaps.GetValueOrDefault(post.CategoryId) ?? 1;
}
