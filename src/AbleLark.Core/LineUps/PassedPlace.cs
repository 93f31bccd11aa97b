using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>An occurrence whose time passed unscheduled: it is missed, and a person is told.</summary>
public sealed class PassedPlace : HasOrigin
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<PassedPlace> Id { get; init; }

    public required Instant At { get; init; }

    /// <summary>In the workspace's zone.</summary>
    public required LocalDateTime Local { get; init; }

    public required List<Id<Channel>> Channels { get; init; }

    /// <summary>The category whose turn it was; null for a pool.</summary>
    public Id<Category>? CategoryId { get; init; }

    /// <summary>Why nothing went.</summary>
    public required Reason Why { get; init; }

    public bool DealtWith { get; set; }
}
