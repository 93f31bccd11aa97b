namespace AbleLark.Core.Orders;

/// <summary>Which post of a line is next.</summary>
public enum Order
{
    /// <summary>New posts, the latest added before the others; then the one with the earliest last turn.</summary>
    NewestFirst,

    /// <summary>A ring by date added: the next after the post that the ring gave last.</summary>
    OldestFirst,

    /// <summary>Rounds in which each post has one turn, in an order drawn for each round.</summary>
    Shuffled,

    /// <summary>The earliest last turn; new posts before all, the earliest added first.</summary>
    LongestSinceLastSent,

    /// <summary>New posts first; then the largest days since last turn × score.</summary>
    BetterOnesMoreOften,
}

/// <summary>How the posts of a category, or of a slot's pool, take turns.</summary>
/// <param name="FreshFirst">New posts before all others.</param>
/// <param name="PastGap">True: where only posts inside their gap are left, the one sent longest ago goes; false: the place stays
/// empty.</param>
/// <param name="Seed">What the rounds of <see cref="Order.Shuffled"/> are drawn from; another seed is another order.</param>
public sealed record OrderRule(Order Order, bool FreshFirst = false, bool PastGap = false, int Seed = 0)
{
    public static OrderRule Usual { get; } = new(Order.NewestFirst);
}
