namespace AbleLark.Server.Outgoing;

/// <summary>
/// Named points of a sending, one after each write and each call, at which a test can let the process "die": nothing that follows happens,
/// as if it had been killed there. In production nobody listens.
/// </summary>
public sealed class CrashPoints
{
    /// <summary>Throws a <see cref="CrashException"/> to die there.</summary>
    public Action<string>? Reached { get; set; }

    public void Reach(string point) => Reached?.Invoke(point);
}

/// <summary>Stands for the end of the process: nothing tidies up after it.</summary>
public sealed class CrashException(string point) : Exception($"Died at “{point}”.");
