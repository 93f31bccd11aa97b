using AbleLark.Core.Categories;
using AbleLark.Core.Orders;

namespace AbleLark.Core.Rotas;

/// <summary>What a slot sends: posts of categories, in turn or as one pool, or nothing but what the planner puts there.</summary>
/// <param name="Categories">In their order; none: it is kept free.</param>
/// <param name="IsPool">True: its categories are one pool, with <paramref name="Order"/> of its own.</param>
/// <param name="Order">Its own order; null takes the category's. A pool without one takes <see cref="OrderRule.Usual"/>.</param>
public sealed record SlotSource(IReadOnlyList<Id<Category>> Categories, bool IsPool = false, OrderRule? Order = null)
{
    /// <summary>Kept free for the planner's own posts.</summary>
    public static SlotSource None { get; } = new([]);

    public bool IsNone => Categories.Count == 0;

    /// <summary>The categories of the occurrence of a number, beginning with the one whose turn it is.</summary>
    /// <param name="number">See <see cref="Occurrence.Number"/>.</param>
    public IEnumerable<Id<Category>> From(int number) =>
        Enumerable.Range(0, Categories.Count).Select(i => Categories[(number + i) % Categories.Count]);

    /// <summary>The category whose turn it is; null for a pool, and where it is kept free.</summary>
    public Id<Category>? InTurn(int number) => IsPool || IsNone ? null : Categories[number % Categories.Count];

    /// <summary>True when posts of a category may go there: where it is kept free, all may.</summary>
    public bool Takes(Func<Id<Category>, bool> category) => IsNone || Categories.Any(category);
}
