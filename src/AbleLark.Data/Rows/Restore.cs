using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>A backup was put back. What went out between the two instants is not known here.</summary>
public sealed class Restore
{
    /// <summary>For so long after it, whatever is due is looked up on its network before it is sent.</summary>
    public static Duration MindedFor { get; } = Duration.FromDays(14);

    public required Guid Id { get; init; }

    /// <summary>Business time at which the backup was begun.</summary>
    public required Instant BackupAt { get; init; }

    /// <summary>Machine time at which it was put back.</summary>
    public required Instant RestoredAt { get; init; }
}
