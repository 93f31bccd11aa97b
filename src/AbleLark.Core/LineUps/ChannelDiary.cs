using AbleLark.Core.Channels;
using NodaTime;

namespace AbleLark.Core.LineUps;

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
    public ReasonCode? Breaks(Instant at)
    {
        if (_spacing > 0)
        {
            long ticks = at.ToUnixTimeTicks();
            int place = _turns.BinarySearch(ticks);
            if (place >= 0)
                return ReasonCode.TooClose;
            place = ~place;
            if ((place < _turns.Count && _turns[place] - ticks < _spacing) || (place > 0 && ticks - _turns[place - 1] < _spacing))
                return ReasonCode.TooClose;
        }
        return _channel.DailyLimit is { } limit && _perDay.GetValueOrDefault(at.InZone(_zone).Date) >= limit ? ReasonCode.DayFull : null;
    }
}
