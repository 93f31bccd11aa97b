using AbleLark.Core.Categories;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Pauses;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Rotation;

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
        SlotSource source = occurrence.Slot.Source;
        IEnumerable<Id<Category>> Open(IEnumerable<Id<Category>> some) =>
            some.Where(c => bank.HasCategory(c) && !pauses.Is(Paused.Category, c.Value, date));
        if (!source.IsPool)
            return [.. Open(source.From(occurrence.Number)).Select(One)];
        Id<Category>[] pool = [.. Open(source.Categories)];
        return pool.Length == 0
            ? []
            : [new(bank.CandidateSetFor(occurrence.Slot.Id.Value, pool, channels), source.Order ?? OrderRule.Usual, null, "The pool")];

        Line One(Id<Category> id)
        {
            Category category = bank.Category(id);
            return new(bank.CandidateSetFor(id.Value, [id], channels), source.Order ?? category.Order, id, category.Name);
        }
    }
}
