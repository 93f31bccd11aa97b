using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>A delivery, as much as others have to mind of it.</summary>
public sealed record Neighbour(Id<Delivery> Id, Id<Post> PostId, Id<Channel> ChannelId, Instant At);

/// <summary>What speaks against a delivery at another time, though it could go out there.</summary>
public static class MoveDoubts
{
    /// <summary>That a date lies outside those of a post, as what follows “it”; null: it doesn't.</summary>
    public static string? OutsideDates(Post post, LocalDate date) =>
        date < post.From ? $"is meant for {post.From.Value.InWords()} at the earliest"
        : date > post.To ? $"is meant for {post.To.Value.InWords()} at the latest"
        : null;

    /// <param name="gapDays">Least days between two times that the post goes out on the channel.</param>
    /// <param name="local">In the workspace's zone.</param>
    /// <param name="others">Of the channel and of the post, as they would then be; those that don't matter may be among them.</param>
    /// <param name="zone">The workspace's.</param>
    /// <returns>Sentences.</returns>
    public static IReadOnlyList<string> Of(
        Neighbour delivery,
        Post post,
        int gapDays,
        Channel channel,
        LocalDateTime local,
        IEnumerable<Neighbour> others,
        DateTimeZone zone
    )
    {
        List<string> doubts = [];
        if (OutsideDates(post, local.Date) is { } outside)
            doubts.Add($"It {outside}.");
        Neighbour[] beside = [.. others.Where(o => o.ChannelId == delivery.ChannelId && o.Id != delivery.Id)];
        DateTimeZone counted = channel.Zone ?? zone;
        LocalDate day = delivery.At.InZone(counted).Date;
        int onDay = beside.Count(o => o.At.InZone(counted).Date == day) + 1;
        if (onDay > channel.DailyLimit)
            doubts.Add($"It would be the {onDay} of {day.InWords()} there, and {channel.DailyLimit} is the most.");
        if (channel.Spacing is { } spacing && beside.Any(o => Distance(o) < spacing))
            doubts.Add($"Another goes out there less than {spacing.TotalMinutes:0} minutes away.");
        LocalDate? nearest = beside
            .Where(o => o.PostId == delivery.PostId)
            .Select(o => (LocalDate?)o.At.InZone(zone).Date)
            .MinBy(d => Math.Abs(Period.DaysBetween(d!.Value, local.Date)));
        if (nearest is { } last && Math.Abs(Period.DaysBetween(last, local.Date)) < gapDays)
            doubts.Add($"The same post goes out there on {last.InWords()}, and {gapDays} days are to lie between.");
        return doubts;

        Duration Distance(Neighbour other) => other.At > delivery.At ? other.At - delivery.At : delivery.At - other.At;
    }
}
