using AbleLark.Core.Categories;
using AbleLark.Core.LineUps;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Outlooks;

/// <summary>A category's share of all deliveries to come, before and after a change.</summary>
/// <param name="Target">That the plan gives it; null: none was set.</param>
public sealed record MixShare(Id<Category> CategoryId, double Before, double After, double? Target);

/// <summary>A slot that could be given from a category that earns less than its share to one that earns more.</summary>
public sealed record MixMove(Id<Rota> RotaId, Id<Slot> SlotId, MixShare From, MixShare To);

/// <summary>Says which slots results would give to another category; whoever plans decides.</summary>
public static class MixAdvice
{
    /// <summary>So far the rota is looked ahead.</summary>
    public const int Days = 7 * 8;

    private const int MostMoves = 3;

    /// <summary>Slots that are tried for one pair of categories: each is a look-ahead of its own.</summary>
    private const int MostTried = 4;

    /// <summary>One slot at a time, and only where the receiving category's posts keep their gap and leave no place empty.</summary>
    /// <param name="better">Categories that surely earn more than their share, the best first.</param>
    /// <param name="worse">Categories that surely earn less, the worst first.</param>
    public static IReadOnlyList<MixMove> Of(
        SharedLineUp lineUp,
        IReadOnlyList<Id<Category>> better,
        IReadOnlyList<Id<Category>> worse,
        Instant from
    )
    {
        List<MixMove> moves = [];
        foreach (Id<Category> to in better)
        {
            foreach (Id<Category> giving in worse)
            {
                MixMove? move = SlotsOf(lineUp.Input, giving)
                    .Where(s => moves.TrueForAll(m => m.SlotId != s.Slot.Id))
                    .Take(MostTried)
                    .Select(s => Try(lineUp, s.Rota, s.Slot, giving, to, from))
                    .FirstOrDefault(m => m is not null);
                if (move is not null)
                    moves.Add(move);
                if (moves.Count == MostMoves)
                    return moves;
            }
        }
        return moves;
    }

    /// <summary>Slots that draw from the category alone, if that leaves it another.</summary>
    private static (Rota Rota, Slot Slot)[] SlotsOf(LineUpInput input, Id<Category> category)
    {
        (Rota Rota, Slot Slot)[] all =
        [
            .. from rota in input.Rotas
            where rota.RemovedAt is null && rota.Replaces is null
            from slot in rota.Slots
            where slot.RemovedAt is null && slot.Source.Categories is [var only] && only == category
            select (rota, slot),
        ];
        return all.Length > 1 ? all : [];
    }

    private static MixMove? Try(SharedLineUp lineUp, Rota rota, Slot slot, Id<Category> giving, Id<Category> to, Instant from)
    {
        LineUpInput after = lineUp.Input with { Rotas = [.. lineUp.Input.Rotas.Select(r => r.Id == rota.Id ? r.Giving(slot.Id, to) : r)] };
        WhatIf tried = WhatIf.Try(lineUp, after, from, Days);
        CategoryOutlook would = Of(tried.After, to);
        bool keeps =
            would.Runway is { PostsMissing: 0 } runway
            && runway.Empty <= (Of(tried.Before, to).Runway?.Empty ?? 0)
            && tried.After.Empty <= tried.Before.Empty;
        return keeps ? new(rota.Id, slot.Id, Share(giving), Share(to)) : null;

        MixShare Share(Id<Category> category) =>
            new(category, Of(tried.Before, category).Share, Of(tried.After, category).Share, Of(tried.After, category).TargetShare);
    }

    private static CategoryOutlook Of(Outlook outlook, Id<Category> category) => outlook.Categories.Single(c => c.CategoryId == category);
}
