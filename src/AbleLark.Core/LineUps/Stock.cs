using System.Numerics;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>
/// The bank by number instead of identity: a look-ahead asks the same questions of the same posts tens of thousands of
/// times. Posts are numbered by date added, then title, then identity, so that a lower number settles every tie.
/// </summary>
internal sealed class Stock
{
    private readonly Dictionary<(Guid Line, string Categories, string Channels), Shelf> _shelves = [];
    private readonly Dictionary<Id<Category>, int[]> _ofCategory = [];
    private readonly Dictionary<Id<Category>, Category> _categories;
    private readonly Dictionary<Id<Channel>, int> _channelNumbers;
    private readonly Dictionary<(int Channel, int Post), IReadOnlyList<AlternateFit>> _alternates = [];
    private readonly Dictionary<(string Network, string Print), int> _texts = [];
    private readonly int[]?[] _textOf;

    public Stock(LineUpInput input)
    {
        Posts = [.. input.Bank.OrderBy(p => p.AddedAt ?? Instant.MinValue).ThenBy(p => p.AddedOrder).ThenBy(p => p.Title, StringComparer.Ordinal).ThenBy(p => p.Id)];
        Numbers = Posts.Select((p, i) => (p.Id, i)).ToDictionary(p => p.Id, p => p.i);
        Channels = [.. input.Channels];
        Networks = [.. Channels.Select(c => input.Networks[c.Network])];
        _channelNumbers = Channels.Select((c, i) => (c.Id, i)).ToDictionary(c => c.Id, c => c.i);
        _categories = input.Categories.ToDictionary(c => c.Id);
        AddedAt = [.. Posts.Select(p => (p.AddedAt ?? Instant.MinValue).ToUnixTimeTicks())];
        Gaps = [.. Posts.Select(p => Math.Max(1, p.GapDays ?? _categories.GetValueOrDefault(p.CategoryId)?.GapDays ?? 1))];
        _textOf = [.. Channels.Select((_, i) => Networks[i].IdenticalTextDays is null ? null : TextsOn(i))];
        IsPlain = [.. Posts.Select(p => p is { From: null, To: null, Lifespan: Lifespan.Evergreen })];
        foreach (int post in Enumerable.Range(0, Posts.Length).Where(i => Posts[i].Fits.Values.Any(f => f.Alternates is { Count: > 0 })))
        {
            for (int channel = 0; channel < Channels.Length; channel++)
            {
                if (Posts[post].Fits.GetValueOrDefault(Channels[channel].Network)?.Alternates is { Count: > 0 } alternates) _alternates[(channel, post)] = alternates;
            }
        }
        foreach (Id<Category> category in _categories.Keys)
        {
            _ofCategory[category] = [.. Enumerable.Range(0, Posts.Length).Where(i => Posts[i].Stage != Stage.Idea && Posts[i].HasCategory(category))];
        }
    }

    public Post[] Posts { get; }
    public Channel[] Channels { get; }

    /// <summary>Rules of each channel's network.</summary>
    public NetworkRules[] Networks { get; }

    public Dictionary<Id<Post>, int> Numbers { get; }

    /// <summary>Ticks at which each post was added.</summary>
    public long[] AddedAt { get; }

    /// <summary>True for an evergreen post without dates.</summary>
    public bool[] IsPlain { get; }

    /// <summary>Gap of each post in days, at least 1.</summary>
    public int[] Gaps { get; }

    /// <summary>How many texts have a number so far.</summary>
    public int Texts => _texts.Count;

    /// <summary>Number of the post's common wording on a network that minds identical text.</summary>
    public int Text(int channel, int post) => _textOf[channel]![post];

    /// <summary>Number of a text on the channel's network; one not seen before gets the next.</summary>
    public int Text(int channel, string print)
    {
        if (!_texts.TryGetValue((Networks[channel].Key, print), out int number)) _texts[(Networks[channel].Key, print)] = number = _texts.Count;
        return number;
    }

    /// <summary>True when any post has alternates at all.</summary>
    public bool HasAlternates => _alternates.Count > 0;

    /// <summary>How the post's alternates stand with the channel's network; null when it has none.</summary>
    public IReadOnlyList<AlternateFit>? Alternates(int channel, int post) => _alternates.GetValueOrDefault((channel, post));

    /// <summary>Print of a wording of the post (0: the common one) on the channel's network; null when that wording can't go.</summary>
    public string? Print(int channel, int post, int alternate)
    {
        if (Posts[post].Fits.GetValueOrDefault(Networks[channel].Key) is not { } fit) return null;
        if (alternate == 0) return fit.Alternates is null || fit.Block is null ? fit.Print : null;
        return fit.Alternates?.ElementAtOrDefault(alternate - 1) is { Block: null } other ? other.Print : null;
    }

    private int[] TextsOn(int channel) => [.. Posts.Select(p => Text(channel, p.Fits.GetValueOrDefault(Channels[channel].Network)?.Print ?? ""))];

    public int? ChannelNumber(Id<Channel> id) => _channelNumbers.TryGetValue(id, out int number) ? number : null;

    /// <summary>How a given post stands with its channel's network; null when either is gone.</summary>
    public NetworkFit? FitOf(GivenPost given) => ChannelNumber(given.ChannelId) is { } channel && Numbers.TryGetValue(given.PostId, out int post) ? Posts[post].Fits.GetValueOrDefault(Channels[channel].Network) : null;

    public Category Category(Id<Category> id) => _categories[id];

    public bool HasCategory(Id<Category> id) => _categories.ContainsKey(id);

    /// <summary>The posts that a slot draws from for a category (or, with several, for the slot's pool), and what is always so about them there.</summary>
    public Shelf ShelfFor(Guid line, IReadOnlyList<Id<Category>> categories, int[] channels)
    {
        // A pool's categories come and go with their pauses.
        var key = (line, string.Join(',', categories), string.Join(',', channels));
        if (_shelves.TryGetValue(key, out Shelf? shelf)) return shelf;
        int[] posts = categories.Count == 1 ? _ofCategory[categories[0]] : [.. categories.SelectMany(c => _ofCategory[c]).Distinct().Order()];
        return _shelves[key] = new(line, posts, channels, [.. posts.Select(p => Open(p, channels))]);
    }

    private ShelfPost Open(int number, int[] channels)
    {
        Post post = Posts[number];
        if (post.Stage is not (Stage.Ready or Stage.AwaitingYes)) return new(Rule.Stage, 0);
        if (!post.InRotation) return new(Rule.LeftOut, 0);
        IReadOnlyList<Id<Channel>> chosen = _categories.TryGetValue(post.CategoryId, out Category? main) ? post.ChannelsOr(main) : post.Channels ?? [];
        ulong open = 0;
        Rule last = Rule.ChannelChosen;
        for (int i = 0; i < channels.Length; i++)
        {
            Channel channel = Channels[channels[i]];
            if (!chosen.Contains(channel.Id)) continue;
            if (post.Fits.GetValueOrDefault(channel.Network) is { Fits: true }) open |= 1ul << i;
            else last = Rule.Fit;
        }
        return new(last, open);
    }
}

/// <summary>A post on a shelf.</summary>
/// <param name="Struck">The rule that strikes it there whatever the time; counts where <paramref name="Open"/> is nothing.</param>
/// <param name="Open">Channels of the slot, by place, that it may go to: chosen for it and fit.</param>
internal readonly record struct ShelfPost(Rule Struck, ulong Open)
{
    /// <summary>Place of the first open channel, where its standing is read.</summary>
    public int First => BitOperations.TrailingZeroCount(Open);
}

/// <summary>The posts of one line for one set of channels.</summary>
/// <param name="Line">Identity of the category, or of the slot where that is a pool.</param>
/// <param name="Posts">Numbers in the stock, ascending.</param>
/// <param name="Channels">Numbers in the stock, in the slot's order.</param>
internal sealed record Shelf(Guid Line, int[] Posts, int[] Channels, ShelfPost[] Open);
