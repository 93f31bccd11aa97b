using AbleLark.Core.Comparison;

namespace AbleLark.Tests.Shared;

/// <summary>
/// Made-up workspaces of which the truth is known: posts of categories that go out to channels of very different size at hours of different
/// worth, with counts that vary more than chance alone and an effect of each post.
/// </summary>
/// <param name="Rows">What could be seen.</param>
/// <param name="Effects">True effect of each category on the log scale.</param>
internal sealed record MadeUpWorkspace(FairRows Rows, double[] Effects)
{
    public static readonly int[] Sizes = [5, 10, 15, 25, 40, 55];
    private const int Dayparts = 10;

    /// <summary>True ratio of a category to the delivery-weighted mean.</summary>
    public double Truth(int category)
    {
        double mean = Rows.Category.Average(c => Math.Exp(Effects[c]));
        return Math.Exp(Effects[category]) / mean;
    }

    /// <param name="sizes">Posts of each category.</param>
    /// <param name="effects">Of each category, on the log scale.</param>
    /// <param name="postDeviation">Of the posts' effects, on the log scale.</param>
    /// <param name="deliveryDeviation">Of the deliveries' own, on the log scale.</param>
    /// <param name="leaning">How strongly a category keeps to its own channels and hours, where it isn't told; 0: not at all.</param>
    /// <param name="favour">For the first two categories, how much they lean to the large channels and good hours; null: as any.</param>
    public static MadeUpWorkspace Make(
        Random chance,
        int[] sizes,
        double[] effects,
        double postDeviation,
        double deliveryDeviation = 0.5,
        double leaning = 0.7,
        (double First, double Second)? favour = null
    )
    {
        int channels = 4 + chance.Next(5);
        // From the smallest to the largest page: a factor of twenty.
        double[] channelEffects = [.. Enumerable.Range(0, channels).Select(c => (3.0 * c / (channels - 1)) + 3 + (0.2 * Normal(chance)))];
        double[] daypartEffects = [.. Enumerable.Range(0, Dayparts).Select(d => (0.12 * (d - 4.5)) + (0.1 * Normal(chance)))];
        List<double> counts = [];
        List<int> posts = [],
            categories = [],
            channelLevels = [],
            daypartLevels = [];
        int post = 0;
        foreach (int category in Enumerable.Range(0, sizes.Length))
        {
            double[] toChannels = [.. Enumerable.Range(0, channels).Select(c => Lean(c / (channels - 1.0)))],
                toDayparts = [.. Enumerable.Range(0, Dayparts).Select(d => Lean(d / (Dayparts - 1.0)))];
            for (int i = 0; i < sizes[category]; i++, post++)
            {
                double own = postDeviation * Normal(chance);
                int deliveries = 2 + chance.Next(3);
                HashSet<int> to = [];
                while (to.Count < Math.Min(deliveries, channels))
                    to.Add(Draw(toChannels));
                foreach (int channel in to)
                {
                    int daypart = Draw(toDayparts);
                    double mean = Math.Exp(
                        effects[category]
                            + channelEffects[channel]
                            + daypartEffects[daypart]
                            + own
                            - (postDeviation * postDeviation / 2)
                            + (deliveryDeviation * Normal(chance))
                            - (deliveryDeviation * deliveryDeviation / 2)
                    );
                    counts.Add(Poisson(chance, mean));
                    posts.Add(post);
                    categories.Add(category);
                    channelLevels.Add(channel);
                    daypartLevels.Add(daypart);
                }
            }

            double Lean(double place) =>
                favour is { } f && category < 2
                    ? Math.Exp((category == 0 ? f.First : f.Second) * ((2 * place) - 1))
                    : Math.Exp(leaning * Normal(chance));
        }
        FairRows rows = new(
            [.. counts],
            null,
            [.. posts],
            [.. categories],
            [FairRows.Renumber([.. channelLevels]), FairRows.Renumber([.. daypartLevels])]
        );
        return new(rows, effects);

        int Draw(double[] weights)
        {
            double place = chance.NextDouble() * weights.Sum();
            for (int i = 0; i < weights.Length; i++)
            {
                place -= weights[i];
                if (place < 0)
                    return i;
            }
            return weights.Length - 1;
        }
    }

    public static double Normal(Random chance) =>
        Math.Sqrt(-2 * Math.Log(1 - chance.NextDouble())) * Math.Cos(2 * Math.PI * chance.NextDouble());

    private static double Poisson(Random chance, double mean)
    {
        if (mean > 500)
            return Math.Max(0, Math.Round(mean + (Math.Sqrt(mean) * Normal(chance))));
        double limit = Math.Exp(-mean),
            product = chance.NextDouble();
        int count = 0;
        while (product > limit)
        {
            product *= chance.NextDouble();
            count++;
        }
        return count;
    }
}
