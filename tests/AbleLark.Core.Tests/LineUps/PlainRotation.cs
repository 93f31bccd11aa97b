using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Tests.LineUps;

/// <summary>
/// The rotation, written plainly and slowly from the rules alone: lists, no numbers in place of names, nothing remembered that
/// could be looked up again. It shares with the product only the data types, the list of occurrences and the draw of a round.
/// </summary>
internal sealed class PlainRotation(LineUpInput input, Instant now)
{
    private sealed record Turn(Post Post, Channel Channel, Instant At, string? Text);

    private sealed record Gift(Guid Line, Channel Channel, Post Post, Order Order, int? Round);

    private readonly List<Turn> _turns = [];
    private readonly List<Gift> _gifts = [];

    /// <summary>For each occurrence in order, what each of its channels gets; null for nothing.</summary>
    public List<(OccurrenceKey Key, Dictionary<Id<Channel>, Id<Post>?> Gets)> Run(Instant until)
    {
        foreach (Delivery d in input.Deliveries.OrderBy(d => d.At).Where(d => d.State is not (DeliveryState.Refused or DeliveryState.Missed or DeliveryState.Cancelled)))
        {
            Post post = input.Bank.Single(p => p.Id == d.PostId);
            Channel channel = input.Channels.Single(c => c.Id == d.ChannelId);
            _turns.Add(new(post, channel, d.At, post.Fits[channel.Network].Print));
            if (d.GivenBy is { } line) _gifts.Add(new(line, channel, post, d.GivenInOrder!.Value, d.Round));
        }
        var occurrences = Occurrences.Between(input.Rotas, now, until, input.Decisions);
        foreach (Occurrence o in Occurrences.Between(input.Rotas, now, now + Duration.FromDays(400), input.Decisions))
        {
            foreach (GivenPost given in Rests(o) ? [] : o.Decision?.Posts ?? [])
            {
                Post post = input.Bank.Single(p => p.Id == given.PostId);
                Channel channel = input.Channels.Single(c => c.Id == given.ChannelId);
                if (o.Slot.Channels.Contains(channel.Id) && MayBeGiven(post, channel) && !IsPaused(Paused.Channel, channel.Id.Value, o)) _turns.Add(new(post, channel, o.At, post.Fits[channel.Network].Print));
            }
        }
        return [.. occurrences.Select(o => (o.Key, Fill(o)))];
    }

    private Dictionary<Id<Channel>, Id<Post>?> Fill(Occurrence o)
    {
        Dictionary<Id<Channel>, Id<Post>?> gets = o.Slot.Channels.ToDictionary(c => c, _ => (Id<Post>?)null);
        if (Rests(o)) return gets;
        List<Channel> empty = [.. o.Slot.Channels.Select(id => input.Channels.Single(c => c.Id == id))];
        foreach (GivenPost given in o.Decision?.Posts ?? [])
        {
            Channel? channel = empty.SingleOrDefault(c => c.Id == given.ChannelId);
            if (channel is null) continue;
            empty.Remove(channel);
            if (MayBeGiven(input.Bank.Single(p => p.Id == given.PostId), channel) && !IsPaused(Paused.Channel, channel.Id.Value, o)) gets[channel.Id] = given.PostId;
        }
        while (empty.Count > 0)
        {
            if (Choose(o, empty) is not var (post, isByOrder, isFront, line, rule, pastGap)) break;
            Channel reading = Reading(o, post);
            // A post that a person put to the front begins no new round.
            int readingRound = Round(line, reading) + (!isFront && WasGiven(line, reading, post) ? 1 : 0);
            List<Channel> to = [.. empty.Where(c => Struck(o, post, c, pastGap) is null)];
            to = [.. to.Where(c => !input.Networks[c.Network].OneAccountPerOccurrence || c == to.Where(x => x.Network == c.Network).OrderBy(LastOn).First())];
            List<Gift> gifts = [.. to.Select(c => new Gift(line, c, post, rule.Order, c == reading ? readingRound : Round(line, c)))];
            foreach (Channel channel in to)
            {
                gets[channel.Id] = post.Id;
                _turns.Add(new(post, channel, o.At, post.Fits[channel.Network].Print));
            }
            // What went past its gap was given by nobody; the ring counts only what it gave itself.
            if (!pastGap && (isByOrder || rule.Order != Order.OldestFirst)) _gifts.AddRange(gifts);
            empty = [.. empty.Except(to)];
            if (!o.Slot.FillsEveryChannel) break;
        }
        return gets;
    }

    private (Post Post, bool IsByOrder, bool IsFront, Guid Line, OrderRule Rule, bool PastGap)? Choose(Occurrence o, List<Channel> wanted)
    {
        Slot slot = o.Slot;
        List<Category> open = [.. slot.Categories.Select(id => input.Categories.Single(c => c.Id == id)).Where(c => !IsPaused(Paused.Category, c.Id.Value, o))];
        List<(Guid Line, OrderRule Rule, List<Post> Posts)> lines;
        if (slot.IsPool)
        {
            if (open.Count == 0) return null;
            lines = [(slot.Id.Value, slot.Order ?? OrderRule.Usual, [.. input.Bank.Where(p => open.Any(c => p.HasCategory(c.Id)))])];
        }
        else
        {
            int turn = slot.Categories.Count == 0 ? 0 : o.Number % slot.Categories.Count;
            lines = [.. slot.Categories.Skip(turn).Concat(slot.Categories.Take(turn)).Select(id => open.SingleOrDefault(c => c.Id == id)).OfType<Category>()
                .Select(c => (c.Id.Value, slot.Order ?? c.Order, input.Bank.Where(p => p.HasCategory(c.Id)).ToList()))];
        }
        foreach (bool pastGap in new[] { false, true })
        {
            foreach ((Guid line, OrderRule rule, List<Post> posts) in lines.Where(l => !pastGap || l.Rule.PastGap))
            {
                List<Post> candidates = [.. posts.Where(p => p.Stage != Stage.Idea && wanted.Any(c => Struck(o, p, c, pastGap) is null))];
                if (candidates.Count == 0) continue;
                (Post first, bool isByOrder, bool isFront) = First(o, line, pastGap ? new(Order.LongestRested) : rule, candidates);
                return (first, isByOrder, isFront, line, rule, pastGap);
            }
        }
        return null;
    }

    private (Post Post, bool IsByOrder, bool IsFront) First(Occurrence o, Guid line, OrderRule rule, List<Post> candidates)
    {
        Instant? Last(Post p) => _turns.Where(t => t.Post == p && t.Channel == Reading(o, p)).Select(t => (Instant?)t.At).Max();
        bool HadTurn(Post p, Instant from) => _turns.Any(t => t.Post == p && t.Channel == Reading(o, p) && t.At >= from && t.At <= o.At);
        Instant? Front(Post p)
        {
            Channel c = Reading(o, p);
            var missed = input.Deliveries.Where(d => d.PostId == p.Id && d.ChannelId == c.Id && (d.State == DeliveryState.Missed || (d.State == DeliveryState.Refused && d.DealtWith))).Select(d => d.At);
            var moves = input.Moves.Where(m => m.PostId == p.Id && m.ChannelId == c.Id);
            Instant? front = missed.Concat(moves.Where(m => m.Side == Side.Front).Select(m => m.At)).Select(i => (Instant?)i).Max();
            if (front is null || moves.Any(m => m.Side == Side.Back && m.At >= front) || HadTurn(p, front.Value)) return null;
            return front;
        }
        Instant? SentBack(Post p) => Front(p) is null ? input.Moves.Where(m => m.PostId == p.Id && m.ChannelId == Reading(o, p).Id && m.Side == Side.Back && !HadTurn(p, m.At)).Select(m => (Instant?)m.At).FirstOrDefault() : null;
        // Of several at the back each waits for those before it, not for those that were moved there later.
        bool IsBack(Post p) => SentBack(p) is { } back && candidates.Any(q => q != p && !HadTurn(q, back) && !(SentBack(q) is { } its && (its > back || (its == back && ByAge.Compare(q, p) > 0))));

        List<Post> moved = [.. candidates.Where(p => Front(p) is not null).OrderByDescending(p => Front(p)).ThenBy(p => p, ByAge)];
        if (moved.Count > 0) return (moved[0], false, true);
        List<Post> rest = [.. candidates.Where(p => !IsBack(p))];
        if (rest.Count == 0) rest = candidates;
        Instant MovedBack(Post p) => input.Moves.Where(m => m.PostId == p.Id && m.ChannelId == Reading(o, p).Id && m.Side == Side.Back).Max(m => m.At);
        // Of several at the back the one that was moved there latest goes last, whatever the order.
        if (rest.All(IsBack)) return (rest.OrderBy(MovedBack).ThenBy(p => p, ByAge).First(), false, false);
        bool newOnesFirst = rule.FreshFirst || rule.Order is Order.NewestFirst or Order.LongestRested or Order.GoodOnesOftener;
        List<Post> fresh = [.. rest.Where(p => newOnesFirst && Last(p) is null)];
        if (fresh.Count > 0) rest = fresh;
        List<Post> inOrder = rule.Order switch
        {
            Order.NewestFirst => [.. rest.OrderBy(p => Last(p) is null ? -p.AddedAt!.Value.ToUnixTimeTicks() : Last(p)!.Value.ToUnixTimeTicks()).ThenBy(p => p, ByAge)],
            Order.LongestRested => [.. rest.OrderBy(p => Last(p) ?? Instant.MinValue).ThenBy(p => p, ByAge)],
            Order.GoodOnesOftener => [.. rest.OrderByDescending(p => Last(p) is { } last ? Math.Max(0, (o.At - last).TotalTicks) * Score(o, p) : double.MaxValue).ThenBy(p => p, ByAge)],
            Order.OldestFirst => Ring(o, line, rest),
            _ => [.. rest.OrderBy(p => WasGiven(line, Reading(o, p), p) ? 1 : 0)
                .ThenBy(p => Shuffle.Mix(rule.Seed, line, Round(line, Reading(o, p)) + (WasGiven(line, Reading(o, p), p) ? 1 : 0), Shuffle.Of(p.Id.Value))).ThenBy(p => p, ByAge)],
        };
        bool isByOrder = !(newOnesFirst && Last(inOrder[0]) is null);
        if (rule.Order != Order.Shuffled || inOrder.Count < 2) return (inOrder[0], isByOrder, false);
        // The first of a round was the last of the one before: it changes places with the second.
        Post first = inOrder[0];
        List<Gift> given = [.. _gifts.Where(g => g.Line == line && g.Channel == Reading(o, first) && g.Order == Order.Shuffled)];
        bool opensARound = WasGiven(line, Reading(o, first), first);
        return (opensARound && given.Last().Post == first ? inOrder[1] : first, isByOrder, false);
    }

    private List<Post> Ring(Occurrence o, Guid line, List<Post> rest)
    {
        List<Post> ring = [.. input.Bank.OrderBy(p => p, ByAge)];
        int Steps(Post p)
        {
            Gift? last = _gifts.LastOrDefault(g => g.Line == line && g.Channel == Reading(o, p) && g.Order == Order.OldestFirst);
            int from = last is null ? -1 : ring.IndexOf(last.Post);
            return (ring.IndexOf(p) - from - 1 + ring.Count) % ring.Count;
        }
        return [.. rest.OrderBy(Steps).ThenBy(p => p, ByAge)];
    }

    private int Round(Guid line, Channel channel) => Math.Max(1, _gifts.Where(g => g.Line == line && g.Channel == channel && g.Order == Order.Shuffled).Select(g => g.Round ?? 1).DefaultIfEmpty(1).Max());

    private bool WasGiven(Guid line, Channel channel, Post post) =>
        _gifts.Any(g => g.Line == line && g.Channel == channel && g.Order == Order.Shuffled && g.Post == post && g.Round >= Round(line, channel));

    private double Score(Occurrence o, Post p) => input.Scores.GetValueOrDefault((p.Id, Reading(o, p).Id), 1);

    /// <summary>The first channel of the slot that the post was chosen for and fits, one barred for identical text only if there is no other.</summary>
    private Channel Reading(Occurrence o, Post p)
    {
        List<Channel> able = [.. o.Slot.Channels.Select(id => input.Channels.Single(c => c.Id == id)).Where(c => IsChosen(p, c) && p.Fits[c.Network].Fits)];
        return able.FirstOrDefault(c => !IsSameText(o, p, c)) ?? able[0];
    }

    private Rule? Struck(Occurrence o, Post p, Channel c, bool pastGap)
    {
        LocalDate date = DateOf(o.At);
        List<Turn> line = [.. _turns.Where(t => t.Post == p && t.Channel == c)];
        if (p.Stage is not (Stage.Ready or Stage.AwaitingYes)) return Rule.Stage;
        if (!p.InRotation) return Rule.LeftOut;
        if (date < p.From || date > p.To) return Rule.Lifespan;
        if (!IsChosen(p, c)) return Rule.ChannelChosen;
        if (!p.Fits[c.Network].Fits) return Rule.Fit;
        if (IsPaused(Paused.Channel, c.Id.Value, o) || IsFull(c, o.At)) return Rule.ChannelClosed;
        if (p.Lifespan == Lifespan.Once && line.Count > 0) return Rule.Once;
        if (p.Lifespan == Lifespan.OnceAltogether && (line.Count > 0 || _turns.Any(t => t.Post == p && t.At != o.At))) return Rule.Once;
        int gap = pastGap ? 1 : Math.Max(1, p.GapDays ?? input.Categories.Single(x => x.Id == p.CategoryId).GapDays ?? 1);
        if (line.Any(t => Math.Abs(Period.DaysBetween(DateOf(t.At), date)) < gap)) return Rule.Gap;
        if (IsSameText(o, p, c)) return Rule.IdenticalText;
        return input.Deliveries.Any(d => d.PostId == p.Id && d.ChannelId == c.Id && d.State is DeliveryState.Refused or DeliveryState.Unsure && d.PostId == p.Id && d.ChannelId == c.Id && !d.DealtWith) ? Rule.FailedDelivery : null;
    }

    private bool IsFull(Channel c, Instant at)
    {
        List<Turn> on = [.. _turns.Where(t => t.Channel == c)];
        DateTimeZone zone = c.Zone ?? input.Zone;
        return (c.Spacing is { } spacing && on.Any(t => (t.At > at ? t.At - at : at - t.At) < spacing))
            || (c.DailyLimit is { } limit && on.Count(t => t.At.InZone(zone).Date == at.InZone(zone).Date) >= limit);
    }

    private bool IsSameText(Occurrence o, Post p, Channel c) => input.Networks[c.Network].IdenticalTextDays is { } days
        && _turns.Any(t => t.Channel.Network == c.Network && t.Text == p.Fits[c.Network].Print && Math.Abs(Period.DaysBetween(DateOf(t.At), DateOf(o.At))) < days);

    private bool IsChosen(Post p, Channel c) => p.ChannelsOr(input.Categories.Single(x => x.Id == p.CategoryId)).Contains(c.Id);

    private bool MayBeGiven(Post p, Channel c) => p.Stage is Stage.Ready or Stage.AwaitingYes && IsChosen(p, c) && p.Fits[c.Network].Fits;

    private bool Rests(Occurrence o) => o.ReplacedBy is not null || o.Decision?.IsSkipped == true || input.Pauses.Any(p => p.What == Paused.Workspace && p.HoldsOn(DateOf(o.At))) || IsPaused(Paused.Slot, o.Slot.Id.Value, o);

    private bool IsPaused(Paused what, Guid target, Occurrence o) => input.Pauses.Any(p => p.What == what && p.Target == target && p.HoldsOn(DateOf(o.At)));

    private Instant LastOn(Channel c) => _turns.Where(t => t.Channel == c).Select(t => t.At).DefaultIfEmpty(Instant.MinValue).Max();

    private LocalDate DateOf(Instant at) => at.InZone(input.Zone).Date;

    private static readonly Comparer<Post> ByAge = Comparer<Post>.Create((a, b) =>
    {
        int order = (a.AddedAt ?? Instant.MinValue).CompareTo(b.AddedAt ?? Instant.MinValue);
        if (order == 0) order = a.AddedOrder.CompareTo(b.AddedOrder);
        if (order == 0) order = string.CompareOrdinal(a.Title, b.Title);
        return order == 0 ? a.Id.CompareTo(b.Id) : order;
    });
}
