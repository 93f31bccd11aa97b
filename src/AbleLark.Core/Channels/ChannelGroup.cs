using AbleLark.Core.Workspaces;

namespace AbleLark.Core.Channels;

/// <summary>Channels that are chosen together: a way of choosing, which nothing else depends on.</summary>
public sealed class ChannelGroup
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<ChannelGroup> Id { get; init; }
    public required string Name { get; set; }

    /// <summary>Each once; at least one.</summary>
    public List<Id<Channel>> Channels { get; set; } = [];
}
