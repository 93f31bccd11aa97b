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
    private static readonly Line Blank = new();
    private readonly DateTimeZone _zone;
    private readonly Dictionary<(Id<Post>, Id<Channel>), Line> _lines = [];
    private readonly Dictionary<(string Network, string Print), List<LocalDate>> _texts = [];
    private readonly Dictionary<Id<Channel>, Instant> _lastOn = [];

    /// <summary>What one post has behind and before it on one channel.</summary>
    internal sealed class Line
    {
        public Instant? Last { get; set; }
        public Instant? Front { get; set; }
        public bool HasOpenFailure { get; set; }

        /// <summary>Local dates of its turns.</summary>
        public List<LocalDate> Dates { get; } = [];

        public bool HasTurn => Last is not null;

        public Standing Standing => new(Last, Front is { } front && (Last is null || Last < front) ? front : null);
    }

    public TurnBook(LineUpInput input, Dictionary<Id<Channel>, Channel> channels, Dictionary<Id<Post>, Post> posts)
    {
        _zone = input.Zone;
        foreach (Delivery d in input.Deliveries)
        {
            if (!channels.TryGetValue(d.ChannelId, out Channel? channel)) continue;
            Line line = Open(d.PostId, d.ChannelId);
            if (d.State.IsTurn()) Note(line, channel, d.SentAt ?? d.At, d.Print ?? posts.GetValueOrDefault(d.PostId)?.Fits.GetValueOrDefault(channel.Network)?.Print);
            if (d.State is DeliveryState.Refused or DeliveryState.Unsure && !d.DealtWith) line.HasOpenFailure = true;
            else if (d.State is DeliveryState.Refused or DeliveryState.Missed && !(line.Front >= d.At)) line.Front = d.At;
        }
    }

    public void Add(Post post, Channel channel, Instant at) =>
        Note(Open(post.Id, channel.Id), channel, at, post.Fits.GetValueOrDefault(channel.Network)?.Print);

    public Line On(Post post, Channel channel) => _lines.GetValueOrDefault((post.Id, channel.Id), Blank);

    /// <summary>True when the network would take the post's text for one it had within its days, before or after.</summary>
    public bool SameTextNear(Post post, NetworkRules network, LocalDate date)
    {
        if (network.IdenticalTextDays is not { } days || post.Fits.GetValueOrDefault(network.Key) is not { } fit) return false;
        if (!_texts.TryGetValue((network.Key, fit.Print), out List<LocalDate>? dates)) return false;
        foreach (LocalDate other in dates)
        {
            if (Math.Abs(Period.DaysBetween(other, date)) < days) return true;
        }
        return false;
    }

    /// <summary>When anything last went to the channel; the beginning of time if nothing did.</summary>
    public Instant LastOn(Id<Channel> channel) => _lastOn.GetValueOrDefault(channel, Instant.MinValue);

    private Line Open(Id<Post> post, Id<Channel> channel)
    {
        if (!_lines.TryGetValue((post, channel), out Line? line)) _lines[(post, channel)] = line = new();
        return line;
    }

    private void Note(Line line, Channel channel, Instant at, string? print)
    {
        LocalDate date = at.InZone(_zone).Date;
        line.Dates.Add(date);
        if (line.Last is null || line.Last < at) line.Last = at;
        if (at > LastOn(channel.Id)) _lastOn[channel.Id] = at;
        if (print is null) return;
        if (!_texts.TryGetValue((channel.Network, print), out List<LocalDate>? dates)) _texts[(channel.Network, print)] = dates = [];
        dates.Add(date);
    }
}
