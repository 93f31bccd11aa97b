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
        double above = 0,
            below = 0;
        List<double> each = new(all.Length);
        HashSet<Id<Post>> posts = [];
        // In order of posts, so that the same ones are always drawn.
        SortedDictionary<Id<Post>, (double Earned, double Expected)> compared = [];
        foreach (MeasuredDelivery delivery in all)
        {
            if (delivery.Measured is not { } measured)
                continue;
            (above, below) = (above + measured.Above, below + (measured.Below ?? 0));
            each.Add(measured.Above / (measured.Below ?? 1));
            posts.Add(delivery.PostId);
            if (!expected.TryGetValue(delivery.Id, out double usual))
                continue;
            (double earned, double sum) = compared.GetValueOrDefault(delivery.PostId);
            compared[delivery.PostId] = (earned + measured.Above, sum + usual);
        }
        return new(
            key,
            posts.Count,
            each.Count,
            all.Length - each.Count,
            above,
            below > 0 ? above / below : null,
            each.Count == 0 ? null : Median.Of([.. each]),
            compared.Count == 0 ? null : Beside([.. compared.Values], withInterval)
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
