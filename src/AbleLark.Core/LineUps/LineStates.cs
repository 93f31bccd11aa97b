using AbleLark.Core.Deliveries;
using AbleLark.Core.Orders;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>How far a ring or a round of one line on one channel has come. "Last" is by the instant of the place, so that it makes no
/// difference when a place was scheduled.</summary>
internal sealed class LineState
{
    private readonly Dictionary<int, int> _rounds = [];
    private long _ringMovedAt = TurnHistory.Never;
    private long _lastGivenAt = TurnHistory.Never;

    /// <summary>Number of the post that the ring gave last; -1 before its first.</summary>
    public int RingAt { get; private set; } = -1;

    public int Round { get; private set; } = 1;

    /// <summary>The post that the rounds gave last; -1 before their first.</summary>
    public int LastGiven { get; private set; } = -1;

    public bool WasGivenThisRound(int post) => _rounds.GetValueOrDefault(post) >= Round;

    public void MoveRing(int post, long at)
    {
        if (at < _ringMovedAt)
            return;
        (RingAt, _ringMovedAt) = (post, at);
    }

    /// <summary>Writes down that the rounds gave a post; a later round than the present one begins with it.</summary>
    public void Give(int post, int round, long at)
    {
        Round = Math.Max(Round, round);
        _rounds[post] = Math.Max(round, _rounds.GetValueOrDefault(post));
        if (at < _lastGivenAt)
            return;
        (LastGiven, _lastGivenAt) = (post, at);
    }
}

/// <summary>The state of every line on every channel.</summary>
internal sealed class LineStates
{
    private readonly Dictionary<(Guid Line, int Channel), LineState> _states = [];

    public LineStates(LineUpInput input, BankIndex bank)
    {
        // Places of one instant in the order in which they are filled: rank of the rota, then place of the slot in it.
        Dictionary<Id<Slot>, (int Rank, int Place)> places = input
            .Rotas.SelectMany(r => r.Slots.Select(s => (s.Id, r.Rank, s.Position)))
            .ToDictionary(s => s.Id, s => (s.Rank, s.Position));
        // A substitute moves nothing until it goes.
        foreach (
            Delivery d in input
                .Deliveries.Where(d => d.DrawnBy is not null && d.State.IsTurn() && d.State != DeliveryState.Substitute)
                .OrderBy(d => d.At)
                .ThenBy(d => d.Origin.SlotId is { } slot ? places.GetValueOrDefault(slot) : default)
                .ThenBy(d => d.Id)
        )
        {
            if (bank.ChannelNumber(d.ChannelId) is not { } channel || !bank.Numbers.TryGetValue(d.PostId, out int post))
                continue;
            if (d.DrawnInOrder is { } order)
                Give(new(d.DrawnBy!.Value, order, d.Round), channel, post, d.At);
        }
    }

    public LineState Of(Guid line, int channel)
    {
        if (!_states.TryGetValue((line, channel), out LineState? state))
            _states[(line, channel)] = state = new();
        return state;
    }

    public void Give(DrawnBy by, int channel, int post, Instant at)
    {
        if (by.Order == Order.OldestFirst)
            Of(by.Line, channel).MoveRing(post, at.ToUnixTimeTicks());
        if (by is { Order: Order.Shuffled, Round: { } round })
            Of(by.Line, channel).Give(post, round, at.ToUnixTimeTicks());
    }
}
