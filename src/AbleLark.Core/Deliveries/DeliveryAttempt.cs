using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>How one try at a step ended.</summary>
public enum AttemptEnd
{
    Done,

    /// <summary>The network said no and will say so again.</summary>
    Refused,

    /// <summary>Nothing was done; it may be tried again.</summary>
    Busy,

    /// <summary>No answer, or a broken one: it may have been done or not.</summary>
    Lost,

    /// <summary>Its end was not known; it was looked up and is not there.</summary>
    Absent,
}

/// <summary>One try at one step of a sending, recorded before the call and completed after it.</summary>
public sealed class DeliveryAttempt
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<DeliveryAttempt> Id { get; init; }
    public required Id<Delivery> DeliveryId { get; init; }

    /// <summary>See <see cref="SendingStep.Key"/>.</summary>
    public required string Step { get; init; }

    /// <summary>True when readers see what it does.</summary>
    public required bool Publishes { get; init; }

    /// <summary>Machine time.</summary>
    public required Instant StartedAt { get; init; }

    /// <summary>Business time before which nothing of it can have been posted.</summary>
    public required Instant Since { get; init; }

    /// <summary>Machine time; null while nothing is known of its end.</summary>
    public Instant? EndedAt { get; set; }

    /// <summary>Null: cut off in the middle.</summary>
    public AttemptEnd? End { get; set; }

    /// <summary>Why it did not end as done, in the network's words or ours.</summary>
    public string? Reason { get; set; }

    /// <summary>The network's identity for what was done.</summary>
    public string? RemoteId { get; set; }

    /// <summary>The post's own address on the network.</summary>
    public string? Address { get; set; }

    /// <summary>Business time at which the network says that it was posted; null where it said nothing that can be.</summary>
    public Instant? RemoteAt { get; set; }

    /// <summary>Times it was looked up without being found.</summary>
    public int LookUps { get; set; }

    /// <summary>Machine time at which the latest of those began.</summary>
    public Instant? LookedUpAt { get; set; }

    /// <summary>True while it may have been done without our knowing.</summary>
    public bool IsOpen => End is null or AttemptEnd.Lost;
}
