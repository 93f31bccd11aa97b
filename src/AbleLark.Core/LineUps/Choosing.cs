using System.Numerics;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>Weighs the posts of a line for one occurrence: which may go, and which of them goes first.</summary>
internal sealed class Choosing(LineUpInput input, BankIndex bank, ActivePauses pauses, TurnHistory turns, LineStates states)
{
    private readonly List<Candidate> _candidates = [];
    private readonly ulong[] _hashes = [.. bank.Posts.Select(p => Shuffle.Of(p.Id.Value))];

    /// <summary>By channel: where among the set's posts its ring goes on.</summary>
    private readonly int[] _ringStarts = new int[bank.Channels.Length];

    public Choice Choose(in Request request)
    {
        int[] excluded = new int[(int)Rule.Chosen + 1];
        int day = TurnHistory.DayOf(request.Date);
        int opens = int.MaxValue;
        CandidateSet set = request.CandidateSet;
        ulong open = OpenChannels(request);
        int able = 0;
        (Candidate first, Candidate second) = (Candidate.None, Candidate.None);
        _candidates.Clear();
        // A ring asks who would have gone by it alone, and the back of a line who else is there: both need all candidates.
        bool isRing = request.Rule.Order == Order.OldestFirst && !request.PastGap;
        bool needsAll = turns.AnyBack || isRing;
        if (request.Rule.Order == Order.OldestFirst)
            FindRingStarts(set);
        sbyte order = (sbyte)(request.Rule.FreshFirst ? -1 - (int)request.Rule.Order : (int)request.Rule.Order);
        CachedVerdict anew = default;
        for (int i = 0; i < set.Posts.Length; i++)
        {
            int post = set.Posts[i];
            ref CachedVerdict verdict = ref request.IsUsual ? ref set.CachedVerdict[i] : ref anew;
            if (!request.IsUsual || !verdict.Holds(turns.Version(post), day, request.Wanted, open, order))
                Screen(request, i, day, open, order, ref verdict);
            if (verdict.OpensOn < opens)
                opens = verdict.OpensOn;
            if (verdict.ExcludedBy is { } r)
            {
                excluded[(int)r]++;
                continue;
            }
            able++;
            Candidate candidate = new(
                post,
                verdict.Passing,
                verdict.HasRankKey ? verdict.RankKey : RankKeyOf(request, i, day, open, verdict.Passing)
            );
            if (needsAll)
                _candidates.Add(candidate);
            else
                KeepBest(candidate, ref first, ref second);
        }
        if (needsAll)
        {
            if (turns.AnyBack)
                SendBack(request);
            foreach (Candidate candidate in _candidates)
                KeepBest(candidate, ref first, ref second);
        }
        LocalDate? opensOn = opens == int.MaxValue ? null : TurnHistory.DateOf(opens);
        if (able == 0)
            return new(-1, -1, 0, default, excluded, set.Posts.Length, opensOn);
        if (second.Post >= 0 && IsLastOfTheRoundBefore(request, first) && second.RankKey.Tier is RankKey.InOrder or RankKey.New)
            (first, second) = (second, first);
        excluded[(int)Rule.NextInLine] = able - 1;
        excluded[(int)Rule.Chosen] = 1;
        return new(
            first.Post,
            second.Post,
            first.Passing,
            first.RankKey,
            excluded,
            set.Posts.Length,
            opensOn,
            isRing && RingWouldGive(set) == first.Post
        );
    }

    /// <summary>Asks all rules of a post, and notes how long the answer holds.</summary>
    /// <param name="index">Its place on the set.</param>
    private void Screen(in Request request, int index, int day, ulong open, sbyte order, ref CachedVerdict verdict)
    {
        int post = request.CandidateSet.Posts[index];
        verdict = new()
        {
            Version = turns.Version(post),
            Wanted = request.Wanted,
            Open = open,
            Order = order,
            OpensOn = int.MaxValue,
            Until = int.MaxValue,
        };
        verdict.ExcludedBy = RuleOn(request, index, day, open, ref verdict.OpensOn, ref verdict.Until, out verdict.Passing);
        if (verdict.ExcludedBy is not null || request.Rule.Order is not (Order.NewestFirst or Order.LongestSinceLastSent))
            return;
        // Where it stands stays so, until it has a turn, if the order looks at nothing but turns and it is read on a channel that it
        // passes on.
        int first = BitOperations.TrailingZeroCount(request.CandidateSet.Open[index].Open & open);
        if ((verdict.Passing >> first & 1) == 0 || turns.IsMoved(turns.LineOf(request.CandidateSet.Channels[first], post)))
            return;
        (verdict.HasRankKey, verdict.RankKey) = (true, RankKeyOf(request, index, day, open, verdict.Passing));
    }

    /// <summary>Notes for each channel of a set after which of its posts the ring goes on; steps count the set's posts alone.</summary>
    private void FindRingStarts(CandidateSet set)
    {
        foreach (int channel in set.Channels)
        {
            int at = Array.BinarySearch(set.Posts, states.Of(set.Line, channel).RingAt);
            _ringStarts[channel] = at < 0 ? ~at : at + 1;
        }
    }

    private int RingSteps(CandidateSet set, int index, int channel) => (index - _ringStarts[channel] + set.Posts.Length) % set.Posts.Length;

    /// <summary>The candidate that the ring alone would give. Those moved to the back wait; where all do, none is passed over.</summary>
    private int RingWouldGive(CandidateSet set)
    {
        bool onlyBack = _candidates.TrueForAll(c => c.RankKey.Tier == RankKey.Back);
        (int best, int least) = (-1, int.MaxValue);
        foreach (Candidate candidate in _candidates)
        {
            if (!onlyBack && candidate.RankKey.Tier == RankKey.Back)
                continue;
            int steps = RingSteps(set, Array.BinarySearch(set.Posts, candidate.Post), candidate.RankKey.Channel);
            if (steps < least)
                (best, least) = (candidate.Post, steps);
        }
        return best;
    }

    private static void KeepBest(in Candidate candidate, ref Candidate first, ref Candidate second)
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
        int index = Array.BinarySearch(request.CandidateSet.Posts, post);
        if (index < 0)
            return Rule.Category;
        (int opens, int until) = (0, 0);
        Request one = request with { Wanted = 1ul << place };
        return RuleOn(one, index, TurnHistory.DayOf(request.Date), OpenChannels(one), ref opens, ref until, out _);
    }

    /// <summary>Every post of the line in the order in which it would go, and after them those that can't, each with its rule.</summary>
    public IReadOnlyList<(int Post, Rule? ExcludedBy)> Rank(Request request)
    {
        List<(int Post, Rule? ExcludedBy)> excluded = [];
        _candidates.Clear();
        int day = TurnHistory.DayOf(request.Date);
        ulong open = OpenChannels(request);
        (int opens, int until) = (0, 0);
        FindRingStarts(request.CandidateSet);
        for (int i = 0; i < request.CandidateSet.Posts.Length; i++)
        {
            int post = request.CandidateSet.Posts[i];
            if (RuleOn(request, i, day, open, ref opens, ref until, out ulong passing) is { } rule)
                excluded.Add((post, rule));
            else
                _candidates.Add(new(post, passing, RankKeyOf(request, i, day, open, passing)));
        }
        SendBack(request);
        _candidates.Sort(
            (a, b) =>
                a.Post == b.Post ? 0
                : a.GoesBefore(b) ? -1
                : 1
        );
        if (_candidates.Count > 1 && IsLastOfTheRoundBefore(request, _candidates[0]))
            (_candidates[0], _candidates[1]) = (_candidates[1], _candidates[0]);
        return [.. _candidates.Select(c => (c.Post, (Rule?)null)), .. excluded];
    }

    /// <summary>Channels of the slot that are neither paused nor full at that instant.</summary>
    private ulong OpenChannels(in Request request)
    {
        ulong open = 0;
        for (int place = 0; place < request.CandidateSet.Channels.Length; place++)
        {
            if (Closed(request.CandidateSet.Channels[place], request.At, request.Date) is null)
                open |= 1ul << place;
        }
        return open;
    }

    /// <summary>Why nothing by rotation goes to a channel at an instant; null when something may.</summary>
    public ReasonCode? Closed(int channel, Instant at, LocalDate date) =>
        pauses.OfChannel(bank.Channels[channel].Id, date) ?? turns.Diary(channel).Breaks(at);

    /// <summary>Null while a channel stays open to the post; else the rule that strikes the last of them, which is the one that
    /// counts.</summary>
    /// <param name="index">The post's place on the set.</param>
    /// <param name="opens">Lowered to the first day on which the gap ends, where the gap is what counts.</param>
    /// <param name="until">Lowered to the first day on which the answer may be another without anything having been sent.</param>
    private Rule? RuleOn(in Request request, int index, int day, ulong open, ref int opens, ref int until, out ulong passing)
    {
        passing = 0;
        int post = request.CandidateSet.Posts[index];
        SetPost fit = request.CandidateSet.Open[index];
        if (post == request.Without)
            return Rule.LeftOut;
        if (request.AsSubstitute && bank.Posts[post].Stage != Stage.Ready)
            return Rule.Stage;
        if (fit.ExcludedBy is { } always)
            return always;
        Lifespan lifespan = Lifespan.Evergreen;
        if (!bank.IsPlain[post])
        {
            Post whole = bank.Posts[post];
            until = 0;
            if (request.Date < whole.From || request.Date > whole.To)
                return Rule.Lifespan;
            lifespan = whole.Lifespan;
        }
        if ((fit.Chosen & request.Wanted) == 0)
            return Rule.ChannelChosen;
        ulong able = fit.Open & request.Wanted;
        if (able == 0)
            return Rule.Fit;
        able &= open;
        if (able == 0)
            return Rule.ChannelClosed;
        if (lifespan == Lifespan.OnceAltogether && turns.HasTurnApartFrom(post, request.At.ToUnixTimeTicks()))
            return Rule.Once;
        if (request.AsSubstitute && IsScheduledInSlot(request.CandidateSet, post))
            return Rule.Gap;
        ulong gone = Gone(request, post);
        int gap = request.PastGap ? 1 : bank.Gaps[post];
        int reopens = int.MaxValue;
        Rule last = Rule.Once;
        for (; able != 0; able &= able - 1)
        {
            int place = BitOperations.TrailingZeroCount(able);
            int channel = request.CandidateSet.Channels[place];
            int line = turns.LineOf(channel, post);
            until = Math.Min(until, turns.HoldsUntil(line, channel, post, day));
            Rule rule;
            if (turns.HasTurn(line) && lifespan != Lifespan.Evergreen)
                rule = Rule.Once;
            else if (turns.HasTurn(line) && turns.IsInsideGap(line, day, gap))
            {
                rule = Rule.Gap;
                int opensOn = turns.OpensOn(line, day, gap);
                (reopens, until) = (Math.Min(reopens, opensOn), Math.Min(until, opensOn));
            }
            else if ((gone >> place & 1) != 0 || turns.Wording(channel, post, day) < 0)
                rule = Rule.IdenticalText;
            else if (turns.HasOpenFailure(line))
                rule = Rule.FailedDelivery;
            else
            {
                passing |= 1ul << place;
                continue;
            }
            if (rule > last)
                last = rule;
        }
        if (passing != 0)
            return null;
        if (last == Rule.Gap)
            opens = Math.Min(opens, reopens);
        return last;
    }

    private bool IsScheduledInSlot(CandidateSet set, int post)
    {
        foreach (int channel in set.Channels)
        {
            if (turns.IsScheduled(turns.LineOf(channel, post)))
                return true;
        }
        return false;
    }

    private static ulong Gone(in Request request, int post)
    {
        ulong places = 0;
        foreach ((int gone, ulong others) in request.Gone ?? [])
        {
            if (gone == post)
                places |= others;
        }
        return places;
    }

    /// <summary>
    /// The post's place in the line of the first channel that is open now and that it could go to, whatever gap and `once` say.
    /// On a channel that can't take it, it has no turn yet and would be new for ever, and the slot's other channels would
    /// get it again and again.
    /// </summary>
    private RankKey RankKeyOf(in Request request, int index, int day, ulong open, ulong passing)
    {
        SetPost fit = request.CandidateSet.Open[index];
        int post = request.CandidateSet.Posts[index];
        int place = BitOperations.TrailingZeroCount(fit.Open);
        for (ulong rest = fit.Open & open; rest != 0; rest &= rest - 1)
        {
            int next = BitOperations.TrailingZeroCount(rest);
            // What passes was asked that already.
            if (
                (passing >> next & 1) == 0
                && (
                    turns.HasOpenFailure(turns.LineOf(request.CandidateSet.Channels[next], post))
                    || turns.Wording(request.CandidateSet.Channels[next], post, day) < 0
                )
            )
                continue;
            place = next;
            break;
        }
        int channel = request.CandidateSet.Channels[place];
        int line = turns.LineOf(channel, post);
        long at = request.At.ToUnixTimeTicks();
        long last = turns.Last(line);
        bool isNew = last == TurnHistory.Never;
        if (turns.Front(line, at) is not TurnHistory.Never and var front)
            return new(RankKey.Front, 0, -front, isNew, last, channel);
        Order order = request.PastGap ? Order.LongestSinceLastSent : request.Rule.Order;
        bool goesFirst =
            isNew && (request.Rule.FreshFirst || order is Order.NewestFirst or Order.LongestSinceLastSent or Order.BetterOnesMoreOften);
        (int sub, long within) = Within(request, order, index, channel, isNew, last, at);
        return new(goesFirst ? RankKey.New : RankKey.InOrder, sub, within, isNew, last, channel);
    }

    private (int Sub, long Within) Within(in Request request, Order order, int index, int channel, bool isNew, long last, long at)
    {
        int post = request.CandidateSet.Posts[index];
        switch (order)
        {
            case Order.OldestFirst:
                return (0, RingSteps(request.CandidateSet, index, channel));
            case Order.Shuffled:
                LineState state = states.Of(request.CandidateSet.Line, channel);
                int sub = state.WasGivenThisRound(post) ? 1 : 0;
                return (sub, Shuffle.Mix(request.Rule.Seed, request.CandidateSet.Line, state.Round + sub, _hashes[post]));
            case Order.NewestFirst when isNew:
                return (0, -bank.AddedAt[post]);
            case Order.BetterOnesMoreOften when isNew:
                return (0, long.MinValue + 1 + post);
            case Order.BetterOnesMoreOften:
                double score =
                    input.Scores.Count == 0 ? 1 : input.Scores.GetValueOrDefault((bank.Posts[post].Id, bank.Channels[channel].Id), 1);
                double weight = Math.Max(0, at - last) * score;
                return (0, -BitConverter.DoubleToInt64Bits(weight));
            default:
                return (0, isNew ? post : last);
        }
    }

    /// <summary>Of several at the back each waits for those before it, not for those that were moved there later.</summary>
    private bool WasSentBackLater(in Candidate other, in Candidate than, long back, long at)
    {
        if (other.RankKey.Tier == RankKey.Front)
            return false;
        long its = turns.Back(turns.LineOf(other.RankKey.Channel, other.Post), at);
        return its != TurnHistory.Never && (its > back || (its == back && other.Post > than.Post));
    }

    /// <summary>Puts behind all others those that a planner moved to the back, while another candidate waits that has had no turn
    /// since.</summary>
    private void SendBack(in Request request)
    {
        long at = request.At.ToUnixTimeTicks();
        for (int i = 0; i < _candidates.Count; i++)
        {
            Candidate candidate = _candidates[i];
            long back = turns.Back(turns.LineOf(candidate.RankKey.Channel, candidate.Post), at);
            if (back == TurnHistory.Never || candidate.RankKey.Tier == RankKey.Front)
                continue;
            if (
                _candidates.Exists(other =>
                    other.Post != candidate.Post
                    && !turns.HadTurnSince(turns.LineOf(other.RankKey.Channel, other.Post), back, at)
                    && !WasSentBackLater(other, candidate, back, at)
                )
            )
                _candidates[i] = candidate with { RankKey = candidate.RankKey.AtTheBack(back) };
        }
    }

    private bool IsLastOfTheRoundBefore(in Request request, in Candidate first)
    {
        if (
            request.Rule.Order != Order.Shuffled
            || request.PastGap
            || first.RankKey is { Sub: 0 } or { Tier: RankKey.Front or RankKey.Back }
        )
            return false;
        return states.Of(request.CandidateSet.Line, first.RankKey.Channel).LastGiven == first.Post;
    }
}
