using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>What a comparison needs to know of a delivery, kept from the moment of sending: what becomes of the post later doesn't
/// rewrite what was.</summary>
/// <param name="CategoryId">The post's main category then, unless a person has counted it under another since.</param>
/// <param name="TurnOf">The category whose turn it was in the rota; null: none's.</param>
/// <param name="Further">The post's further categories then.</param>
/// <param name="Followers">The channel's followers, as last heard; null: never.</param>
/// <param name="Date">Local date of sending, in the workspace's zone.</param>
/// <param name="Hour">Local hour of sending, 0 to 23.</param>
/// <param name="Wording">Which wording went: 0 the post's own.</param>
/// <param name="IsReconstructed">True for deliveries sent before this was kept: these are the values of the day on which it began to
/// be.</param>
public sealed record SentFacts(
    Id<Category> CategoryId,
    Id<Category>? TurnOf,
    IReadOnlyList<Id<Category>> Further,
    int? Followers,
    LocalDate Date,
    int Hour,
    int Wording,
    bool IsReconstructed = false
)
{
    /// <param name="sentAt">When it was sent.</param>
    /// <param name="zone">The workspace's.</param>
    public static SentFacts Of(Delivery delivery, Post post, Channel channel, Instant sentAt, DateTimeZone zone)
    {
        LocalDateTime local = sentAt.InZone(zone).LocalDateTime;
        Id<Category>? turn = delivery.DrawnBy is { } line
            ? post.AllCategories.Where(c => c.Value == line).Select(c => (Id<Category>?)c).FirstOrDefault()
            : null;
        return new(post.CategoryId, turn, [.. post.FurtherCategories], channel.Followers, local.Date, local.Hour, delivery.Wording);
    }
}
