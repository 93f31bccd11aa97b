using System.Numerics;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>What an occurrence asks a shelf for.</summary>
/// <param name="Shelf">The line's posts for the slot's channels.</param>
/// <param name="Wanted">Channels still to be filled, by place in the slot.</param>
/// <param name="PastGap">True: posts inside their gap may go, though never twice on one date; the longest rested first.</param>
/// <param name="Without">A post that may not go; -1: any may.</param>
/// <param name="AsStandBy">True: only ready posts with no turn still to come may go.</param>
internal readonly record struct Request(Shelf Shelf, OrderRule Rule, ulong Wanted, Instant At, LocalDate Date, bool PastGap = false, int Without = -1, bool AsStandBy = false);

/// <summary>Who goes, who would have been next, and where every other post of the line ended.</summary>
/// <param name="Post">Number of the chosen post; -1 when none can go.</param>
/// <param name="Passing">Channels that it can take now, by place in the slot.</param>
internal sealed record Choice(int Post, int Next, ulong Passing, Standing Standing, int[] Struck, int Base, LocalDate? OpensOn)
{
    public bool IsEmpty => Post < 0;
}

/// <summary>Where a candidate stands: the lesser goes first.</summary>
/// <param name="tier">0 moved to the front, 1 new where new ones go first, 2 the order itself, 3 moved to the back.</param>
/// <param name="sub">1 for a post that has had its turn in the present round.</param>
/// <param name="within">The order's own figure; at the back, when it was moved there.</param>
/// <remarks>Kept small: tens of thousands are held in memory.</remarks>
internal readonly struct Standing(int tier, int sub, long within, bool isNew, long lastTurn, int channel)
{
    private readonly byte _tier = (byte)tier;
    private readonly byte _sub = (byte)sub;
    private readonly short _channel = (short)channel;

    public long Within { get; } = within;
    public long LastTurn { get; } = lastTurn;
    public bool IsNew { get; } = isNew;
    public int Tier => _tier;
    public int Sub => _sub;
    public int Channel => _channel;

    /// <summary>Of several at the back the one that was moved there latest goes last, whatever the order.</summary>
    public Standing AtTheBack(long movedAt) => new(Back, 0, movedAt, IsNew, LastTurn, Channel);

    public const int Front = 0;
    public const int New = 1;
    public const int InOrder = 2;
    public const int Back = 3;

    public int CompareTo(in Standing other) =>
        Tier != other.Tier ? Tier.CompareTo(other.Tier) : Sub != other.Sub ? Sub.CompareTo(other.Sub) : Within.CompareTo(other.Within);
}

/// <summary>A post that can go, and where it stands.</summary>
/// <param name="Post">Its number; a lower one settles ties.</param>
internal readonly record struct Candidate(int Post, ulong Passing, Standing Standing)
{
    public static readonly Candidate None = new(-1, 0, default);

    public bool GoesBefore(in Candidate other)
    {
        int order = Standing.CompareTo(other.Standing);
        return order != 0 ? order < 0 : Post < other.Post;
    }
}

/// <summary>Weighs the posts of a line for one occurrence: which may go, and which of them goes first.</summary>
internal sealed class Choosing(LineUpInput input, Stock stock, Rests rests, TurnBook turns, LineStates states)
{
    private readonly List<Candidate> _candidates = [];
    private readonly ulong[] _hashes = [.. stock.Posts.Select(p => Shuffle.Of(p.Id.Value))];

    public Choice Choose(in Request request)
    {
        int[] struck = new int[(int)Rule.Chosen + 1];
        int day = TurnBook.DayOf(request.Date);
        int opens = int.MaxValue;
        Shelf shelf = request.Shelf;
        ulong open = OpenChannels(request);
        int able = 0;
        (Candidate first, Candidate second) = (Candidate.None, Candidate.None);
        _candidates.Clear();
        bool isUsual = request is { PastGap: false, AsStandBy: false, Without: < 0 };
        sbyte order = (sbyte)(request.Rule.FreshFirst ? -1 - (int)request.Rule.Order : (int)request.Rule.Order);
        Screened anew = default;
        for (int i = 0; i < shelf.Posts.Length; i++)
        {
            int post = shelf.Posts[i];
            ref Screened screened = ref isUsual ? ref shelf.Screened[i] : ref anew;
            if (!isUsual || !screened.Holds(turns.Version(post), day, request.Wanted, open, order)) Screen(request, shelf.Open[i], post, day, open, order, ref screened);
            if (screened.OpensOn < opens) opens = screened.OpensOn;
            if (screened.Struck is { } r)
            {
                struck[(int)r]++;
                continue;
            }
            able++;
            Candidate candidate = new(post, screened.Passing, screened.HasStanding ? screened.Standing : StandingOf(request, shelf.Open[i], post, day, screened.Passing));
            if (turns.AnyBack) _candidates.Add(candidate);
            else Place(candidate, ref first, ref second);
        }
        if (turns.AnyBack)
        {
            SendBack(request);
            foreach (Candidate candidate in _candidates) Place(candidate, ref first, ref second);
        }
        LocalDate? opensOn = opens == int.MaxValue ? null : TurnBook.DateOf(opens);
        if (able == 0) return new(-1, -1, 0, default, struck, shelf.Posts.Length, opensOn);
        if (second.Post >= 0 && IsLastOfTheRoundBefore(request, first) && second.Standing.Tier is Standing.InOrder or Standing.New) (first, second) = (second, first);
        struck[(int)Rule.NextInLine] = able - 1;
        struck[(int)Rule.Chosen] = 1;
        return new(first.Post, second.Post, first.Passing, first.Standing, struck, shelf.Posts.Length, opensOn);
    }

    /// <summary>Asks all rules of a post, and notes how long the answer holds.</summary>
    private void Screen(in Request request, in ShelfPost fit, int post, int day, ulong open, sbyte order, ref Screened screened)
    {
        screened = new() { Version = turns.Version(post), Wanted = request.Wanted, Open = open, Order = order, OpensOn = int.MaxValue, Until = int.MaxValue };
        screened.Struck = post == request.Without ? Rule.LeftOut : request.AsStandBy && stock.Posts[post].Stage != Stage.Ready ? Rule.Stage
            : RuleOn(request, fit, post, day, open, ref screened.OpensOn, ref screened.Until, out screened.Passing);
        // Where it stands stays so, until it has a turn, if the order looks at nothing but turns and it is read on a channel that it passes on.
        bool isRead = (screened.Passing >> fit.First & 1) != 0 && !turns.IsMoved(turns.LineOf(request.Shelf.Channels[fit.First], post));
        if (screened.Struck is not null || !isRead || request.Rule.Order is not (Order.NewestFirst or Order.LongestRested)) return;
        (screened.HasStanding, screened.Standing) = (true, StandingOf(request, fit, post, day, screened.Passing));
    }

    private static void Place(in Candidate candidate, ref Candidate first, ref Candidate second)
    {
        if (first.Post < 0 || candidate.GoesBefore(first))
        {
            second = first;
            first = candidate;
        }
        else if (second.Post < 0 || candidate.GoesBefore(second))
        {
            second = candidate;
        }
    }

    /// <summary>The first rule that keeps a post from one channel of a slot; null when none does.</summary>
    public Rule? RuleFor(in Request request, int post, int place)
    {
        int index = Array.BinarySearch(request.Shelf.Posts, post);
        if (index < 0) return Rule.Category;
        (int opens, int until) = (0, 0);
        Request one = request with { Wanted = 1ul << place };
        return RuleOn(one, request.Shelf.Open[index], post, TurnBook.DayOf(request.Date), OpenChannels(one), ref opens, ref until, out _);
    }

    /// <summary>Every post of the line in the order in which it would go, and after them those that can't, each with its rule.</summary>
    public IReadOnlyList<(int Post, Rule? Struck)> Rank(Request request)
    {
        List<(int Post, Rule? Struck)> struck = [];
        _candidates.Clear();
        int day = TurnBook.DayOf(request.Date);
        ulong open = OpenChannels(request);
        (int opens, int until) = (0, 0);
        for (int i = 0; i < request.Shelf.Posts.Length; i++)
        {
            int post = request.Shelf.Posts[i];
            if (RuleOn(request, request.Shelf.Open[i], post, day, open, ref opens, ref until, out ulong passing) is { } rule) struck.Add((post, rule));
            else _candidates.Add(new(post, passing, StandingOf(request, request.Shelf.Open[i], post, day, passing)));
        }
        SendBack(request);
        _candidates.Sort((a, b) => a.Post == b.Post ? 0 : a.GoesBefore(b) ? -1 : 1);
        if (_candidates.Count > 1 && IsLastOfTheRoundBefore(request, _candidates[0])) (_candidates[0], _candidates[1]) = (_candidates[1], _candidates[0]);
        return [.. _candidates.Select(c => (c.Post, (Rule?)null)), .. struck];
    }

    /// <summary>Wanted channels that are neither paused nor full at that instant.</summary>
    private ulong OpenChannels(in Request request)
    {
        ulong open = 0;
        for (ulong rest = request.Wanted; rest != 0; rest &= rest - 1)
        {
            int place = BitOperations.TrailingZeroCount(rest);
            if (Closed(request.Shelf.Channels[place], request.At, request.Date) is null) open |= 1ul << place;
        }
        return open;
    }

    /// <summary>Why nothing by rotation goes to a channel at an instant; null when something may.</summary>
    public ReasonCode? Closed(int channel, Instant at, LocalDate date) => rests.OfChannel(stock.Channels[channel].Id, date) ?? turns.Diary(channel).Breaks(at);

    /// <summary>Null while a channel stays open to the post; else the rule that strikes the last of them, which is the one that counts.</summary>
    /// <param name="opens">Lowered to the first day on which a gap that bars it ends.</param>
    /// <param name="until">Lowered to the first day on which the answer may be another without anything having been sent.</param>
    private Rule? RuleOn(in Request request, in ShelfPost fit, int post, int day, ulong open, ref int opens, ref int until, out ulong passing)
    {
        passing = 0;
        if (fit.Open == 0 && fit.Struck is Rule.Stage or Rule.LeftOut) return fit.Struck;
        Lifespan lifespan = Lifespan.Evergreen;
        if (!stock.IsPlain[post])
        {
            Post whole = stock.Posts[post];
            until = 0;
            if (request.Date < whole.From || request.Date > whole.To) return Rule.Lifespan;
            lifespan = whole.Lifespan;
        }
        ulong chosen = fit.Open & request.Wanted;
        if (chosen == 0) return fit.Open == 0 ? fit.Struck : Rule.ChannelChosen;
        chosen &= open;
        if (chosen == 0) return Rule.ChannelClosed;
        long at = request.At.ToUnixTimeTicks();
        if (lifespan == Lifespan.OnceAltogether && turns.HasTurnApartFrom(post, at)) return Rule.Once;
        int gap = request.PastGap ? 1 : stock.Gaps[post];
        Rule last = Rule.Once;
        for (; chosen != 0; chosen &= chosen - 1)
        {
            int place = BitOperations.TrailingZeroCount(chosen);
            int channel = request.Shelf.Channels[place];
            int line = turns.LineOf(channel, post);
            until = Math.Min(until, turns.HoldsUntil(line, channel, post, day));
            Rule rule;
            if (turns.HasTurn(line) && lifespan != Lifespan.Evergreen) rule = Rule.Once;
            else if (turns.HasTurn(line) && turns.IsInsideGap(line, day, gap))
            {
                rule = Rule.Gap;
                int opensOn = turns.OpensOn(line, day, gap);
                (opens, until) = (Math.Min(opens, opensOn), Math.Min(until, opensOn));
            }
            else if (turns.Wording(channel, post, day) < 0) rule = Rule.IdenticalText;
            else if (turns.HasOpenFailure(line)) rule = Rule.FailedDelivery;
            else if (request.AsStandBy && turns.HasTurnAfter(line, at)) rule = Rule.Gap;
            else
            {
                passing |= 1ul << place;
                continue;
            }
            if (rule > last) last = rule;
        }
        return passing != 0 ? null : last;
    }

    /// <summary>
    /// The post's place in the line of the first channel that it may go to, whatever gap and `once` say. A channel barred by
    /// the rule against identical text is passed over: a post that never gets there would be new for ever, and the
    /// slot's other channels would get it again and again.
    /// </summary>
    private Standing StandingOf(in Request request, in ShelfPost fit, int post, int day, ulong passing)
    {
        int place = fit.First;
        // What passed on the first was asked that already.
        for (ulong rest = (passing >> place & 1) != 0 ? 0 : fit.Open; rest != 0; rest &= rest - 1)
        {
            int next = BitOperations.TrailingZeroCount(rest);
            if (turns.Wording(request.Shelf.Channels[next], post, day) < 0) continue;
            place = next;
            break;
        }
        int channel = request.Shelf.Channels[place];
        int line = turns.LineOf(channel, post);
        long at = request.At.ToUnixTimeTicks();
        long last = turns.Last(line);
        bool isNew = last == TurnBook.Never;
        if (turns.Front(line, at) is not TurnBook.Never and var front) return new(Standing.Front, 0, -front, isNew, last, channel);
        Order order = request.PastGap ? Order.LongestRested : request.Rule.Order;
        bool goesFirst = isNew && (request.Rule.FreshFirst || order is Order.NewestFirst or Order.LongestRested or Order.GoodOnesOftener);
        (int sub, long within) = Within(request, order, post, channel, isNew, last, at);
        return new(goesFirst ? Standing.New : Standing.InOrder, sub, within, isNew, last, channel);
    }

    private (int Sub, long Within) Within(in Request request, Order order, int post, int channel, bool isNew, long last, long at)
    {
        switch (order)
        {
            case Order.OldestFirst:
                int ring = states.Of(request.Shelf.Line, channel).RingAt;
                return (0, ((long)post - ring - 1 + stock.Posts.Length) % stock.Posts.Length);
            case Order.Shuffled:
                LineState state = states.Of(request.Shelf.Line, channel);
                int sub = state.WasGivenThisRound(post) ? 1 : 0;
                return (sub, Shuffle.Mix(request.Rule.Seed, request.Shelf.Line, state.Round + sub, _hashes[post]));
            case Order.NewestFirst when isNew:
                return (0, -stock.AddedAt[post]);
            case Order.GoodOnesOftener when isNew:
                return (0, long.MinValue + 1 + post);
            case Order.GoodOnesOftener:
                double score = input.Scores.Count == 0 ? 1 : input.Scores.GetValueOrDefault((stock.Posts[post].Id, stock.Channels[channel].Id), 1);
                double weight = Math.Max(0, at - last) * score;
                return (0, -BitConverter.DoubleToInt64Bits(weight));
            default:
                return (0, isNew ? post : last);
        }
    }

    /// <summary>Puts behind all others those that a planner moved to the back, while another candidate waits that has had no turn since.</summary>
    /// <summary>Of several at the back each waits for those before it, not for those that were moved there later.</summary>
    private bool WasSentBackLater(in Candidate other, in Candidate than, long back, long at)
    {
        if (other.Standing.Tier == Standing.Front) return false;
        long its = turns.Back(turns.LineOf(other.Standing.Channel, other.Post), at);
        return its != TurnBook.Never && (its > back || (its == back && other.Post > than.Post));
    }

    private void SendBack(in Request request)
    {
        long at = request.At.ToUnixTimeTicks();
        for (int i = 0; i < _candidates.Count; i++)
        {
            Candidate candidate = _candidates[i];
            long back = turns.Back(turns.LineOf(candidate.Standing.Channel, candidate.Post), at);
            if (back == TurnBook.Never || candidate.Standing.Tier == Standing.Front) continue;
            if (_candidates.Exists(other => other.Post != candidate.Post && !turns.HadTurnSince(turns.LineOf(other.Standing.Channel, other.Post), back, at) && !WasSentBackLater(other, candidate, back, at)))
                _candidates[i] = candidate with { Standing = candidate.Standing.AtTheBack(back) };
        }
    }

    private bool IsLastOfTheRoundBefore(in Request request, in Candidate first)
    {
        if (request.Rule.Order != Order.Shuffled || request.PastGap || first.Standing is { Sub: 0 } or { Tier: Standing.Front or Standing.Back }) return false;
        return states.Of(request.Shelf.Line, first.Standing.Channel).LastGiven == first.Post;
    }
}
