using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Channels;

public enum ConnectionState
{
    Connected,
    NeedsReconnection,

    /// <summary>By a person: nothing is scheduled or sent on it; what it sent stays.</summary>
    Disconnected,

    /// <summary>There is nothing to connect to: people post on it themselves.</summary>
    KeptByHand,
}

/// <summary>One account on one network, in one workspace.</summary>
public sealed class Channel
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Channel> Id { get; init; }

    /// <summary>Key of the network (see <see cref="Networks.NetworkRules"/>).</summary>
    public required string Network { get; init; }

    /// <summary>The account's identity on the network.</summary>
    public required string Account { get; init; }

    private string? _fitKey;

    /// <summary>Stands for it where posts say how they stand with channels.</summary>
    public string FitKey => _fitKey ??= FitKeyOf(Id);

    public static string FitKeyOf(Id<Channel> id) => id.ToString();

    public required string Name { get; set; }
    public required string Handle { get; set; }

    /// <summary>Order in lists and lanes.</summary>
    public int Position { get; set; }

    /// <summary>Least time between two deliveries on it; null: any.</summary>
    public Duration? Spacing { get; set; }

    /// <summary>Most deliveries on one date of its zone; null: any number.</summary>
    public int? DailyLimit { get; set; }

    /// <summary>The zone in which its days are counted; null takes the workspace's.</summary>
    public DateTimeZone? Zone { get; set; }

    /// <summary>As the network said last; null: it never did.</summary>
    public int? Followers { get; set; }

    /// <summary>What of the network's rules is otherwise for this account, by JSON pointer, each value in JSON (see <see
    /// cref="Networks.ChannelFigure"/>).</summary>
    public IReadOnlyDictionary<string, string> Figures { get; set; } = new Dictionary<string, string>();

    public ConnectionState Connection { get; set; }
    public string? ConnectionTrouble { get; set; }
}
