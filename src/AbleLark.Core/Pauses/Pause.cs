using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Pauses;

public enum Paused
{
    Slot,
    Category,
    Channel,

    /// <summary>"Stop all sending": scheduled and exact-time deliveries too.</summary>
    Workspace,
}

/// <summary>A time in which something is paused; its occurrences stay visible as paused.</summary>
public sealed class Pause
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Pause> Id { get; init; }
    public required Paused What { get; init; }

    /// <summary>Identity of the slot, category or channel; the workspace's own for the whole of it.</summary>
    public required Guid Target { get; init; }

    /// <summary>First day of the pause, in the workspace's zone.</summary>
    public required LocalDate From { get; init; }

    /// <summary>Last day of the pause, included; null: until a person ends it.</summary>
    public LocalDate? To { get; set; }

    public bool HoldsOn(LocalDate date) => date >= From && !(date > To);
}
