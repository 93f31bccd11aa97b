using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
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
}
