using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>A delivery, as much as others have to mind of it.</summary>
/// <param name="IsSubstitute">True: it only goes in place of another.</param>
/// <param name="Text">Fingerprint of what it says, where its network minds (see <see cref="PlanSnapshot.IdenticalTextDays"/>); null: it
/// doesn't, or nobody knows.</param>
public sealed record Neighbour(
    Id<Delivery> Id,
    Id<Post> PostId,
    Id<Channel> ChannelId,
    Instant At,
    bool IsSubstitute = false,
    string? Text = null
);

/// <summary>What speaks against a delivery at another time, though it could go out there.</summary>
public static class MoveDoubts
{
    /// <summary>That a date lies outside those that a post is meant for; null: it doesn't.</summary>
    internal static PlanDoubt? OutsideDates(LocalDate? from, LocalDate? to, LocalDate date) =>
        date < from ? new(DoubtCode.BeforeItsDates, from)
        : date > to ? new(DoubtCode.AfterItsDates, to)
        : null;

    /// <param name="gapDays">Least days between two times that the post goes out on the channel.</param>
    /// <param name="local">In the workspace's zone.</param>
    /// <param name="others">Of the channel and of the post, as they would then be; those that don't matter may be among them.</param>
    /// <param name="zone">The workspace's.</param>
    public static IReadOnlyList<PlanDoubt> Of(
        Neighbour delivery,
        Post post,
        int gapDays,
        Channel channel,
        LocalDateTime local,
        IEnumerable<Neighbour> others,
        DateTimeZone zone
    )
    {
        List<PlanDoubt> doubts = [];
        if (OutsideDates(post.From, post.To, local.Date) is { } outside)
            doubts.Add(outside);
        Neighbour[] beside = [.. others.Where(o => o.ChannelId == delivery.ChannelId && o.Id != delivery.Id && !o.IsSubstitute)];
        DateTimeZone counted = channel.Zone ?? zone;
        LocalDate day = delivery.At.InZone(counted).Date;
        int onDay = beside.Count(o => o.At.InZone(counted).Date == day) + 1;
        if (onDay > channel.DailyLimit)
            doubts.Add(new(DoubtCode.DailyLimit, day, onDay, channel.DailyLimit));
        if (channel.Spacing is { } spacing && beside.Any(o => Distance(o) < spacing))
            doubts.Add(new(DoubtCode.Spacing, Limit: (int)spacing.TotalMinutes));
        LocalDate? nearest = beside
            .Where(o => o.PostId == delivery.PostId)
            .Select(o => (LocalDate?)o.At.InZone(zone).Date)
            .MinBy(d => Math.Abs(Period.DaysBetween(d!.Value, local.Date)));
        if (nearest is { } last && Math.Abs(Period.DaysBetween(last, local.Date)) < gapDays)
            doubts.Add(new(DoubtCode.Gap, last, Limit: gapDays));
        return doubts;

        Duration Distance(Neighbour other) => other.At > delivery.At ? other.At - delivery.At : delivery.At - other.At;
    }
}
