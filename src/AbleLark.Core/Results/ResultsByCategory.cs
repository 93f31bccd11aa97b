using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Comparison;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Results;

/// <summary>A sent delivery with what it counts by the measure asked for.</summary>
/// <param name="CategoryId">The post's main category when it was sent.</param>
/// <param name="Date">Local, when it was sent.</param>
/// <param name="Hour">Local.</param>
/// <param name="Measured">Null when that is missing (or it is too young for the age asked for).</param>
/// <param name="SentAt">For other zones; comparisons don't look at it.</param>
public sealed record MeasuredDelivery(
    Id<Delivery> Id,
    Id<Post> PostId,
    Id<Category> CategoryId,
    Id<Channel> ChannelId,
    LocalDate Date,
    int Hour,
    Measured? Measured,
    Instant SentAt = default
);

/// <summary>What of a category's figure its circumstances explain: one of the three is given.</summary>
/// <param name="IsSeldom">True: because it seldom goes out there or then; false: because it does so more often than the others.</param>
/// <param name="Ratio">What they make of it, all else alike: 1 nothing.</param>
public sealed record Explanation(Id<Channel>? ChannelId, Daypart? Daypart, bool IsPeriod, bool IsSeldom, double Ratio);

/// <summary>What one category took and what it earned.</summary>
/// <param name="Posts">Of the deliveries counted.</param>
/// <param name="Deliveries">Deliveries counted: those whose measure is known.</param>
/// <param name="LeftOut">Sent deliveries without it, left out of every other number here.</param>
/// <param name="ShareOfDeliveries">0 to 1, of all deliveries counted; null when there are none.</param>
/// <param name="Total">Sum of what its deliveries earned; of a rate, of what stands above the line.</param>
/// <param name="Rate">Sum over sum; null for counts and when nothing stands below the line.</param>
/// <param name="Median">Of its deliveries, each by itself; null when there are none.</param>
/// <param name="ShareOfTotal">0 to 1; null when nothing was earned at all.</param>
/// <param name="Index">As it stands: share earned ÷ share taken, or rate ÷ rate of all: 1 earns what it takes.</param>
/// <param name="Adjusted">The same had all gone out on the same channels at the same hours, with its 95 % interval; null: there is
/// none.</param>
/// <param name="IsLevel">It surely earns about what the others do.</param>
/// <param name="IsSeeming">As it stands its index is another than the interval allows.</param>
/// <param name="Compared">Deliveries that the comparison rests on.</param>
/// <param name="Explanations">What makes it look better, or worse, than it is, the strongest first; two at most.</param>
/// <param name="Without">Its posts that the comparison leaves out, since all that is said would rest on one of them.</param>
public sealed record CategoryResult(
    Id<Category> CategoryId,
    int Posts,
    int Deliveries,
    int LeftOut,
    double? ShareOfDeliveries,
    double Total,
    double? Rate,
    double? Median,
    double? ShareOfTotal,
    double? Index,
    RatioRange? Adjusted,
    Verdict Verdict,
    bool IsLevel,
    bool IsSeeming,
    int Compared,
    IReadOnlyList<Explanation> Explanations,
    IReadOnlyList<Id<Post>> Without
);

/// <summary>Two categories that seem to stand the other way round.</summary>
/// <param name="Raw">First to second as it stands: below 1.</param>
/// <param name="Adjusted">First to second, compared fairly: above 1.</param>
/// <param name="Changes">True: the order changes for sure; false: nothing is sure.</param>
public sealed record ReversedPair(Id<Category> First, Id<Category> Second, double Raw, RatioRange Adjusted, bool Changes);

/// <summary>Categories compared by what their deliveries earned.</summary>
/// <param name="Categories">One for each category that was sent, the highest index first.</param>
/// <param name="Expected">What each delivery counted would have earned by its category, channel and hour; not in it where nothing can be
/// said.</param>
/// <param name="AtAnyHour">The same, had it gone out at no hour in particular.</param>
/// <param name="Channels">What each channel makes of a delivery, all else alike, to the mean of all; empty unless asked for.</param>
/// <param name="Dayparts">The same of dayparts; of merged ones, by one that they stand for.</param>
public sealed record CategoryComparison(
    IReadOnlyList<CategoryResult> Categories,
    IReadOnlyList<ReversedPair> Pairs,
    IReadOnlyDictionary<Id<Delivery>, double> Expected,
    IReadOnlyDictionary<Id<Delivery>, double> AtAnyHour,
    IReadOnlyDictionary<Id<Channel>, RatioRange> Channels,
    IReadOnlyDictionary<Daypart, RatioRange> Dayparts
);

/// <summary>Compares categories by what their deliveries earned.</summary>
public static class ResultsByCategory
{
    /// <summary>Of a longer time, what changes with time is told apart.</summary>
    private const int LongestWithoutPeriods = 56;
    private const int PeriodDays = 28;

    /// <summary>What explains less of a figure isn't worth a word.</summary>
    private const double LeastTelling = 1.08;
    private const int MostTelling = 2;

    /// <param name="deliveries">All that were sent, those whose measure isn't known too.</param>
    /// <param name="withLevels">True: what channels and dayparts make of a delivery is told, too.</param>
    public static CategoryComparison Of(IReadOnlyCollection<MeasuredDelivery> deliveries, bool withLevels = false)
    {
        MeasuredDelivery[] counted = [.. deliveries.Where(d => d.Measured is not null).OrderBy(d => d.PostId).ThenBy(d => d.Id)];
        Levels<Id<Category>> categories = new([.. counted.Select(d => d.CategoryId)]);
        Levels<Id<Channel>> channels = new([.. counted.Select(d => d.ChannelId)]);
        Levels<Id<Post>> posts = new([.. counted.Select(d => d.PostId)]);
        FairAnswer answer = FairComparison.Of(Rows(counted, categories, channels, posts), Daypart.Merged, withLevels: withLevels);
        ILookup<Id<Category>, MeasuredDelivery> all = deliveries.ToLookup(d => d.CategoryId);
        double total = counted.Sum(d => d.Measured!.Above);
        CategoryResult[] rows =
        [
            .. all.Select(g =>
            {
                MeasuredDelivery[] own = [.. g.Where(d => d.Measured is not null)];
                return own.Length == 0
                    ? Nothing(g.Key, g.Count())
                    : Row(g.Key, own, g.Count(), counted.Length, total, answer.Categories[categories[g.Key]], channels, posts);
            }),
        ];
        return new(
            [.. rows.OrderByDescending(r => r.Index ?? -1).ThenBy(r => r.CategoryId)],
            [
                .. answer.Pairs.Select(p => new ReversedPair(
                    categories.Values[p.First],
                    categories.Values[p.Second],
                    p.Raw,
                    p.Adjusted,
                    p.Changes
                )),
            ],
            ByDelivery(answer.Expected),
            ByDelivery(answer.AtAnyHour),
            LevelsOf(0).ToDictionary(l => channels.Values[l.Level], l => l.Ratio!),
            LevelsOf(1).ToDictionary(l => Daypart.OfLevel(l.Level), l => l.Ratio!)
        );

        Dictionary<Id<Delivery>, double> ByDelivery(double[] values) =>
            Enumerable.Range(0, counted.Length).Where(i => !double.IsNaN(values[i])).ToDictionary(i => counted[i].Id, i => values[i]);

        IEnumerable<LevelAnswer> LevelsOf(int factor) => answer.Levels.Where(l => l.Factor == factor && l.Ratio is not null);
    }

    private static FairRows Rows(
        MeasuredDelivery[] counted,
        Levels<Id<Category>> categories,
        Levels<Id<Channel>> channels,
        Levels<Id<Post>> posts
    )
    {
        List<int[]> others =
        [
            [.. counted.Select(d => channels[d.ChannelId])],
            [.. counted.Select(d => Daypart.Of(d.Date, d.Hour).Level)],
        ];
        if (counted.Length > 0)
        {
            LocalDate first = counted.Min(d => d.Date);
            int[] periods = [.. counted.Select(d => Period.DaysBetween(first, d.Date) / PeriodDays)];
            if (Period.DaysBetween(first, counted.Max(d => d.Date)) >= LongestWithoutPeriods)
                others.Add(periods);
        }
        return new(
            [.. counted.Select(d => d.Measured!.Above)],
            counted.Any(d => d.Measured!.Below is not null) ? [.. counted.Select(d => d.Measured!.Below!.Value)] : null,
            [.. counted.Select(d => posts[d.PostId])],
            [.. counted.Select(d => categories[d.CategoryId])],
            others
        );
    }

    private static CategoryResult Row(
        Id<Category> category,
        MeasuredDelivery[] own,
        int sent,
        int counted,
        double total,
        CategoryAnswer answer,
        Levels<Id<Channel>> channels,
        Levels<Id<Post>> posts
    )
    {
        double earned = own.Sum(d => d.Measured!.Above),
            below = own.Sum(d => d.Measured!.Below ?? 0);
        return new(
            category,
            answer.Posts,
            own.Length,
            sent - own.Length,
            (double)own.Length / counted,
            earned,
            below > 0 ? earned / below : null,
            Median.Of([.. own.Select(d => d.Measured!.Above / (d.Measured!.Below ?? 1))]),
            total > 0 ? earned / total : null,
            answer.Raw,
            answer.Adjusted,
            answer.Verdict,
            answer.IsLevel,
            answer.IsSeeming,
            answer.Compared,
            [
                .. Telling(answer)
                    .Select(c => new Explanation(
                        c.Factor == 0 ? channels.Values[c.Level] : null,
                        c.Factor == 1 ? Daypart.OfLevel(c.Level) : null,
                        c.Factor == 2,
                        c.IsSeldom,
                        c.Ratio
                    )),
            ],
            [.. answer.Without.Select(p => posts.Values[p])]
        );
    }

    /// <summary>What makes its figure look better, or worse, than it is.</summary>
    private static IEnumerable<Circumstance> Telling(CategoryAnswer answer)
    {
        bool looksBetter = answer.Raw > answer.Adjusted?.Value;
        return answer.Circumstances.Where(c => looksBetter ? c.Ratio > LeastTelling : c.Ratio < 1 / LeastTelling).Take(MostTelling);
    }

    private static CategoryResult Nothing(Id<Category> category, int sent) =>
        new(category, 0, 0, sent, 0, 0, null, null, null, null, null, Verdict.TooFew, false, false, 0, [], []);

    /// <summary>Values counted from nought, in their order.</summary>
    private sealed class Levels<T>
        where T : notnull
    {
        private readonly Dictionary<T, int> _places;

        public Levels(IReadOnlyCollection<T> values)
        {
            Values = [.. values.Distinct().Order()];
            _places = Values.Select((v, i) => (v, i)).ToDictionary(x => x.v, x => x.i);
        }

        public IReadOnlyList<T> Values { get; }

        public int this[T value] => _places[value];
    }
}
