using AbleLark.Core.Figures;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Results;

/// <summary>By what deliveries are compared.</summary>
public enum Measure
{
    Engagements,
    EngagementRateByReach,
    EngagementRateByImpressions,
    EngagementRateByFollowers,
    ClickThroughRate,
    TimesSeen,
    Reach,
    Likes,
    Comments,
    Shares,
    Saves,
    LinkClicks,
    VideoViews,
}

/// <summary>What a delivery counts by a measure.</summary>
/// <param name="Above">What it earned; 0 or more.</param>
/// <param name="Below">What that is put in relation to, above 0; null for a count.</param>
public sealed record Measured(double Above, double? Below);

/// <summary>Of which figures, by their kinds' numbers, a measure is made on some network.</summary>
/// <param name="Above">Added up; none: the network doesn't tell it.</param>
/// <param name="Below">Null: nothing stands below the line.</param>
public sealed record MeasureParts(int[] Above, int? Below);

/// <summary>How a measure is taken of figures. One more is one more declaration here.</summary>
/// <param name="Words">Its name on screens.</param>
/// <param name="How">What it is, in a few words.</param>
public sealed record MeasureRule(Measure Measure, string Words, string How)
{
    private static readonly FigureKind[] NoKinds = [];

    public static IReadOnlyList<MeasureRule> All { get; } =
    [
        new(Measure.Engagements, "engagements", "likes, comments, shares, saves and link clicks together") { IsEngagements = true },
        Rate(Measure.EngagementRateByReach, "engagement rate by reach", "engagements ÷ reach", FigureKind.Reach),
        Rate(Measure.EngagementRateByImpressions, "engagement rate by impressions", "engagements ÷ impressions", FigureKind.Impressions),
        Rate(Measure.EngagementRateByFollowers, "engagement rate by followers", "engagements ÷ followers at sending", FigureKind.Followers),
        new(Measure.ClickThroughRate, "click-through rate", "link clicks ÷ impressions")
        {
            AboveLine = FigureKind.LinkClicks,
            BelowLine = FigureKind.Impressions,
        },
        new(Measure.TimesSeen, "times seen", "impressions or video views, as each network counts") { IsTimesSeen = true },
        Count(Measure.Reach, FigureKind.Reach),
        Count(Measure.Likes, FigureKind.Likes),
        Count(Measure.Comments, FigureKind.Comments),
        Count(Measure.Shares, FigureKind.Shares),
        Count(Measure.Saves, FigureKind.Saves),
        Count(Measure.LinkClicks, FigureKind.LinkClicks),
        Count(Measure.VideoViews, FigureKind.VideoViews),
    ];

    private bool IsEngagements { get; init; }
    private bool IsTimesSeen { get; init; }
    private FigureKind? AboveLine { get; init; }
    private FigureKind? BelowLine { get; init; }

    public bool IsRate => BelowLine is not null;

    public static MeasureRule Of(Measure measure) => All.Single(r => r.Measure == measure);

    /// <summary>True where that network tells what the measure is made of.</summary>
    public bool IsOfferedBy(NetworkRules network) =>
        (IsTimesSeen || (IsEngagements ? FigureKind.Engagements.Any(network.Figures.Contains) : network.Figures.Contains(AboveLine!)))
        && (BelowLine is null || network.Figures.Contains(BelowLine));

    /// <summary>Parts of the measure that network doesn't tell, so that they are left out of its sums.</summary>
    public IEnumerable<FigureKind> Lacks(NetworkRules network) =>
        IsEngagements ? FigureKind.Engagements.Where(k => !network.Figures.Contains(k)) : NoKinds;

    /// <summary>What these figures count; null: some of them is missing, below nought, or there is nothing below the line.</summary>
    public Measured? Take(FigureSet figures, NetworkRules network) => Take(figures.ByNumber(), PartsOn(network));

    /// <summary>What the measure is made of on that network.</summary>
    public MeasureParts PartsOn(NetworkRules network) =>
        new(
            IsTimesSeen ? [network.TimesSeen.Number]
                : IsEngagements ? [.. FigureKind.Engagements.Where(network.Figures.Contains).Select(k => k.Number)]
                : network.Figures.Contains(AboveLine!) ? [AboveLine!.Number]
                : [],
            BelowLine?.Number
        );

    /// <inheritdoc cref="Take(FigureSet, NetworkRules)"/>
    /// <param name="figures">By the kinds' numbers, the first at index 0; see <see cref="FigureSet.ByNumber"/>.</param>
    /// <param name="parts">See <see cref="PartsOn"/>.</param>
    public static Measured? Take(double?[] figures, MeasureParts parts)
    {
        if (parts.Above.Length == 0)
            return null;
        double above = 0;
        foreach (int number in parts.Above)
        {
            if (number > figures.Length || figures[number - 1] is not { } value || !(value >= 0) || !double.IsFinite(value))
                return null;
            above += value;
        }
        if (parts.Below is not { } place)
            return new(above, null);
        return place <= figures.Length && figures[place - 1] is { } below and > 0 && double.IsFinite(below) ? new(above, below) : null;
    }

    private static MeasureRule Count(Measure measure, FigureKind kind) => new(measure, kind.Words, kind.Words) { AboveLine = kind };

    private static MeasureRule Rate(Measure measure, string words, string how, FigureKind below) =>
        new(measure, words, how) { IsEngagements = true, BelowLine = below };
}
