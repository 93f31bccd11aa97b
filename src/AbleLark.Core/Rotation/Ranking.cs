using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;

namespace AbleLark.Core.Rotation;

/// <summary>Puts the posts of a line that may go in their order.</summary>
internal sealed class Ranking(LineUpInput input, BankIndex bank, TurnHistory turns, LineStates states)
{
    private readonly ulong[] _hashes = [.. bank.Posts.Select(p => Shuffle.Of(p.Id.Value))];

    /// <summary>By channel: where among the set's posts its ring goes on.</summary>
    private readonly int[] _ringStarts = new int[bank.Channels.Length];

    /// <summary>Notes for each channel of a set after which of its posts the ring goes on; steps count the set's posts alone.</summary>
    public void FindRingStarts(CandidateSet set)
    {
        foreach (int channel in set.Channels)
        {
            int at = Array.BinarySearch(set.Posts, states.Of(set.Line, channel).RingAt);
            _ringStarts[channel] = at < 0 ? ~at : at + 1;
        }
    }

    private int RingSteps(CandidateSet set, int index, int channel) => (index - _ringStarts[channel] + set.Posts.Length) % set.Posts.Length;

    /// <summary>The candidate that the ring alone would give. Those moved to the back wait; where all do, none is passed over.</summary>
    public int RingWouldGive(CandidateSet set, List<Candidate> candidates)
    {
        bool onlyBack = candidates.TrueForAll(c => c.RankKey.Tier == RankKey.Back);
        (int best, int least) = (-1, int.MaxValue);
        foreach (Candidate candidate in candidates)
        {
            if (!onlyBack && candidate.RankKey.Tier == RankKey.Back)
                continue;
            int steps = RingSteps(set, Array.BinarySearch(set.Posts, candidate.Post), candidate.RankKey.Channel);
            if (steps < least)
                (best, least) = (candidate.Post, steps);
        }
        return best;
    }

    /// <summary>
    /// The post's place in the line of the first channel that is open now and that it could go to, whatever gap and `once` say.
    /// On a channel that can't take it, it has no turn yet and would be new for ever, and the slot's other channels would
    /// get it again and again.
    /// </summary>
    public RankKey RankKeyOf(in Request request, int index, int day, ChannelSet open, ChannelSet passing)
    {
        SetPost fit = request.CandidateSet.Open[index];
        int post = request.CandidateSet.Posts[index];
        int place = fit.Open.First;
        foreach (int next in fit.Open & open)
        {
            // What passes was asked that already.
            if (!passing.Contains(next) && CannotGo(request.CandidateSet.Channels[next], post, day))
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

    /// <summary>Whatever gap and `once` say.</summary>
    private bool CannotGo(int channel, int post, int day) =>
        turns.HasOpenFailure(turns.LineOf(channel, post)) || turns.Wording(channel, post, day) < 0;

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
    public void SendBack(in Request request, List<Candidate> candidates)
    {
        long at = request.At.ToUnixTimeTicks();
        for (int i = 0; i < candidates.Count; i++)
        {
            Candidate candidate = candidates[i];
            long back = turns.Back(turns.LineOf(candidate.RankKey.Channel, candidate.Post), at);
            if (back == TurnHistory.Never || candidate.RankKey.Tier == RankKey.Front)
                continue;
            if (
                candidates.Exists(other =>
                    other.Post != candidate.Post
                    && !turns.HadTurnSince(turns.LineOf(other.RankKey.Channel, other.Post), back, at)
                    && !WasSentBackLater(other, candidate, back, at)
                )
            )
                candidates[i] = candidate with { RankKey = candidate.RankKey.AtTheBack(back) };
        }
    }

    public bool IsLastOfTheRoundBefore(in Request request, in Candidate first)
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
