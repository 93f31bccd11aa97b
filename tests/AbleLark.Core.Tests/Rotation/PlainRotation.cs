using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>
/// The rotation, written plainly and slowly from the rules alone: lists, no numbers in place of names, nothing remembered that
/// could be looked up again. It shares with the product only the data types, the list of occurrences and the draw of a round.
/// </summary>
internal sealed class PlainRotation(LineUpInput input, Instant now, bool withSubstitutes = false)
{
    private sealed record Turn(
        LineUpPost Post,
        Channel Channel,
        Instant At,
        string? Text,
        int Wording,
        Origin Origin,
        bool IsSubstitute = false
    );

    private sealed record Gift(Guid Line, Channel Channel, LineUpPost Post, Order Order, int? Round, Instant At);

    /// <summary>What an occurrence gives a channel.</summary>
    public sealed record Given(LineUpPost Post, int Wording)
    {
        public Given? Substitute { get; set; }
    }

    private sealed record Choice(
        LineUpPost Post,
        List<LineUpPost> Candidates,
        Guid Line,
        OrderRule Rule,
        bool PastGap,
        bool IsRings,
        bool OpensARound
    );

    private readonly List<Turn> _turns = [];
    private readonly List<Gift> _gifts = [];
    private readonly List<(LineUpPost Post, Channel Channel)> _scheduled = [];

    /// <summary>Posts that this occurrence gave to an account of a network that takes one post on one account only.</summary>
    private readonly List<(LineUpPost Post, Channel Channel)> _here = [];

    /// <summary>For each occurrence in order, what each of its channels gets; null for nothing.</summary>
    public List<(Origin Origin, Dictionary<Id<Channel>, Given?> Gets)> Run(Instant until)
    {
        Dictionary<Id<Slot>, (int, int)> rank = input
            .Rotas.SelectMany(r => r.Slots.Select(s => (s.Id, r.Rank, s.Position)))
            .ToDictionary(s => s.Id, s => (s.Rank, s.Position));
        foreach (
            LineUpDelivery d in input
                .Deliveries.OrderBy(d => d.At)
                .ThenBy(d => d.Origin.SlotId is { } slot ? rank[slot] : default)
                .Where(d => d.State is not (DeliveryState.Refused or DeliveryState.Missed or DeliveryState.Cancelled))
        )
        {
            LineUpPost post = input.Bank.Single(p => p.Id == d.PostId);
            Channel channel = input.Channels.Single(c => c.Id == d.ChannelId);
            bool isSubstitute = d.State == DeliveryState.Substitute;
            _turns.Add(new(post, channel, d.At, WordsOf(d, post, channel), d.Wording, d.Origin, isSubstitute));
            if (d.State is DeliveryState.Planned or DeliveryState.WaitingForApproval or DeliveryState.Substitute or DeliveryState.Sending)
                _scheduled.Add((post, channel));
            if (d.DrawnBy is { } line && !isSubstitute)
                _gifts.Add(new(line, channel, post, d.DrawnInOrder!.Value, d.Round, d.At));
        }
        var occurrences = Occurrences.Between(input.Rotas, now, until, input.Decisions);
        foreach (Occurrence o in Occurrences.Between(input.Rotas, now, now + Duration.FromDays(400), input.Decisions))
        {
            foreach (GivenPost given in Rests(o) ? [] : o.Decision?.Posts ?? [])
            {
                LineUpPost post = input.Bank.Single(p => p.Id == given.PostId);
                Channel channel = input.Channels.Single(c => c.Id == given.ChannelId);
                if (o.Slot.Channels.Contains(channel.Id) && MayBeGiven(post, channel) && !IsPaused(Paused.Channel, channel.Id.Value, o))
                    _turns.Add(
                        new(post, channel, o.At, Texts(post, channel)[FirstWording(post, channel)], FirstWording(post, channel), o.Origin)
                    );
            }
        }
        return [.. occurrences.Select(o => (o.Origin, Fill(o)))];
    }

    private Dictionary<Id<Channel>, Given?> Fill(Occurrence o)
    {
        Dictionary<Id<Channel>, Given?> gets = o.Slot.Channels.ToDictionary(c => c, _ => (Given?)null);
        if (Rests(o))
            return gets;
        _here.Clear();
        List<Channel> empty = [.. o.Slot.Channels.Select(id => input.Channels.Single(c => c.Id == id))];
        foreach (GivenPost given in o.Decision?.Posts ?? [])
        {
            Channel? channel = empty.SingleOrDefault(c => c.Id == given.ChannelId);
            if (channel is null)
                continue;
            empty.Remove(channel);
            LineUpPost post = input.Bank.Single(p => p.Id == given.PostId);
            if (!MayBeGiven(post, channel) || IsPaused(Paused.Channel, channel.Id.Value, o))
                continue;
            gets[channel.Id] = new(post, FirstWording(post, channel));
            _here.Add((post, channel));
            if (withSubstitutes)
                _scheduled.Add((post, channel));
        }
        while (empty.Count > 0)
        {
            if (Choose(o, empty, null) is not { } choice)
                break;
            List<Channel> to = [.. empty.Where(c => ExcludedBy(o, choice.Post, c, choice.PastGap) is null)];
            to =
            [
                .. to.Where(c =>
                    !input.Networks[c.Network].OneAccountPerOccurrence || c == to.Where(x => x.Network == c.Network).OrderBy(LastOn).First()
                ),
            ];
            List<(Channel Channel, int Wording, Gift? Gift)> given = Give(o, choice, to);
            bool Waits(Channel c, int wording) =>
                choice.Post.Stage == Stage.WaitingForApproval && choice.Post.Fits[c.Network].Approved?.Contains(wording) != true;
            if (withSubstitutes)
                Reserve(o, choice.Post, [.. given.Where(g => Waits(g.Channel, g.Wording)).Select(g => g.Channel)], gets, given);
            foreach ((Channel channel, int wording, Gift? gift) in given)
            {
                Given? substitute = gets[channel.Id]?.Substitute;
                gets[channel.Id] = new(choice.Post, wording) { Substitute = substitute };
                Write(o, choice.Post, channel, wording, isSubstitute: false);
                if (gift is not null)
                    _gifts.Add(gift);
                _here.Add((choice.Post, channel));
                if (substitute is not null)
                    _here.Add((substitute.Post, channel));
            }
            empty = [.. empty.Except(given.Select(g => g.Channel))];
            if (!o.Slot.FillsEveryChannel)
                break;
        }
        return gets;
    }

    /// <summary>Which wording each channel gets, in the slot's order: a text that went to one account of a network bars it for the
    /// next.</summary>
    private List<(Channel Channel, int Wording, Gift? Gift)> Give(Occurrence o, Choice choice, List<Channel> to)
    {
        List<(Channel, int, Gift?)> given = [];
        List<(string Network, string Text)> texts = [];
        Channel reading = Reading(o, choice.Post);
        foreach (Channel channel in to)
        {
            int wording = Wording(o, choice.Post, channel, texts);
            if (wording < 0)
                continue;
            texts.Add((channel.Network, Texts(choice.Post, channel)[wording]!));
            int round = Round(choice.Line, channel) + (channel == reading && choice.OpensARound ? 1 : 0);
            // What went past its gap was given by nobody; the ring counts only what it would have given.
            bool counts = !choice.PastGap && (choice.Rule.Order != Order.OldestFirst || choice.IsRings);
            given.Add((channel, wording, counts ? new(choice.Line, channel, choice.Post, choice.Rule.Order, round, o.At) : null));
        }
        return given;
    }

    private void Reserve(
        Occurrence o,
        LineUpPost waiting,
        List<Channel> channels,
        Dictionary<Id<Channel>, Given?> gets,
        List<(Channel Channel, int Wording, Gift? Gift)> taken
    )
    {
        while (channels.Count > 0 && Choose(o, channels, waiting) is { } choice)
        {
            var given = Give(o, choice, [.. channels.Where(c => ExcludedBy(o, choice.Post, c, false) is null)]);
            foreach ((Channel channel, int wording, _) in given)
            {
                gets[channel.Id] = new(waiting, taken.Single(t => t.Channel == channel).Wording) { Substitute = new(choice.Post, wording) };
                Write(o, choice.Post, channel, wording, isSubstitute: true);
            }
            channels = [.. channels.Except(given.Select(g => g.Channel))];
            if (!o.Slot.FillsEveryChannel)
                return;
        }
    }

    private void Write(Occurrence o, LineUpPost post, Channel channel, int wording, bool isSubstitute)
    {
        _turns.Add(new(post, channel, o.At, Texts(post, channel)[wording], wording, o.Origin, isSubstitute));
        if (withSubstitutes)
            _scheduled.Add((post, channel));
    }

    /// <param name="waiting">Null for the post itself; else the post that waits, and a substitute is chosen: ready, nowhere scheduled,
    /// inside its gap never.</param>
    private Choice? Choose(Occurrence o, List<Channel> wanted, LineUpPost? waiting)
    {
        Slot slot = o.Slot;
        List<Category> open =
        [
            .. slot.Categories.Select(id => input.Categories.Single(c => c.Id == id)).Where(c => !IsPaused(Paused.Category, c.Id.Value, o)),
        ];
        List<(Guid Line, OrderRule Rule, List<LineUpPost> Posts)> lines;
        if (slot.IsPool)
        {
            if (open.Count == 0)
                return null;
            lines = [(slot.Id.Value, slot.Order ?? OrderRule.Usual, [.. input.Bank.Where(p => open.Any(c => p.HasCategory(c.Id)))])];
        }
        else
        {
            int turn = slot.Categories.Count == 0 ? 0 : o.Number % slot.Categories.Count;
            lines =
            [
                .. slot
                    .Categories.Skip(turn)
                    .Concat(slot.Categories.Take(turn))
                    .Select(id => open.SingleOrDefault(c => c.Id == id))
                    .OfType<Category>()
                    .Select(c => (c.Id.Value, slot.Order ?? c.Order, input.Bank.Where(p => p.HasCategory(c.Id)).ToList())),
            ];
        }
        bool MaySubstitute(LineUpPost p) =>
            waiting is null
            || (p != waiting && p.Stage == Stage.Ready && !_scheduled.Any(s => s.Post == p && slot.Channels.Contains(s.Channel.Id)));
        foreach (bool pastGap in waiting is null ? new[] { false, true } : [false])
        {
            foreach ((Guid line, OrderRule rule, List<LineUpPost> posts) in lines.Where(l => !pastGap || l.Rule.PastGap))
            {
                List<LineUpPost> ofLine = [.. posts.Where(p => p.Stage != Stage.Idea)];
                List<LineUpPost> candidates =
                [
                    .. ofLine.Where(p => MaySubstitute(p) && wanted.Any(c => ExcludedBy(o, p, c, pastGap) is null)),
                ];
                if (candidates.Count > 0)
                    return First(o, line, pastGap ? new(Order.LongestSinceLastSent) : rule, ofLine, candidates) with
                    {
                        Rule = rule,
                        PastGap = pastGap,
                    };
            }
        }
        return null;
    }

    private Choice First(Occurrence o, Guid line, OrderRule rule, List<LineUpPost> ofLine, List<LineUpPost> candidates)
    {
        Instant? Last(LineUpPost p) => _turns.Where(t => t.Post == p && t.Channel == Reading(o, p)).Select(t => (Instant?)t.At).Max();
        bool HadTurn(LineUpPost p, Instant from) =>
            _turns.Any(t => t.Post == p && t.Channel == Reading(o, p) && t.At >= from && t.At <= o.At);
        Instant? Front(LineUpPost p)
        {
            Channel c = Reading(o, p);
            var missed = input
                .Deliveries.Where(d =>
                    d.PostId == p.Id
                    && d.ChannelId == c.Id
                    && (d.State == DeliveryState.Missed || (d.State == DeliveryState.Refused && d.DealtWith))
                )
                .Select(d => d.At);
            var moves = input.Moves.Where(m => m.PostId == p.Id && m.ChannelId == c.Id);
            Instant? front = missed.Concat(moves.Where(m => m.Side == Side.Front).Select(m => m.At)).Select(i => (Instant?)i).Max();
            if (front is null || moves.Any(m => m.Side == Side.Back && m.At >= front) || HadTurn(p, front.Value))
                return null;
            return front;
        }
        Instant? SentBack(LineUpPost p) =>
            Front(p) is null
                ? input
                    .Moves.Where(m => m.PostId == p.Id && m.ChannelId == Reading(o, p).Id && m.Side == Side.Back && !HadTurn(p, m.At))
                    .Select(m => (Instant?)m.At)
                    .FirstOrDefault()
                : null;
        // Of several at the back each waits for those before it, not for those that were moved there later.
        bool IsBack(LineUpPost p) =>
            SentBack(p) is { } back
            && candidates.Any(q =>
                q != p && !HadTurn(q, back) && !(SentBack(q) is { } its && (its > back || (its == back && ByAge.Compare(q, p) > 0)))
            );

        List<LineUpPost> waiting = [.. candidates.Where(p => !IsBack(p))];
        List<LineUpPost> ring = Ring(o, line, ofLine, waiting.Count > 0 ? waiting : candidates);
        Choice Chosen(LineUpPost p, bool opensARound = false) => new(p, candidates, line, rule, false, p == ring[0], opensARound);

        List<LineUpPost> moved = [.. candidates.Where(p => Front(p) is not null).OrderByDescending(p => Front(p)).ThenBy(p => p, ByAge)];
        if (moved.Count > 0)
            return Chosen(moved[0]);
        Instant MovedBack(LineUpPost p) =>
            input.Moves.Where(m => m.PostId == p.Id && m.ChannelId == Reading(o, p).Id && m.Side == Side.Back).Max(m => m.At);
        // Of several at the back the one that was moved there latest goes last, whatever the order.
        if (waiting.Count == 0)
        {
            LineUpPost first = candidates.OrderBy(MovedBack).ThenBy(p => p, ByAge).First();
            return Chosen(first, WasGiven(line, Reading(o, first), first));
        }
        List<LineUpPost> rest = waiting;
        bool newOnesFirst = rule.FreshFirst || rule.Order is Order.NewestFirst or Order.LongestSinceLastSent or Order.BetterOnesMoreOften;
        List<LineUpPost> fresh = [.. rest.Where(p => newOnesFirst && Last(p) is null)];
        if (fresh.Count > 0)
            rest = fresh;
        List<LineUpPost> inOrder = rule.Order switch
        {
            Order.NewestFirst =>
            [
                .. rest.OrderBy(p => Last(p) is null ? -p.AddedAt!.Value.ToUnixTimeTicks() : Last(p)!.Value.ToUnixTimeTicks())
                    .ThenBy(p => p, ByAge),
            ],
            Order.LongestSinceLastSent => [.. rest.OrderBy(p => Last(p) ?? Instant.MinValue).ThenBy(p => p, ByAge)],
            Order.BetterOnesMoreOften =>
            [
                .. rest.OrderByDescending(p => Last(p) is { } last ? Math.Max(0, (o.At - last).TotalTicks) * Score(o, p) : double.MaxValue)
                    .ThenBy(p => p, ByAge),
            ],
            Order.OldestFirst => Ring(o, line, ofLine, rest),
            _ =>
            [
                .. rest.OrderBy(p => WasGiven(line, Reading(o, p), p) ? 1 : 0)
                    .ThenBy(p =>
                        Shuffle.Mix(
                            rule.Seed,
                            line,
                            Round(line, Reading(o, p)) + (WasGiven(line, Reading(o, p), p) ? 1 : 0),
                            Shuffle.Of(p.Id.Value)
                        )
                    )
                    .ThenBy(p => p, ByAge),
            ],
        };
        if (rule.Order != Order.Shuffled)
            return Chosen(inOrder[0]);
        // The first of a round was the last of the one before: it changes places with the second.
        bool opens = WasGiven(line, Reading(o, inOrder[0]), inOrder[0]);
        Gift? last = _gifts
            .Where(g => g.Line == line && g.Channel == Reading(o, inOrder[0]) && g.Order == Order.Shuffled)
            .OrderBy(g => g.At)
            .LastOrDefault();
        LineUpPost next = opens && inOrder.Count > 1 && last!.Post == inOrder[0] ? inOrder[1] : inOrder[0];
        return Chosen(next, WasGiven(line, Reading(o, next), next));
    }

    /// <summary>Some posts as the ring of their line would give them: steps count the line's posts, from the one given last by the
    /// instant of its place.</summary>
    private List<LineUpPost> Ring(Occurrence o, Guid line, List<LineUpPost> ofLine, List<LineUpPost> some)
    {
        List<LineUpPost> ring = [.. ofLine.OrderBy(p => p, ByAge)];
        int Steps(LineUpPost p)
        {
            Gift? last = _gifts
                .Where(g => g.Line == line && g.Channel == Reading(o, p) && g.Order == Order.OldestFirst)
                .OrderBy(g => g.At)
                .LastOrDefault();
            // One that has left the line counts as standing before whoever comes after it.
            int next = last is null ? 0 : ring.Count(q => ByAge.Compare(q, last.Post) <= 0);
            return (ring.IndexOf(p) - next + ring.Count) % ring.Count;
        }
        return [.. some.OrderBy(Steps).ThenBy(p => p, ByAge)];
    }

    private int Round(Guid line, Channel channel) =>
        Math.Max(
            1,
            _gifts
                .Where(g => g.Line == line && g.Channel == channel && g.Order == Order.Shuffled)
                .Select(g => g.Round ?? 1)
                .DefaultIfEmpty(1)
                .Max()
        );

    private bool WasGiven(Guid line, Channel channel, LineUpPost post) =>
        _gifts.Any(g =>
            g.Line == line && g.Channel == channel && g.Order == Order.Shuffled && g.Post == post && g.Round >= Round(line, channel)
        );

    private double Score(Occurrence o, LineUpPost p) => input.Scores.GetValueOrDefault((p.Id, Reading(o, p).Id), 1);

    /// <summary>The first channel of the slot that is open now and that the post could go to; if there is none, the first of those chosen
    /// for it.</summary>
    private Channel Reading(Occurrence o, LineUpPost p)
    {
        List<Channel> chosen = [.. o.Slot.Channels.Select(id => input.Channels.Single(c => c.Id == id)).Where(c => IsChosen(p, c))];
        return chosen.FirstOrDefault(c => p.Fits[c.Network].Fits && !IsClosed(c, o) && !HasOpenFailure(p, c) && Wording(o, p, c) >= 0)
            ?? chosen[0];
    }

    private Rule? ExcludedBy(Occurrence o, LineUpPost p, Channel c, bool pastGap)
    {
        LocalDate date = DateOf(o.At);
        List<Turn> line = [.. _turns.Where(t => t.Post == p && t.Channel == c)];
        if (p.Stage is not (Stage.Ready or Stage.WaitingForApproval))
            return Rule.Stage;
        if (!p.InRotation)
            return Rule.LeftOut;
        if (date < p.From || date > p.To)
            return Rule.Lifespan;
        if (!IsChosen(p, c))
            return Rule.ChannelChosen;
        if (!p.Fits[c.Network].Fits)
            return Rule.Fit;
        if (IsClosed(c, o))
            return Rule.ChannelClosed;
        if (p.Lifespan == Lifespan.Once && line.Count > 0)
            return Rule.Once;
        if (p.Lifespan == Lifespan.OnceAltogether && (line.Count > 0 || _turns.Any(t => t.Post == p && t.At != o.At)))
            return Rule.Once;
        int gap = pastGap ? 1 : Math.Max(1, p.GapDays ?? input.Categories.Single(x => x.Id == p.CategoryId).GapDays ?? 1);
        if (line.Any(t => Math.Abs(Period.DaysBetween(DateOf(t.At), date)) < gap))
            return Rule.Gap;
        bool wentToAnother =
            input.Networks[c.Network].OneAccountPerOccurrence
            && _here.Any(h => h.Post == p && h.Channel != c && h.Channel.Network == c.Network);
        if (wentToAnother || Wording(o, p, c) < 0)
            return Rule.IdenticalText;
        return HasOpenFailure(p, c) ? Rule.FailedDelivery : null;
    }

    private bool HasOpenFailure(LineUpPost p, Channel c) =>
        input.Deliveries.Any(d =>
            d.PostId == p.Id
            && d.ChannelId == c.Id
            && d.State is DeliveryState.Refused or DeliveryState.MayHaveGoneOut
            && d.PostId == p.Id
            && d.ChannelId == c.Id
            && !d.DealtWith
        );

    private bool IsClosed(Channel c, Occurrence o) => IsPaused(Paused.Channel, c.Id.Value, o) || IsFull(c, o);

    /// <summary>What is planned counts in its words, whether they may go or not; a wording that is no longer there is the post's
    /// own.</summary>
    private static string WordsOf(LineUpDelivery d, LineUpPost p, Channel c) =>
        new[] { p.Fits[c.Network].TextFingerprint }
            .Concat((p.Fits[c.Network].Wordings ?? []).Select(w => w.TextFingerprint))
            .ElementAtOrDefault(d.Wording)
        ?? p.Fits[c.Network].TextFingerprint;

    /// <summary>Text of each wording, the common one first; null where it can't go.</summary>
    private static List<string?> Texts(LineUpPost p, Channel c)
    {
        Fit fit = p.Fits[c.Network];
        return fit.Wordings is not { Count: > 0 } wordings
            ? [fit.TextFingerprint]
            : [fit.Block is null ? fit.TextFingerprint : null, .. wordings.Select(a => a.Block is null ? a.TextFingerprint : null)];
    }

    private static int FirstWording(LineUpPost p, Channel c) => Math.Max(0, Texts(p, c).FindIndex(t => t is not null));

    /// <summary>Of the wordings that break no rule of the network, the one used longest ago on the channel; -1 when there is
    /// none.</summary>
    private int Wording(Occurrence o, LineUpPost p, Channel c, List<(string Network, string Text)>? here = null)
    {
        List<string?> texts = Texts(p, c);
        Instant Used(int wording) =>
            _turns
                .Where(t => t.Post == p && t.Channel == c && t.Wording == wording)
                .Select(t => t.At)
                .DefaultIfEmpty(Instant.MinValue)
                .Max();
        bool IsSameText(string text) =>
            input.Networks[c.Network].IdenticalTextDays is { } days
            && (
                here?.Contains((c.Network, text)) == true
                || _turns.Any(t =>
                    t.Channel.Network == c.Network && t.Text == text && Math.Abs(Period.DaysBetween(DateOf(t.At), DateOf(o.At))) < days
                )
            );
        return Enumerable
            .Range(0, texts.Count)
            .Where(i => texts[i] is { } text && !IsSameText(text))
            .OrderBy(Used)
            .DefaultIfEmpty(-1)
            .First();
    }

    /// <summary>What the occurrence has given the channel itself doesn't close it.</summary>
    private bool IsFull(Channel c, Occurrence o)
    {
        Instant at = o.At;
        List<Turn> on = [.. _turns.Where(t => t.Channel == c && !t.IsSubstitute && t.Origin != o.Origin)];
        DateTimeZone zone = c.Zone ?? input.Zone;
        return (c.Spacing is { } spacing && on.Any(t => (t.At > at ? t.At - at : at - t.At) < spacing))
            || (c.DailyLimit is { } limit && on.Count(t => t.At.InZone(zone).Date == at.InZone(zone).Date) >= limit);
    }

    private bool IsChosen(LineUpPost p, Channel c) => p.ChannelsOr(input.Categories.Single(x => x.Id == p.CategoryId)).Contains(c.Id);

    private bool MayBeGiven(LineUpPost p, Channel c) =>
        p.Stage is Stage.Ready or Stage.WaitingForApproval && IsChosen(p, c) && p.Fits[c.Network].Fits;

    private bool Rests(Occurrence o) =>
        o.ReplacedBy is not null
        || o.Decision?.IsSkipped == true
        || input.Pauses.Any(p => p.What == Paused.Workspace && p.HoldsOn(DateOf(o.At)))
        || IsPaused(Paused.Slot, o.Slot.Id.Value, o);

    private bool IsPaused(Paused what, Guid target, Occurrence o) =>
        input.Pauses.Any(p => p.What == what && p.Target == target && p.HoldsOn(DateOf(o.At)));

    private Instant LastOn(Channel c) =>
        _turns.Where(t => t.Channel == c && !t.IsSubstitute).Select(t => t.At).DefaultIfEmpty(Instant.MinValue).Max();

    private LocalDate DateOf(Instant at) => at.InZone(input.Zone).Date;

    private static readonly Comparer<LineUpPost> ByAge = Comparer<LineUpPost>.Create(
        (a, b) =>
        {
            int order = (a.AddedAt ?? Instant.MinValue).CompareTo(b.AddedAt ?? Instant.MinValue);
            if (order == 0)
                order = a.AddedOrder.CompareTo(b.AddedOrder);
            if (order == 0)
                order = string.CompareOrdinal(a.Title, b.Title);
            return order == 0 ? a.Id.CompareTo(b.Id) : order;
        }
    );
}
