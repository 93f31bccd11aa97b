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
            if (Screen(post, category, channels, date) is { } rule) struck[(int)rule]++;
            else candidates.Add(new(post, StandingOf(post, category, channels, date)));
        }
        if (candidates.Count == 0) return Empty(occurrence, new(ReasonCode.NoCandidate, posts.Length, Counts(struck)));

        (Candidate chosen, Post? next) = FirstTwo(candidates);
        struck[(int)Rule.NextInLine] = candidates.Count - 1;
        struck[(int)Rule.Chosen] = 1;
        Reason reason = new(NewestFirst.Why(chosen), posts.Length, Counts(struck),
            chosen.Standing.LastTurn?.InZone(_input.Zone).Date, next?.Id, next?.Title);
        Pick[] picks = [.. channels.Select(c => PickFor(c, chosen.Post, category, channels, date, reason))];
        foreach (Pick pick in picks.Where(p => p.PostId is not null)) _turns.Add(chosen.Post, _channels[pick.ChannelId], occurrence.At);
        return new(occurrence, picks, reason);
    }

    private Pick PickFor(Channel channel, Post chosen, Category category, Channel[] channels, LocalDate date, Reason reason)
    {
        if (RuleOn(chosen, category, channel, date) is { } rule)
            return new(channel.Id, null, null, new(ReasonCode.PostNotForChannel, Struck: rule));
        if (_input.Networks[channel.Network].OneAccountPerOccurrence)
        {
            Channel rested = channels.Where(c => c.Network == channel.Network && RuleOn(chosen, category, c, date) is null).MinBy(c => _turns.LastOn(c.Id))!;
            if (rested.Id != channel.Id) return new(channel.Id, null, null, new(ReasonCode.OneAccount));
        }
        return new(channel.Id, chosen.Id, null, reason);
    }

    /// <summary>Null while a channel stays open; else the rule that strikes the last of them, which is the one that counts.</summary>
    private Rule? Screen(Post post, Category category, Channel[] channels, LocalDate date)
    {
        Rule last = Rule.Stage;
        foreach (Channel channel in channels)
        {
            if (RuleOn(post, category, channel, date) is not { } rule) return null;
            if (rule > last) last = rule;
        }
        return last;
    }

    /// <summary>The first rule that keeps the post from the channel; null when none does.</summary>
    private Rule? RuleOn(Post post, Category category, Channel channel, LocalDate date)
    {
        if (post.Stage != Stage.Ready) return Rule.Stage;
        if (!post.InRotation) return Rule.LeftOut;
        if (!post.ChannelsOr(category).Contains(channel.Id)) return Rule.ChannelChosen;
        if (post.Fits.GetValueOrDefault(channel.Network) is not { Fits: true }) return Rule.Fit;
        TurnBook.Line line = _turns.On(post, channel);
        if (post.Lifespan == Lifespan.Once && line.HasTurn) return Rule.Once;
        if (line.Dates.Contains(date)) return Rule.Gap;
        if (_turns.SameTextNear(post, _input.Networks[channel.Network], date)) return Rule.IdenticalText;
        return line.HasOpenFailure ? Rule.FailedDelivery : null;
    }

    /// <summary>
    /// The post's place in the line of the first channel that it may go to, whatever gap and `once` say. A channel barred by
    /// the rule against identical text is passed over: a post that never gets there would be new for ever, and the
    /// slot's other channels would get it again and again.
    /// </summary>
    private Standing StandingOf(Post post, Category category, Channel[] channels, LocalDate date)
    {
        Channel? barred = null;
        foreach (Channel channel in channels)
        {
            if (RuleOn(post, category, channel, date) is Rule.ChannelChosen or Rule.Fit) continue;
            if (!_turns.SameTextNear(post, _input.Networks[channel.Network], date)) return _turns.On(post, channel).Standing;
            barred ??= channel;
        }
        return _turns.On(post, barred!).Standing;
    }

    private static (Candidate First, Post? Next) FirstTwo(List<Candidate> candidates)
    {
        Candidate first = candidates[0];
        Candidate? second = null;
        foreach (Candidate candidate in candidates.Skip(1))
        {
            if (NewestFirst.Compare(candidate, first) < 0) (first, second) = (candidate, first);
            else if (second is null || NewestFirst.Compare(candidate, second) < 0) second = candidate;
        }
        return (first, second?.Post);
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
