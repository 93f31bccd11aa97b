using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>One reading of a delivery's figures.</summary>
/// <remarks>Told by the network, where nobody wrote it down.</remarks>
public sealed class Reading : HasActor
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Delivery> DeliveryId { get; init; }

    /// <summary>Business time.</summary>
    public required Instant At { get; init; }

    public required FigureSet Figures { get; init; }

    /// <summary>Why it is kept but not counted; null: it counts.</summary>
    public FigureDoubt? Doubt { get; init; }
}

/// <summary>What a delivery had earned at a certain age.</summary>
public sealed class AgeFigures
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Delivery> DeliveryId { get; init; }

    /// <summary>Hours after sending: one of <see cref="FigureAges.Kept"/>.</summary>
    public required int AgeHours { get; init; }

    public required FigureSet Figures { get; init; }
}
