namespace AbleLark.Core;

/// <summary>What may be spent on something that came from outside: so many steps, for as long as somebody waits for it.</summary>
/// <param name="most">Steps; each costs about as much as looking at one date, or at one character.</param>
public sealed class StepAllowance(long most, CancellationToken ended = default)
{
    private long _left = most;

    /// <summary>Takes steps before they are done.</summary>
    /// <returns>False: there were not so many left, and none are now.</returns>
    /// <exception cref="OperationCanceledException">Nobody waits for it any longer.</exception>
    public bool Spend(long steps = 1)
    {
        ended.ThrowIfCancellationRequested();
        _left = Math.Max(0, _left - steps);
        return _left > 0;
    }
}
