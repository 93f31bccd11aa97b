using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Rotation;

/// <summary>
/// The bank by number instead of identity: a look-ahead asks the same questions of the same posts tens of thousands of
/// times. Posts are numbered by date added, then title, then identity, so that a lower number schedules every tie.
/// </summary>
internal sealed class BankIndex
{
    private readonly Dictionary<(Guid Line, string Categories, string Channels), CandidateSet> _sets = [];
    private readonly Dictionary<Id<Category>, int[]> _ofCategory = [];
    private readonly Dictionary<Id<Category>, Category> _categories;
    private readonly Dictionary<Id<Channel>, int> _channelNumbers;
    private readonly Dictionary<(int Channel, int Post), IReadOnlyList<WordingFit>> _otherWordings = [];
    private readonly Dictionary<(string Network, string TextFingerprint), int> _texts = [];
    private readonly Fit?[][] _fits;
    private readonly int[]?[] _textOf;
    private static readonly List<int> None = [];
    private readonly int[] _owners;
    private readonly Dictionary<int, List<int>> _sharing = [];

    public BankIndex(LineUpInput input)
    {
        Posts = [.. input.Bank];
        Array.Sort(Posts, ByAge);
        Numbers = Posts.Select((p, i) => (p.Id, i)).ToDictionary(p => p.Id, p => p.i);
        Channels = [.. input.Channels];
        Networks = [.. Channels.Select(c => input.Networks[c.Network])];
        _channelNumbers = Channels.Select((c, i) => (c.Id, i)).ToDictionary(c => c.Id, c => c.i);
        _categories = input.Categories.ToDictionary(c => c.Id);
        AddedAt = [.. Posts.Select(p => (p.AddedAt ?? Instant.MinValue).ToUnixTimeTicks())];
        Gaps = [.. Posts.Select(p => Math.Max(1, p.GapDays ?? _categories.GetValueOrDefault(p.CategoryId)?.GapDays ?? 1))];
        _fits = FitsByChannel();
        Dictionary<Fit?[], int[]> texts = [];
        _textOf = [.. Channels.Select((c, i) => Networks[i].IdenticalTextDays is null ? null : TextsOn(c, _fits[i], texts))];
        _owners = new int[_texts.Count];
        Array.Fill(_owners, -1);
        foreach (int[] numbers in texts.Values)
            NoteOwners(numbers);
        IsPlain = [.. Posts.Select(p => p is { From: null, To: null, Lifespan: Lifespan.Evergreen })];
        for (int post = 0; post < Posts.Length; post++)
        {
            if (HasSeveralWordings(Posts[post]))
                NoteWordings(post);
        }
        foreach (Id<Category> category in _categories.Keys)
        {
            _ofCategory[category] =
            [
                .. Enumerable.Range(0, Posts.Length).Where(i => Posts[i].Stage != Stage.Idea && Posts[i].HasCategory(category)),
            ];
        }
    }

    private static int ByAge(LineUpPost a, LineUpPost b)
    {
        int order = (a.AddedAt ?? Instant.MinValue).CompareTo(b.AddedAt ?? Instant.MinValue);
        if (order == 0)
            order = a.AddedOrder.CompareTo(b.AddedOrder);
        if (order == 0)
            order = string.CompareOrdinal(a.Title, b.Title);
        return order == 0 ? a.Id.CompareTo(b.Id) : order;
    }

    private static bool HasSeveralWordings(LineUpPost post)
    {
        foreach (Fit fit in post.Fits.Values)
        {
            if (fit.Wordings is { Count: > 0 })
                return true;
        }
        return false;
    }

    private void NoteWordings(int post)
    {
        for (int channel = 0; channel < Channels.Length; channel++)
        {
            if (_fits[channel][post]?.Wordings is { Count: > 0 } wordings)
                _otherWordings[(channel, post)] = wordings;
        }
    }

    public LineUpPost[] Posts { get; }
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
    public int Text(int channel, string fingerprint) => Text(Networks[channel].Key, fingerprint);

    private int Text(string network, string fingerprint)
    {
        if (!_texts.TryGetValue((network, fingerprint), out int number))
            _texts[(network, fingerprint)] = number = _texts.Count;
        return number;
    }

    /// <summary>The first post that has this text as its common wording; -1 when none has.</summary>
    public int OwnerOf(int text) => text < _owners.Length ? _owners[text] : -1;

    /// <summary>The other posts that have the same text as their common wording.</summary>
    public List<int> Sharing(int text) => _sharing.GetValueOrDefault(text) ?? None;

    /// <summary>True when any post has wordings at all.</summary>
    public bool HasWordings => _otherWordings.Count > 0;

    /// <summary>How the post's wordings stand with the channel's network; null when it has none.</summary>
    public IReadOnlyList<WordingFit>? Wordings(int channel, int post) => _otherWordings.GetValueOrDefault((channel, post));

    /// <summary>Fingerprint of a wording of the post (0: the common one) on the channel's network; null when that wording can't
    /// go.</summary>
    public string? Fingerprint(int channel, int post, int wording)
    {
        if (_fits[channel][post] is not { } fit)
            return null;
        if (wording == 0)
            return fit.Wordings is null || fit.Block is null ? fit.TextFingerprint : null;
        return fit.Wordings?.ElementAtOrDefault(wording - 1) is { Block: null } other ? other.TextFingerprint : null;
    }

    /// <summary>Fingerprint of a wording of the post on the channel's network, whether it may go or not: what is planned counts in its
    /// words until somebody takes it away.</summary>
    public string? PlannedFingerprint(int channel, int post, int wording) => _fits[channel][post]?.FingerprintOf(wording);

    /// <summary>True when a wording of the post waits for approval on the channel's network.</summary>
    public bool Waits(int channel, int post, int wording) => Posts[post].Waits(_fits[channel][post], wording);

    /// <summary>How each post stands with each channel. Channels of a network share one array, unless posts have content of their own for
    /// one.</summary>
    private Fit?[][] FitsByChannel()
    {
        HashSet<string> ownContent = [];
        foreach (LineUpPost post in Posts)
        {
            foreach (string key in post.Fits.Keys)
                ownContent.Add(key);
        }
        Dictionary<string, Fit?[]> known = [];
        return
        [
            .. Channels.Select(channel =>
            {
                string key = ownContent.Contains(channel.FitKey) ? channel.FitKey : channel.Network;
                if (!known.TryGetValue(key, out Fit?[]? fits))
                    known[key] = fits = Array.ConvertAll(Posts, p => p.FitOn(channel));
                return fits;
            }),
        ];
    }

    /// <summary>Number of each post's text on a channel.</summary>
    private int[] TextsOn(Channel channel, Fit?[] fits, Dictionary<Fit?[], int[]> known)
    {
        if (!known.TryGetValue(fits, out int[]? texts))
            known[fits] = texts = Array.ConvertAll(fits, f => Text(channel.Network, f?.TextFingerprint ?? ""));
        return texts;
    }

    private void NoteOwners(int[] texts)
    {
        for (int post = 0; post < texts.Length; post++)
        {
            ref int owner = ref _owners[texts[post]];
            if (owner < 0)
                owner = post;
            else if (_sharing.TryGetValue(texts[post], out List<int>? others))
                others.Add(post);
            else
                _sharing[texts[post]] = [post];
        }
    }

    public int? ChannelNumber(Id<Channel> id) => _channelNumbers.TryGetValue(id, out int number) ? number : null;

    /// <summary>How a given post stands with its channel's network; null when either is gone.</summary>
    public Fit? FitOf(GivenPost given) =>
        ChannelNumber(given.ChannelId) is { } channel && Numbers.TryGetValue(given.PostId, out int post) ? _fits[channel][post] : null;

    public Category Category(Id<Category> id) => _categories[id];

    public bool HasCategory(Id<Category> id) => _categories.ContainsKey(id);

    /// <summary>The posts that a slot draws from for a category (or, with several, for the slot's pool), and what is always so about them
    /// there.</summary>
    public CandidateSet CandidateSetFor(Guid line, IReadOnlyList<Id<Category>> categories, int[] channels)
    {
        // A pool's categories come and go with their pauses.
        var key = (line, string.Join(',', categories), string.Join(',', channels));
        if (_sets.TryGetValue(key, out CandidateSet? set))
            return set;
        int[] posts =
            categories.Count == 1 ? _ofCategory[categories[0]] : [.. categories.SelectMany(c => _ofCategory[c]).Distinct().Order()];
        return _sets[key] = new(line, posts, channels, [.. posts.Select(p => Open(p, channels))], new CachedVerdict[posts.Length]);
    }

    private SetPost Open(int number, int[] channels)
    {
        LineUpPost post = Posts[number];
        if (post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
            return new(Rule.Stage, ChannelSet.None, ChannelSet.None);
        if (!post.InRotation)
            return new(Rule.LeftOut, ChannelSet.None, ChannelSet.None);
        IReadOnlyList<Id<Channel>> usual = _categories.TryGetValue(post.CategoryId, out Category? main)
            ? post.ChannelsOr(main)
            : post.Channels ?? [];
        (ChannelSet chosen, ChannelSet open) = (ChannelSet.None, ChannelSet.None);
        for (int i = 0; i < channels.Length; i++)
        {
            Channel channel = Channels[channels[i]];
            if (!usual.Contains(channel.Id))
                continue;
            chosen |= ChannelSet.Of(i);
            if (_fits[channels[i]][number] is { Fits: true })
                open |= ChannelSet.Of(i);
        }
        return new(null, chosen, open);
    }
}

/// <summary>A post on a set; channels are those of the slot, by place.</summary>
/// <param name="ExcludedBy">The rule that strikes it on any channel at any time; null when none does.</param>
/// <param name="Chosen">Channels that it is meant for.</param>
/// <param name="Open">Channels that it may go to: chosen for it and fit.</param>
internal readonly record struct SetPost(Rule? ExcludedBy, ChannelSet Chosen, ChannelSet Open);

/// <summary>The posts of one line for one set of channels.</summary>
/// <param name="Line">Identity of the category, or of the slot where that is a pool.</param>
/// <param name="Posts">Numbers in the bank, ascending.</param>
/// <param name="Channels">Numbers in the bank, in the slot's order.</param>
/// <param name="CachedVerdict">What the rules said of each the last time: most of it still holds at the next occurrence.</param>
internal sealed record CandidateSet(Guid Line, int[] Posts, int[] Channels, SetPost[] Open, CachedVerdict[] CachedVerdict);

/// <summary>What the rules said of a post on a set, and how long that holds.</summary>
internal struct CachedVerdict
{
    /// <summary>Of the post's turns; see <see cref="TurnHistory.Version"/>.</summary>
    public int Version;

    /// <summary>First day on which it may be otherwise.</summary>
    public int Until;

    /// <summary>First day on which a gap that bars it ends; the greatest number when none does.</summary>
    public int OpensOn;

    /// <summary>The order it was read in, and whether new ones went first.</summary>
    public sbyte Order;

    public bool HasRankKey;
    private byte _excludedBy;

    /// <summary>Channels that were asked for, and those of the slot that were open.</summary>
    public ChannelSet Wanted;
    public ChannelSet Open;

    public ChannelSet Passing;
    public RankKey RankKey;

    /// <summary>The rule that strikes it; null: it can go to <see cref="Passing"/>.</summary>
    public Rule? ExcludedBy
    {
        readonly get => _excludedBy == 0 ? null : (Rule)(_excludedBy - 1);
        set => _excludedBy = value is { } rule ? (byte)(rule + 1) : (byte)0;
    }

    public readonly bool Holds(int version, int day, ChannelSet wanted, ChannelSet open, sbyte order) =>
        version == Version && day < Until && wanted == Wanted && open == Open && order == Order;
}
