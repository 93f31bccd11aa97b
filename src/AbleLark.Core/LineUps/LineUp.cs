using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>All that the line-up is worked out from; the same input always gives the same line-up.</summary>
/// <param name="Zone">The workspace's zone: gaps and `once on one date` are read in it.</param>
/// <param name="Bank">Posts that are not removed; ideas may be among them.</param>
/// <param name="Deliveries">Every delivery whose place or turn still matters, in any state.</param>
public sealed record LineUpInput(
    DateTimeZone Zone, IReadOnlyList<Rota> Rotas, IReadOnlyList<Category> Categories, IReadOnlyList<Channel> Channels,
    IReadOnlyList<Post> Bank, IReadOnlyList<Delivery> Deliveries, NetworkBook Networks);

/// <summary>One channel of an occurrence: what it sends, or why it sends nothing.</summary>
/// <param name="Settled">The delivery it has become; null while it is a projection.</param>
public sealed record Pick(Id<Channel> ChannelId, Id<Post>? PostId, Delivery? Settled, Reason Reason);

/// <summary>One occurrence in the line-up.</summary>
public sealed record Place(Occurrence Occurrence, IReadOnlyList<Pick> Picks, Reason Reason)
{
    public bool IsSettled => Picks.Any(p => p.Settled is not null);
    public bool IsEmpty => Picks.All(p => p.PostId is null);
}

/// <summary>Works out what the rota will send: which post, on which channels, and why.</summary>
public sealed class LineUp
{
    private readonly LineUpInput _input;
    private readonly TurnBook _turns;
    private readonly Dictionary<Id<Category>, Post[]> _byCategory;
    private readonly Dictionary<Id<Category>, Category> _categories;
    private readonly Dictionary<Id<Channel>, Channel> _channels;
    private readonly Dictionary<Id<Post>, Post> _posts;
    private readonly ILookup<OccurrenceKey, Delivery> _settled;

    private LineUp(LineUpInput input)
    {
        _input = input;
        _channels = input.Channels.ToDictionary(c => c.Id);
        _categories = input.Categories.ToDictionary(c => c.Id);
        _posts = input.Bank.ToDictionary(p => p.Id);
        _byCategory = input.Bank.Where(p => p.Stage != Stage.Idea).GroupBy(p => p.CategoryId).ToDictionary(g => g.Key, g => g.ToArray());
        _settled = input.Deliveries.Where(d => d.Key is not null).ToLookup(d => d.Key!.Value);
        _turns = new(input, _channels, _posts);
    }

    /// <summary>The places with <paramref name="from"/> ≤ instant &lt; <paramref name="until"/>, in order.</summary>
    /// <remarks>A longer look-ahead never changes a shorter one. Start it at the present: what went before is in the deliveries.</remarks>
    public static IReadOnlyList<Place> Project(LineUpInput input, Instant from, Instant until)
    {
        LineUp lineUp = new(input);
        return [.. Occurrences.Between(input.Rotas, from, until).Select(lineUp.Fill)];
    }

    private Place Fill(Occurrence occurrence)
    {
        if (_settled.Contains(occurrence.Key)) return Settled(occurrence, [.. _settled[occurrence.Key]]);
        Channel[] channels = [.. occurrence.Slot.Channels.Select(id => _channels.GetValueOrDefault(id)).OfType<Channel>()];
        if (channels.Length == 0) return Empty(occurrence, new(ReasonCode.NoChannel));
        if (occurrence.Slot.CategoryId is not { } categoryId) return Empty(occurrence, new(ReasonCode.KeptFree));
        return Choose(occurrence, channels, _categories[categoryId]);
    }

    private Place Choose(Occurrence occurrence, Channel[] channels, Category category)
    {
        LocalDate date = occurrence.At.InZone(_input.Zone).Date;
        Post[] posts = _byCategory.GetValueOrDefault(category.Id) ?? [];
        int[] struck = new int[(int)Rule.Chosen + 1];
        List<Candidate> candidates = [];
        foreach (Post post in posts)
        {
            Screening screening = Screen(post, category, channels, date);
            if (screening.Open.Count == 0) struck[(int)screening.Last]++;
            else candidates.Add(new(post, screening, _turns.Standing(post, screening.Line!)));
        }
        if (candidates.Count == 0) return Empty(occurrence, new(ReasonCode.NoCandidate, posts.Length, Counts(struck)));

        candidates.Sort(NewestFirst.Compare);
        Candidate chosen = candidates[0];
        struck[(int)Rule.NextInLine] = candidates.Count - 1;
        struck[(int)Rule.Chosen] = 1;
        Post? next = candidates.Count > 1 ? candidates[1].Post : null;
        Reason reason = new(NewestFirst.Why(chosen), posts.Length, Counts(struck),
            chosen.Standing.LastTurn?.InZone(_input.Zone).Date, next?.Id, next?.Title);
        Pick[] picks = [.. channels.Select(c => PickFor(c, chosen, reason))];
        foreach (Pick pick in picks.Where(p => p.PostId is not null)) _turns.Add(chosen.Post, _channels[pick.ChannelId], occurrence.At);
        return new(occurrence, picks, reason);
    }

    private Pick PickFor(Channel channel, Candidate chosen, Reason reason)
    {
        Screening screening = chosen.Screening;
        if (screening.Struck.TryGetValue(channel.Id, out Rule rule))
            return new(channel.Id, null, null, new(ReasonCode.PostNotForChannel, Struck: rule));
        if (_input.Networks[channel.Network].OneAccountPerOccurrence)
        {
            Channel rested = screening.Open.Where(c => c.Network == channel.Network)
                .OrderBy(c => _turns.LastOn(c.Id)).ThenBy(c => screening.Open.IndexOf(c)).First();
            if (rested.Id != channel.Id) return new(channel.Id, null, null, new(ReasonCode.OneAccount));
        }
        return new(channel.Id, chosen.Post.Id, null, reason);
    }

    /// <summary>Strikes out channels rule by rule; the rule that strikes the last one is the one that counts.</summary>
    private Screening Screen(Post post, Category category, Channel[] channels, LocalDate date)
    {
        if (post.Stage != Stage.Ready) return Screening.Out(Rule.Stage);
        if (!post.InRotation) return Screening.Out(Rule.LeftOut);
        Screening screening = new([.. channels]);
        IReadOnlyList<Id<Channel>> chosen = post.ChannelsOr(category);
        screening.Strike(Rule.ChannelChosen, c => !chosen.Contains(c.Id));
        screening.Strike(Rule.Fit, c => !(post.Fits.GetValueOrDefault(c.Network)?.Fits ?? false));
        screening.Line = screening.Open.FirstOrDefault(c => !_turns.SameTextNear(post, _input.Networks[c.Network], date)) ?? screening.Open.FirstOrDefault();
        if (post.Lifespan == Lifespan.Once) screening.Strike(Rule.Once, c => _turns.HasTurn(post.Id, c.Id));
        screening.Strike(Rule.Gap, c => _turns.HasTurnOn(post.Id, c.Id, date));
        screening.Strike(Rule.IdenticalText, c => _turns.SameTextNear(post, _input.Networks[c.Network], date));
        screening.Strike(Rule.FailedDelivery, c => _turns.HasOpenFailure(post.Id, c.Id));
        return screening;
    }

    private static Place Settled(Occurrence occurrence, Delivery[] deliveries)
    {
        Pick[] picks =
        [
            .. deliveries.Select(d => d.State == DeliveryState.Cancelled
                ? new Pick(d.ChannelId, null, d, new(ReasonCode.TakenOut))
                : new Pick(d.ChannelId, d.PostId, d, new(ReasonCode.Settled))),
        ];
        return new(occurrence, picks, picks[0].Reason);
    }

    private static Place Empty(Occurrence occurrence, Reason reason) =>
        new(occurrence, [.. occurrence.Slot.Channels.Select(c => new Pick(c, null, null, reason))], reason);

    private static RuleCount[] Counts(int[] struck) =>
        [.. struck.Select((n, rule) => new RuleCount((Rule)rule, n)).Where(c => c.Posts > 0)];
}

/// <summary>Which of an occurrence's channels a post may still go to.</summary>
internal sealed class Screening(List<Channel> open)
{
    public List<Channel> Open { get; private set; } = open;
    public Dictionary<Id<Channel>, Rule> Struck { get; } = [];
    public Rule Last { get; private set; }

    /// <summary>
    /// The channel whose line decides the post's order: the first that it may go to, whatever gap and `once` say. A channel
    /// barred by the rule against identical text is passed over: a post that never gets there would be new for ever,
    /// and the slot's other channels would get it again and again.
    /// </summary>
    public Channel? Line { get; set; }

    public static Screening Out(Rule rule) => new([]) { Last = rule };

    public void Strike(Rule rule, Func<Channel, bool> isOut)
    {
        if (Open.Count == 0) return;
        foreach (Channel channel in Open.Where(isOut)) Struck[channel.Id] = rule;
        Open = [.. Open.Where(c => !Struck.ContainsKey(c.Id))];
        if (Open.Count == 0) Last = rule;
    }
}
