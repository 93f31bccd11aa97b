using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;

namespace AbleLark.Server.LineUps;

/// <summary>How many findings stand against each post of the bank on each channel.</summary>
internal sealed class FindingCounts(LineUpInput input)
{
    private readonly Dictionary<Id<Post>, LineUpPost> _bank = input.Bank.ToDictionary(p => p.Id);
    private readonly Dictionary<Id<Channel>, Channel> _channels = input.Channels.ToDictionary(c => c.Id);

    /// <summary>The bank by identity.</summary>
    public IReadOnlyDictionary<Id<Post>, LineUpPost> Bank => _bank;

    public int Of(Id<Post> post, Id<Channel> channel) =>
        _bank.TryGetValue(post, out LineUpPost? found) && _channels.TryGetValue(channel, out Channel? on)
            ? found.FitOn(on)?.Findings.Count ?? 0
            : 0;
}
