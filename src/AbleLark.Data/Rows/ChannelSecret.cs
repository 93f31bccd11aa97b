using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>A channel's tokens, encrypted with keys kept outside the database; apart from the channel, so that no view reads them by
/// chance.</summary>
public sealed class ChannelSecret
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Channel> ChannelId { get; init; }
    public required string AccessToken { get; set; }
    public required string RefreshToken { get; set; }

    /// <summary>Machine time at which the access token ends.</summary>
    public required Instant ExpiresAt { get; set; }
}
