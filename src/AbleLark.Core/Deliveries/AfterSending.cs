namespace AbleLark.Core.Deliveries;

/// <summary>What becomes of a delivery that is out, or may be.</summary>
public enum AfterSending
{
    /// <summary>The network is looked through once more.</summary>
    LooksAgain,

    /// <summary>It goes once more, now, under the same key.</summary>
    GoesAgain,

    /// <summary>It isn't on the network; another delivery goes instead.</summary>
    IsNotThere,
    IsTakenDown,
}
