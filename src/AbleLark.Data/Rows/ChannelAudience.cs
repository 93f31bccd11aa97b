using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>When a channel's followers are online, as the network told it last.</summary>
public sealed class ChannelAudience
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Channel> ChannelId { get; init; }

    /// <summary>By hour of the week in UTC, Monday 00:00 first; empty where the network doesn't tell.</summary>
    public List<double> Online { get; set; } = [];

    public required Instant ReadAt { get; set; }

    /// <summary>When posts made on the channel itself were last looked for; null: never.</summary>
    public Instant? LookedAt { get; set; }
}
