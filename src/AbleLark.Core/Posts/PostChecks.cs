using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Posts;

/// <summary>One content as one network gets it, or one channel that has content of its own.</summary>
public sealed record TargetCheck(Target Target, CheckedContent Check)
{
    /// <summary>See <see cref="Post.Fits"/>.</summary>
    public string Key => Target.Channel is { } channel ? Channel.FitKeyOf(channel) : Target.Rules.Key;
}

/// <summary>How a post's content stands everywhere it could go, each distinct input once: channels without content of their own share
/// their network's.</summary>
public sealed class PostChecks
{
    private readonly ContentSources _sources;

    private PostChecks(IReadOnlyList<TargetCheck> all, ContentSources sources, string rules) =>
        (All, _sources, Rules) = (all, sources, rules);

    /// <summary>The networks first.</summary>
    public IReadOnlyList<TargetCheck> All { get; }

    /// <summary>What stands for the rules that it was checked by.</summary>
    public string Rules { get; }

    /// <param name="channels">The workspace's; those that are gone need not be among them.</param>
    public static PostChecks Of(PostContent content, NetworkBook networks, IEnumerable<Channel> channels, ContentSources sources)
    {
        // A channel with content or figures of its own is checked by itself.
        HashSet<Id<Channel>> own = [.. content.AllChannels()];
        IEnumerable<Target> targets =
        [
            .. networks.All.Select(n => new Target(n)),
            .. channels
                .Where(c => (own.Contains(c.Id) || c.Figures.Count > 0) && networks.Has(c.Network))
                .Select(c => new Target(networks.For(c), c.Id)),
        ];
        return new(
            [.. targets.Select(t => new TargetCheck(t, ContentCheck.CheckAll(content, t, sources)))],
            sources,
            ContentCheck.RulesVersion(networks)
        );
    }

    public Dictionary<string, Fit> Fits() => All.ToDictionary(c => c.Key, c => Fit.Of(c.Check));

    /// <summary>Hash of each wording, the post's own first.</summary>
    public Dictionary<string, IReadOnlyList<string>> Hashes() =>
        All.ToDictionary(
            c => c.Key,
            IReadOnlyList<string> (c) => [.. c.Check.Wordings.Prepend(c.Check).Select(w => ContentHash.Of(w.Content, _sources))]
        );
}
