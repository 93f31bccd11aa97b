using AbleLark.Core.Deliveries;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>How far a ring or a round of one line on one channel has come; only posts that the order itself gave move it.</summary>
internal sealed class LineState
{
    /// <summary>Number of the post that the ring gave last; -1 before its first.</summary>
    public int RingAt { get; set; } = -1;

    public int Round { get; private set; } = 1;

    /// <summary>The post that the rounds gave last; -1 before their first.</summary>
    public int LastGiven { get; private set; } = -1;

    private readonly Dictionary<int, int> _rounds = [];

    public bool WasGivenThisRound(int post) => _rounds.GetValueOrDefault(post) >= Round;

    /// <summary>Writes down that the rounds gave a post; a later round than the present one begins with it.</summary>
    public void Give(int post, int round)
    {
        if (round > Round) Round = round;
        if (round < Round) return;
        LastGiven = post;
        _rounds[post] = round;
    }
}

/// <summary>The state of every line on every channel.</summary>
internal sealed class LineStates
{
    private readonly Dictionary<(Guid Line, int Channel), LineState> _states = [];

    public LineStates(LineUpInput input, Stock stock)
    {
        foreach (Delivery d in input.Deliveries.Where(d => d.GivenBy is not null && d.State.IsTurn()).OrderBy(d => d.At).ThenBy(d => d.Id))
        {
            if (stock.ChannelNumber(d.ChannelId) is { } channel && stock.Numbers.TryGetValue(d.PostId, out int post)) Give(d.GivenBy!.Value, channel, post, d.GivenInOrder, d.Round);
        }
    }

    public LineState Of(Guid line, int channel)
    {
        if (!_states.TryGetValue((line, channel), out LineState? state)) _states[(line, channel)] = state = new();
        return state;
    }

    public void Give(Guid line, int channel, int post, Order? order, int? round)
    {
        if (order == Order.OldestFirst) Of(line, channel).RingAt = post;
        if (order == Order.Shuffled && round is { } r) Of(line, channel).Give(post, r);
    }
}
