using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Rotation;

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
        foreach (
            Draws draw in input
                .Older.Draws.Concat(input.Deliveries.Select(DrawOf).OfType<Draws>())
                .OrderBy(d => d.Last)
                .ThenBy(d => d.SlotId is { } slot ? places.GetValueOrDefault(slot) : default)
        )
        {
            if (bank.ChannelNumber(draw.ChannelId) is { } channel && bank.Numbers.TryGetValue(draw.PostId, out int post))
                Give(new(draw.Line, draw.Order, draw.Round), channel, post, draw.Last);
        }
    }

    /// <summary>A delivery as a line gave it; null where none did. A substitute moves nothing until it goes.</summary>
    private static Draws? DrawOf(LineUpDelivery d) =>
        d is { DrawnBy: { } line, DrawnInOrder: { } order } && d.State.IsTurn() && d.State != DeliveryState.Substitute
            ? new(line, order, d.ChannelId, d.PostId, d.Origin.SlotId, d.Round, d.At)
            : null;

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
