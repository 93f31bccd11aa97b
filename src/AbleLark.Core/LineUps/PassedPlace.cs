using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>An occurrence whose time passed unscheduled: it is missed, and a person is told.</summary>
public sealed class PassedPlace
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<PassedPlace> Id { get; init; }

    /// <summary>The occurrence that passed.</summary>
    public required Origin Origin
    {
        get => new(OriginKind, OriginId, OriginDate, OriginTime);
        init => (OriginKind, OriginId, OriginDate, OriginTime) = (value.Kind, value.Id, value.Date, value.Time);
    }

    /// <summary>The parts of <see cref="Origin"/>, as they are kept and asked for.</summary>
    public OriginKind OriginKind { get; private set; }

    public Guid OriginId { get; private set; }
    public LocalDate OriginDate { get; private set; }
    public LocalTime? OriginTime { get; private set; }

    public required Instant At { get; init; }

    /// <summary>In the workspace's zone.</summary>
    public required LocalDateTime Local { get; init; }

    public required List<Id<Channel>> Channels { get; init; }

    /// <summary>The category whose turn it was; null for a pool.</summary>
    public Id<Category>? CategoryId { get; init; }

    /// <summary>Why nothing went, in words.</summary>
    public required string Why { get; init; }

    public bool DealtWith { get; set; }
}
