using AbleLark.Core.Channels;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Results;

namespace AbleLark.Core.Rotation;

/// <summary>How well posts did on a channel, for <see cref="Order.BetterOnesMoreOften"/>.</summary>
public static class Scores
{
    private const double Weight = 5;

    /// <summary>(sum of ratios + 5) ÷ (n + 5), held between ½ and 2; a ratio is engagements ÷ the channel's median.</summary>
    public static IReadOnlyDictionary<(Id<Post>, Id<Channel>), double> Of(IEnumerable<Earned> earned)
    {
        Dictionary<(Id<Post>, Id<Channel>), double> scores = [];
        foreach (var channel in earned.Where(e => e.Engagements is not null).GroupBy(e => e.ChannelId))
        {
            double median = Median.Of([.. channel.Select(e => e.Engagements!.Value)]);
            if (median <= 0)
                continue;
            foreach (var post in channel.GroupBy(e => e.PostId))
                scores[(post.Key, channel.Key)] = Math.Clamp(
                    (post.Sum(e => e.Engagements!.Value / median) + Weight) / (post.Count() + Weight),
                    0.5,
                    2
                );
        }
        return scores;
    }
}
