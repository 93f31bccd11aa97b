using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>Where a post stands in a line.</summary>
/// <param name="LastTurn">Its latest sending there, planned ones included; null: it is new.</param>
/// <param name="FrontSince">When it was put to the front by a missed or dismissed sending; null: it wasn't.</param>
internal readonly record struct Standing(Instant? LastTurn, Instant? FrontSince);

/// <summary>All turns, kept per post and channel: sent, planned, and those that the projection hands out.</summary>
internal sealed class TurnBook
{
    private readonly DateTimeZone _zone;
    private readonly Dictionary<(Id<Post>, Id<Channel>), List<Instant>> _turns = [];
    private readonly Dictionary<(Id<Post>, Id<Channel>), Instant> _fronts = [];
    private readonly HashSet<(Id<Post>, Id<Channel>)> _failures = [];
    private readonly Dictionary<(string Network, string Print), List<LocalDate>> _texts = [];
    private readonly Dictionary<Id<Channel>, Instant> _lastOn = [];

    public TurnBook(LineUpInput input, Dictionary<Id<Channel>, Channel> channels, Dictionary<Id<Post>, Post> posts)
    {
        _zone = input.Zone;
        foreach (Delivery d in input.Deliveries)
        {
            if (!channels.TryGetValue(d.ChannelId, out Channel? channel)) continue;
            Instant at = d.SentAt ?? d.At;
            if (d.State.IsTurn()) Note(d.PostId, channel, at, d.Print ?? posts.GetValueOrDefault(d.PostId)?.Fits.GetValueOrDefault(channel.Network)?.Print);
            if (d.State is DeliveryState.Refused or DeliveryState.Unsure && !d.DealtWith) _failures.Add((d.PostId, d.ChannelId));
            else if (d.State is DeliveryState.Refused or DeliveryState.Missed) PutToFront((d.PostId, d.ChannelId), d.At);
        }
    }

    public void Add(Post post, Channel channel, Instant at) =>
        Note(post.Id, channel, at, post.Fits.GetValueOrDefault(channel.Network)?.Print);

    public Standing Standing(Post post, Channel line)
    {
        Instant? last = _turns.TryGetValue((post.Id, line.Id), out List<Instant>? turns) ? turns.Max() : null;
        Instant? front = _fronts.TryGetValue((post.Id, line.Id), out Instant since) && (last is null || last < since) ? since : null;
        return new(last, front);
    }

    public bool HasTurn(Id<Post> post, Id<Channel> channel) => _turns.ContainsKey((post, channel));

    public bool HasTurnOn(Id<Post> post, Id<Channel> channel, LocalDate date) =>
        _turns.TryGetValue((post, channel), out List<Instant>? turns) && turns.Any(t => t.InZone(_zone).Date == date);

    public bool HasOpenFailure(Id<Post> post, Id<Channel> channel) => _failures.Contains((post, channel));

    /// <summary>True when the network would take the post's text for one it had within its days, before or after.</summary>
    public bool SameTextNear(Post post, NetworkRules network, LocalDate date)
    {
        if (network.IdenticalTextDays is not { } days || post.Fits.GetValueOrDefault(network.Key) is not { } fit) return false;
        return _texts.TryGetValue((network.Key, fit.Print), out List<LocalDate>? dates)
            && dates.Any(d => Math.Abs(Period.DaysBetween(d, date)) < days);
    }

    /// <summary>When anything last went to the channel; the beginning of time if nothing did.</summary>
    public Instant LastOn(Id<Channel> channel) => _lastOn.GetValueOrDefault(channel, Instant.MinValue);

    private void Note(Id<Post> post, Channel channel, Instant at, string? print)
    {
        if (!_turns.TryGetValue((post, channel.Id), out List<Instant>? turns)) _turns[(post, channel.Id)] = turns = [];
        turns.Add(at);
        if (at > LastOn(channel.Id)) _lastOn[channel.Id] = at;
        if (print is null) return;
        if (!_texts.TryGetValue((channel.Network, print), out List<LocalDate>? dates)) _texts[(channel.Network, print)] = dates = [];
        dates.Add(at.InZone(_zone).Date);
    }

    private void PutToFront((Id<Post>, Id<Channel>) line, Instant at)
    {
        if (!_fronts.TryGetValue(line, out Instant before) || before < at) _fronts[line] = at;
    }
}
