using AbleLark.Core.Orders;
using AbleLark.Core.Reasons;
using NodaTime;

namespace AbleLark.Core.Rotation;

/// <summary>Weighs the posts of a line for one occurrence: which may go, and which of them goes first.</summary>
internal sealed class Choosing(Screening screening, Ranking ranking, TurnHistory turns)
{
    private readonly List<Candidate> _candidates = [];

    public Choice Choose(in Request request)
    {
        CandidateSet set = request.CandidateSet;
        Tally tally = new() { Opens = int.MaxValue };
        int[] excluded = new int[(int)Rule.Chosen + 1];
        // A ring asks who would have gone by it alone, and the back of a line who else is there: both need all candidates.
        bool isRing = request.Rule.Order == Order.OldestFirst && !request.PastGap;
        Weigh(request, turns.AnyBack || isRing, excluded, ref tally);
        LocalDate? opensOn = tally.Opens == int.MaxValue ? null : TurnHistory.DateOf(tally.Opens);
        if (tally.Able == 0)
            return new(-1, -1, ChannelSet.None, default, excluded, set.Posts.Length, opensOn);
        (Candidate first, Candidate second) = (tally.First, tally.Second);
        if (second.Post >= 0 && ranking.IsLastOfTheRoundBefore(request, first) && second.RankKey.Tier is RankKey.InOrder or RankKey.New)
            (first, second) = (second, first);
        excluded[(int)Rule.NextInLine] = tally.Able - 1;
        excluded[(int)Rule.Chosen] = 1;
        return new(
            first.Post,
            second.Post,
            first.Passing,
            first.RankKey,
            excluded,
            set.Posts.Length,
            opensOn,
            isRing && ranking.RingWouldGive(set, _candidates) == first.Post
        );
    }

    /// <summary>What one look through a line found.</summary>
    private struct Tally()
    {
        public Candidate First = Candidate.None;
        public Candidate Second = Candidate.None;
        public int Able;

        /// <summary>The first day on which a gap ends that strikes a post now; the greatest number when none does.</summary>
        public int Opens;

        public void Keep(in Candidate candidate)
        {
            if (First.Post < 0 || candidate.GoesBefore(First))
                (First, Second) = (candidate, First);
            else if (Second.Post < 0 || candidate.GoesBefore(Second))
                Second = candidate;
        }
    }

    private void Weigh(in Request request, bool needsAll, int[] excluded, ref Tally tally)
    {
        CandidateSet set = request.CandidateSet;
        int day = TurnHistory.DayOf(request.Date);
        ChannelSet open = screening.OpenChannels(request);
        _candidates.Clear();
        if (request.Rule.Order == Order.OldestFirst)
            ranking.FindRingStarts(set);
        sbyte order = (sbyte)(request.Rule.FreshFirst ? -1 - (int)request.Rule.Order : (int)request.Rule.Order);
        CachedVerdict anew = default;
        for (int i = 0; i < set.Posts.Length; i++)
        {
            int post = set.Posts[i];
            ref CachedVerdict verdict = ref request.IsUsual ? ref set.CachedVerdict[i] : ref anew;
            if (!request.IsUsual || !verdict.Holds(turns.Version(post), day, request.Wanted, open, order))
                Screen(request, i, day, open, order, ref verdict);
            if (verdict.OpensOn < tally.Opens)
                tally.Opens = verdict.OpensOn;
            if (verdict.ExcludedBy is { } rule)
            {
                excluded[(int)rule]++;
                continue;
            }
            tally.Able++;
            Candidate candidate = new(
                post,
                verdict.Passing,
                verdict.HasRankKey ? verdict.RankKey : ranking.RankKeyOf(request, i, day, open, verdict.Passing)
            );
            if (needsAll)
                _candidates.Add(candidate);
            else
                tally.Keep(candidate);
        }
        if (!needsAll)
            return;
        if (turns.AnyBack)
            ranking.SendBack(request, _candidates);
        foreach (Candidate candidate in _candidates)
            tally.Keep(candidate);
    }

    /// <summary>Asks all rules of a post, and notes how long the answer holds.</summary>
    /// <param name="index">Its place on the set.</param>
    private void Screen(in Request request, int index, int day, ChannelSet open, sbyte order, ref CachedVerdict verdict)
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
        verdict.ExcludedBy = screening.RuleOn(request, index, day, open, ref verdict.OpensOn, ref verdict.Until, out verdict.Passing);
        if (verdict.ExcludedBy is not null || request.Rule.Order is not (Order.NewestFirst or Order.LongestSinceLastSent))
            return;
        // Where it stands stays so, until it has a turn, if the order looks at nothing but turns and it is read on a channel that it
        // passes on.
        int first = (request.CandidateSet.Open[index].Open & open).First;
        if (!verdict.Passing.Contains(first) || turns.IsMoved(turns.LineOf(request.CandidateSet.Channels[first], post)))
            return;
        (verdict.HasRankKey, verdict.RankKey) = (true, ranking.RankKeyOf(request, index, day, open, verdict.Passing));
    }

    /// <summary>Every post of the line in the order in which it would go, and after them those that can't, each with its rule.</summary>
    public IReadOnlyList<(int Post, Rule? ExcludedBy)> Rank(Request request)
    {
        List<(int Post, Rule? ExcludedBy)> excluded = [];
        _candidates.Clear();
        int day = TurnHistory.DayOf(request.Date);
        ChannelSet open = screening.OpenChannels(request);
        (int opens, int until) = (0, 0);
        ranking.FindRingStarts(request.CandidateSet);
        for (int i = 0; i < request.CandidateSet.Posts.Length; i++)
        {
            int post = request.CandidateSet.Posts[i];
            if (screening.RuleOn(request, i, day, open, ref opens, ref until, out ChannelSet passing) is { } rule)
                excluded.Add((post, rule));
            else
                _candidates.Add(new(post, passing, ranking.RankKeyOf(request, i, day, open, passing)));
        }
        ranking.SendBack(request, _candidates);
        _candidates.Sort(
            (a, b) =>
                a.Post == b.Post ? 0
                : a.GoesBefore(b) ? -1
                : 1
        );
        if (_candidates.Count > 1 && ranking.IsLastOfTheRoundBefore(request, _candidates[0]))
            (_candidates[0], _candidates[1]) = (_candidates[1], _candidates[0]);
        return [.. _candidates.Select(c => (c.Post, (Rule?)null)), .. excluded];
    }
}
