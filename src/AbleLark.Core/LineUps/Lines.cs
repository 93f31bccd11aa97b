using AbleLark.Core.Categories;
using AbleLark.Core.Orders;
using AbleLark.Core.Pauses;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>A category in turn, or a pool of them.</summary>
/// <param name="IsPastGap">True once it gave a post that was inside its gap.</param>
internal readonly record struct Line(
    CandidateSet CandidateSet,
    OrderRule Rule,
    Id<Category>? Category,
    string Name,
    bool IsPastGap = false
);

/// <summary>Whose turn it is in a slot.</summary>
internal sealed class Lines(BankIndex bank, ActivePauses pauses)
{
    /// <summary>The lines of an occurrence, beginning with the one whose turn it is; paused categories are passed over.</summary>
    public List<Line> Of(Occurrence occurrence, int[] channels, LocalDate date)
    {
        Slot slot = occurrence.Slot;
        Id<Category>[] categories = [.. slot.Categories.Where(c => bank.HasCategory(c) && !pauses.Is(Paused.Category, c.Value, date))];
        if (categories.Length == 0)
            return [];
        if (slot.IsPool)
            return [new(bank.CandidateSetFor(slot.Id.Value, categories, channels), slot.Order ?? OrderRule.Usual, null, "The pool")];
        List<Line> lines = [];
        for (int i = 0; i < slot.Categories.Count; i++)
        {
            Id<Category> id = slot.Categories[(occurrence.Number + i) % slot.Categories.Count];
            if (!categories.Contains(id))
                continue;
            Category category = bank.Category(id);
            lines.Add(new(bank.CandidateSetFor(id.Value, [id], channels), slot.Order ?? category.Order, id, category.Name));
        }
        return lines;
    }
}
