using NodaTime;

namespace AbleLark.Data.Rows;

/// <summary>The demo's clock: one row that the application and the stand-in networks both read.</summary>
public sealed class BusinessTime
{
    public int Id { get; init; } = 1;

    /// <summary>Business time less machine time.</summary>
    public Duration Ahead { get; set; }

    /// <summary>Business time that a jump is on its way to; null while none is.</summary>
    public Instant? Target { get; set; }
}
