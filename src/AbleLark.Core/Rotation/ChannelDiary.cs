using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Reasons;
using NodaTime;

namespace AbleLark.Core.Rotation;

/// <summary>When anything goes to one channel, whatever it is: for spacing, for the daily limit, and for whose turn it is among
/// accounts.</summary>
internal sealed class ChannelDiary
{
    private readonly Channel _channel;
    private readonly DateTimeZone _zone;
    private readonly long _spacing;
    private readonly List<long> _turns = [];
    private readonly Dictionary<LocalDate, int> _perDay = [];

    /// <summary>Begins with what was posted on the channel itself.</summary>
    public ChannelDiary(Channel channel, LineUpInput input)
    {
        (_channel, _zone) = (channel, channel.Zone ?? input.Zone);
        _spacing = channel.Spacing is { } spacing ? spacing.BclCompatibleTicks : 0;
        foreach ((_, Instant at) in input.Outside.Where(o => o.Channel == channel.Id))
            Add(at);
    }

    /// <summary>When anything last went, or is planned to go, to the channel; the beginning of time if nothing did.</summary>
    public long Last { get; private set; } = TurnHistory.Never;

    public void Add(Instant at)
    {
        long ticks = at.ToUnixTimeTicks();
        Last = Math.Max(Last, ticks);
        if (_spacing > 0)
        {
            int place = _turns.BinarySearch(ticks);
            _turns.Insert(place < 0 ? ~place : place, ticks);
        }
        if (_channel.DailyLimit is not null)
        {
            LocalDate date = at.InZone(_zone).Date;
            _perDay[date] = _perDay.GetValueOrDefault(date) + 1;
        }
    }

    /// <summary>The rule of the channel that one more delivery at this instant would break; null when it breaks none.</summary>
    /// <param name="own">How many deliveries of this very instant don't count: those of the occurrence that asks.</param>
    public ReasonCode? Breaks(Instant at, int own = 0)
    {
        if (_spacing > 0 && IsTooClose(at.ToUnixTimeTicks(), own))
            return ReasonCode.TooClose;
        return _channel.DailyLimit is { } limit && _perDay.GetValueOrDefault(at.InZone(_zone).Date) - own >= limit
            ? ReasonCode.DayFull
            : null;
    }

    private bool IsTooClose(long at, int own)
    {
        int first = _turns.BinarySearch(at);
        if (first < 0)
            first = ~first;
        while (first > 0 && _turns[first - 1] == at)
            first--;
        int after = first;
        while (after < _turns.Count && _turns[after] == at)
            after++;
        return after - first > own
            || (after < _turns.Count && _turns[after] - at < _spacing)
            || (first > 0 && at - _turns[first - 1] < _spacing);
    }
}
