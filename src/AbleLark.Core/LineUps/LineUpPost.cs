using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>A post of the bank as the line-up knows it: not what it says, only how that stands with each network. See
/// <see cref="Posts.Post"/>.</summary>
public sealed record LineUpPost : IPlaceable
{
    public required Id<Post> Id { get; init; }
    public required string Title { get; init; }
    public required Stage Stage { get; init; }
    public required Id<Category> CategoryId { get; init; }
    public required IReadOnlyList<Id<Category>> FurtherCategories { get; init; }
    public required IReadOnlyList<Id<Channel>>? Channels { get; init; }
    public required IReadOnlyDictionary<string, Fit> Fits { get; init; }
    public required Lifespan Lifespan { get; init; }
    public required LocalDate? From { get; init; }
    public required LocalDate? To { get; init; }
    public required int? GapDays { get; init; }
    public required bool InRotation { get; init; }
    public required Instant? AddedAt { get; init; }
    public required int AddedOrder { get; init; }

    public static LineUpPost Of(Post post) =>
        new()
        {
            Id = post.Id,
            Title = post.Title,
            Stage = post.Stage,
            CategoryId = post.CategoryId,
            FurtherCategories = post.FurtherCategories,
            Channels = post.Channels,
            Fits = post.Fits,
            Lifespan = post.Lifespan,
            From = post.From,
            To = post.To,
            GapDays = post.GapDays,
            InRotation = post.InRotation,
            AddedAt = post.AddedAt,
            AddedOrder = post.AddedOrder,
        };

    /// <summary>So many new posts of a category, ready and fit for every network, each with a text of its own: for trying what more of them
    /// would do.</summary>
    public static IEnumerable<LineUpPost> MadeUp(
        int count,
        Id<Workspace> workspace,
        Id<Category> category,
        NetworkBook networks,
        Instant now
    ) =>
        Enumerable
            .Range(1, count)
            .Select(i =>
                Of(
                    new()
                    {
                        WorkspaceId = workspace,
                        Id = Id<Post>.New(),
                        Title = $"New post {i}",
                        CategoryId = category,
                        Stage = Stage.Ready,
                        AddedAt = now,
                        AddedOrder = i,
                        Fits = networks.All.ToDictionary(n => n.Key, n => new Fit([], $"new {category} {i}")),
                    }
                )
            );
}
