using NodaTime;

namespace AbleLark.Core.Results;

public enum FigureKind
{
    Impressions,
    Reach,
    Likes,
    Comments,
    Shares,
    Saves,
    LinkClicks,
    VideoViews,
    Followers,
}

/// <summary>What a delivery has earned up to one moment. A missing figure is null, never nought.</summary>
public sealed record Figures(
    double? Impressions = null,
    double? Reach = null,
    double? Likes = null,
    double? Comments = null,
    double? Shares = null,
    double? Saves = null,
    double? LinkClicks = null,
    double? VideoViews = null,
    double? Followers = null
)
{
    private static readonly FigureKind[] EngagementParts =
    [
        FigureKind.Likes,
        FigureKind.Comments,
        FigureKind.Shares,
        FigureKind.Saves,
        FigureKind.LinkClicks,
    ];

    public double? this[FigureKind kind] =>
        kind switch
        {
            FigureKind.Impressions => Impressions,
            FigureKind.Reach => Reach,
            FigureKind.Likes => Likes,
            FigureKind.Comments => Comments,
            FigureKind.Shares => Shares,
            FigureKind.Saves => Saves,
            FigureKind.LinkClicks => LinkClicks,
            FigureKind.VideoViews => VideoViews,
            _ => Followers,
        };

    /// <summary>
    /// Likes + comments + shares + saves + link clicks, as far as the network offers them. Null when a part that is
    /// offered was not fetched, or none is offered.
    /// </summary>
    public double? Engagements(IReadOnlyCollection<FigureKind> offered)
    {
        FigureKind[] parts = [.. EngagementParts.Where(offered.Contains)];
        if (parts.Length == 0 || parts.Any(p => this[p] is null))
            return null;
        return parts.Sum(p => this[p]);
    }

    /// <summary>Each figure taken <paramref name="share"/> (0 to 1) of the way to <paramref name="later"/>'s; null where either is
    /// missing.</summary>
    public Figures Towards(Figures later, double share)
    {
        return new(
            Between(Impressions, later.Impressions),
            Between(Reach, later.Reach),
            Between(Likes, later.Likes),
            Between(Comments, later.Comments),
            Between(Shares, later.Shares),
            Between(Saves, later.Saves),
            Between(LinkClicks, later.LinkClicks),
            Between(VideoViews, later.VideoViews),
            Between(Followers, later.Followers)
        );

        double? Between(double? a, double? b) => a + ((b - a) * share);
    }
}

/// <summary>One look at a delivery's figures.</summary>
public sealed record FigureReading(Instant At, Figures Figures);

/// <summary>Figures at the same age, so that old and young deliveries can be compared.</summary>
public static class FiguresAtAge
{
    /// <summary>Ages at which what a delivery had earned is kept: a day, a week, four weeks.</summary>
    public static IReadOnlyList<Duration> Kept { get; } = [Duration.FromHours(24), Duration.FromDays(7), Duration.FromDays(28)];

    /// <summary>
    /// What a delivery had earned at an age, interpolated linearly between the readings around it; nought is assumed at
    /// sending. Null while no reading is that old.
    /// </summary>
    /// <param name="readings">In order of time.</param>
    public static Figures? At(Instant sentAt, IReadOnlyList<FigureReading> readings, Duration age)
    {
        Instant wanted = sentAt + age;
        int next = 0;
        while (next < readings.Count && readings[next].At < wanted)
            next++;
        if (next == readings.Count)
            return null;
        FigureReading after = readings[next];
        if (after.At == wanted)
            return after.Figures;
        FigureReading before = next > 0 ? readings[next - 1] : new(sentAt, Nought(after.Figures));
        double share = (wanted - before.At) / (after.At - before.At);
        return before.Figures.Towards(after.Figures, share);
    }

    private static Figures Nought(Figures like) =>
        new(
            like.Impressions * 0,
            like.Reach * 0,
            like.Likes * 0,
            like.Comments * 0,
            like.Shares * 0,
            like.Saves * 0,
            like.LinkClicks * 0,
            like.VideoViews * 0,
            like.Followers
        );
}
