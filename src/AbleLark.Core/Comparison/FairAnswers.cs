namespace AbleLark.Core.Comparison;

/// <summary>What can be said of a category.</summary>
public enum Verdict
{
    /// <summary>Fewer than five posts.</summary>
    TooFew,

    /// <summary>All of its deliveries earned nought.</summary>
    Nothing,

    /// <summary>It shares no channel, or no hour, with the others.</summary>
    Apart,

    /// <summary>What it earned can't be told from what one post earned.</summary>
    OnePost,

    /// <summary>The model finds no answer in these figures.</summary>
    NoAnswer,

    /// <summary>Neither more nor less for sure.</summary>
    NoClearDifference,
    More,
    Less,
}

/// <summary>A ratio with its 95 % interval.</summary>
/// <param name="Value">1: the same.</param>
public sealed record RatioRange(double Value, double Low, double High)
{
    public bool Excludes(double value) => value < Low || value > High;

    internal static RatioRange Of(Estimate estimate)
    {
        double half = estimate.HalfWidth;
        return new(Math.Exp(estimate.Value), Math.Exp(estimate.Value - half), Math.Exp(estimate.Value + half));
    }
}

/// <summary>What of a category's figure its circumstances explain: where and when it goes out.</summary>
/// <param name="Factor">Place of the factor: 0 channel, 1 daypart, 2 period.</param>
/// <param name="Level">The level that explains most, as it was given.</param>
/// <param name="IsSeldom">True: because it is seldom there; false: because it is there more often than the others.</param>
/// <param name="Ratio">What this factor makes of the category's figure, all else alike: 1 nothing.</param>
public sealed record Circumstance(int Factor, int Level, bool IsSeldom, double Ratio);

/// <param name="Category">Its level, as it was given.</param>
/// <param name="Compared">Its deliveries that the comparison rests on.</param>
/// <param name="Raw">Mean (or rate) as a ratio to that of all, as it stands; null: nothing was earned at all.</param>
/// <param name="Adjusted">To the weighted mean of those that it is compared with; null: there is none.</param>
/// <param name="Probability">Of so large a difference where there is none, corrected for how many are looked at; null: not tested.</param>
/// <param name="Circumstances">The strongest first.</param>
public sealed record CategoryAnswer(
    int Category,
    int Posts,
    int Deliveries,
    int Compared,
    double? Raw,
    RatioRange? Adjusted,
    double? Probability,
    Verdict Verdict,
    IReadOnlyList<Circumstance> Circumstances
)
{
    /// <summary>Its posts, as they were given, that the comparison leaves out since all that is said would rest on one of them.</summary>
    public IReadOnlyList<int> Without { get; init; } = [];

    /// <summary>Whatever lies within these bounds is level.</summary>
    internal const double LeastLevel = 0.8,
        MostLevel = 1.25;

    /// <summary>True: it surely earns about what the others do, neither more nor less.</summary>
    public bool IsLevel => Verdict == Verdict.NoClearDifference && Adjusted is { Low: >= LeastLevel, High: <= MostLevel };

    /// <summary>True: as it stands its figure is another than its interval allows, which is due to where and when it goes out.</summary>
    public bool IsSeeming => Raw is { } raw && Adjusted?.Excludes(raw) == true;
}

/// <summary>Two categories whose order isn't what it seems.</summary>
/// <param name="Raw">First to second, as it stands: below 1.</param>
/// <param name="Adjusted">First to second: above 1.</param>
public sealed record PairAnswer(int First, int Second, double Raw, RatioRange Adjusted)
{
    /// <summary>True: the order changes for sure; false: nothing is sure.</summary>
    public bool Changes => Adjusted.Low > 1;
}

/// <summary>What a level of another factor makes of a delivery, all else alike.</summary>
/// <param name="Factor">Place of the factor: 0 channel, 1 daypart, 2 period.</param>
/// <param name="Level">As it was given; of coarser levels, one of those that it stands for.</param>
/// <param name="Ratio">To the delivery-weighted mean; null: it can't be told.</param>
public sealed record LevelAnswer(int Factor, int Level, RatioRange? Ratio);

/// <summary>A comparison of categories.</summary>
/// <param name="Levels">What channels and dayparts make of a delivery; empty unless asked for.</param>
/// <param name="Expected">What the model expects of each row; not a number where it says nothing of it.</param>
/// <param name="AtAnyHour">The same, had it gone out at no hour in particular.</param>
public sealed record FairAnswer(
    IReadOnlyList<CategoryAnswer> Categories,
    IReadOnlyList<PairAnswer> Pairs,
    double[] Expected,
    double[] AtAnyHour,
    IReadOnlyList<LevelAnswer> Levels
);
