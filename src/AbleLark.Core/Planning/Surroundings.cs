using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What stands around times, laid out so that thousands of moves are weighed in a moment.</summary>
internal sealed class Surroundings
{
    private readonly Dictionary<Id<Channel>, Neighbour[]> _byTime;
    private readonly ILookup<(Id<Channel>, Id<Post>), Neighbour> _ofPost;
    private readonly ILookup<(string, string), Neighbour> _ofText;

    public Surroundings(PlanSnapshot plan, IReadOnlyList<Neighbour> all)
    {
        _ofText = all.Where(o => o.Text is not null && !o.IsSubstitute).ToLookup(o => (plan.Channels[o.ChannelId].Network, o.Text!));
        _byTime = all.GroupBy(o => o.ChannelId).ToDictionary(g => g.Key, g => g.OrderBy(o => o.At).ToArray());
        _ofPost = all.ToLookup(o => (o.ChannelId, o.PostId));
    }

    /// <summary>What says the same on an account of the network.</summary>
    public IEnumerable<Neighbour> Saying(string text, string network) => _ofText[(network, text)];

    /// <summary>What goes out on the channel near the time, and of the post at any.</summary>
    public IEnumerable<Neighbour> Of(Id<Channel> channel, Id<Post> post, Instant at)
    {
        (Instant from, Instant to) = (at - PlanDoor.Around, at + PlanDoor.Around);
        foreach (Neighbour other in _ofPost[(channel, post)])
            yield return other;
        if (!_byTime.TryGetValue(channel, out Neighbour[]? line))
            yield break;
        (int first, int end) = (0, line.Length);
        while (first < end)
        {
            int middle = (first + end) / 2;
            if (line[middle].At < from)
                first = middle + 1;
            else
                end = middle;
        }
        for (int i = first; i < line.Length && line[i].At <= to; i++)
        {
            if (line[i].PostId != post)
                yield return line[i];
        }
    }
}
