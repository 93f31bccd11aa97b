using AbleLark.Core.Comparison;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;

namespace AbleLark.Core.Results;

/// <summary>What deliveries that have something in common earned.</summary>
/// <param name="Posts">Of the deliveries counted.</param>
/// <param name="Deliveries">Those whose measure is known.</param>
/// <param name="LeftOut">Those without it.</param>
/// <param name="Total">Sum of what they earned; of a rate, of what stands above the line.</param>
/// <param name="Rate">Sum over sum; null for counts.</param>
/// <param name="Median">Of each by itself; null when there are none.</param>
/// <param name="BesideUsual">
/// What they earned to what such posts earn on these channels at these hours, with an interval found by resampling posts; its ends are null
/// with fewer than five posts. Null where nothing can be said.
/// </param>
public sealed record GroupResult<TKey>(
    TKey Key,
    int Posts,
    int Deliveries,
    int LeftOut,
    double Total,
    double? Rate,
    double? Median,
    BesideUsual? BesideUsual
);

/// <param name="Ratio">1: as usual.</param>
public sealed record BesideUsual(double Ratio, double? Low, double? High);

/// <summary>Results by whatever deliveries have in common.</summary>
public static class ResultsByGroup
{
    /// <summary>How often posts are drawn anew.</summary>
    private const int Draws = 499;

    /// <param name="keys">What a delivery counts under, each once; several, or none.</param>
    /// <param name="expected">What such a delivery earns there then, by delivery; see <see cref="CategoryComparison"/>.</param>
    /// <param name="withIntervals">True: what they earned beside the usual is told with its interval.</param>
    public static IReadOnlyList<GroupResult<TKey>> Of<TKey>(
        IEnumerable<MeasuredDelivery> deliveries,
        Func<MeasuredDelivery, IEnumerable<TKey>> keys,
        IReadOnlyDictionary<Id<Delivery>, double> expected,
        bool withIntervals = false
    )
        where TKey : notnull =>
        [
            .. deliveries
                .SelectMany(d => keys(d).Select(key => (key, d)))
                .GroupBy(x => x.key, x => x.d)
                .Select(g => Row(g.Key, [.. g], expected, withIntervals)),
        ];

    private static GroupResult<TKey> Row<TKey>(
        TKey key,
        MeasuredDelivery[] all,
        IReadOnlyDictionary<Id<Delivery>, double> expected,
        bool withInterval
    )
    {
        MeasuredDelivery[] counted = [.. all.Where(d => d.Measured is not null)];
        double above = counted.Sum(d => d.Measured!.Above),
            below = counted.Sum(d => d.Measured!.Below ?? 0);
        (Id<Post> Post, double Earned, double Expected)[] posts =
        [
            .. counted
                .Where(d => expected.ContainsKey(d.Id))
                .GroupBy(d => d.PostId)
                .Select(g => (g.Key, g.Sum(d => d.Measured!.Above), g.Sum(d => expected[d.Id]))),
        ];
        return new(
            key,
            counted.Select(d => d.PostId).Distinct().Count(),
            counted.Length,
            all.Length - counted.Length,
            above,
            below > 0 ? above / below : null,
            counted.Length == 0 ? null : Median.Of([.. counted.Select(d => d.Measured!.Above / (d.Measured!.Below ?? 1))]),
            posts.Length == 0 ? null : Beside([.. posts.OrderBy(p => p.Post).Select(p => (p.Earned, p.Expected))], withInterval)
        );
    }

    private static BesideUsual Beside((double Earned, double Expected)[] posts, bool withInterval)
    {
        double ratio = posts.Sum(p => p.Earned) / posts.Sum(p => p.Expected);
        if (!withInterval || posts.Length < FairComparison.FewestPosts)
            return new(ratio, null, null);
        // The same posts are always drawn the same way.
        Random chance = new(posts.Length);
        double[] drawn = new double[Draws];
        for (int draw = 0; draw < Draws; draw++)
        {
            double earned = 0,
                expected = 0;
            for (int i = 0; i < posts.Length; i++)
            {
                (double e, double x) = posts[chance.Next(posts.Length)];
                (earned, expected) = (earned + e, expected + x);
            }
            drawn[draw] = earned / expected;
        }
        Array.Sort(drawn);
        return new(ratio, drawn[(int)(0.025 * (Draws + 1)) - 1], drawn[(int)(0.975 * (Draws + 1)) - 1]);
    }
}
