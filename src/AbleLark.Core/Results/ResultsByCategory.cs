using AbleLark.Core.Categories;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;

namespace AbleLark.Core.Results;

/// <summary>A sent delivery with what it earned.</summary>
/// <param name="Figures">Null when nothing has been read for it (or it is too young for the age asked for).</param>
/// <param name="Offered">Figures that its network offers.</param>
public sealed record MeasuredDelivery(Id<Delivery> Id, Id<Category> CategoryId, FigureSet? Figures, IReadOnlyCollection<FigureKind> Offered)
{
    public double? Engagements => Figures?.Engagements(Offered);
}

/// <summary>What one category took and what it earned.</summary>
/// <param name="Deliveries">Deliveries counted: those whose engagements are known.</param>
/// <param name="LeftOut">Sent deliveries without figures, left out of every other number here.</param>
/// <param name="ShareOfDeliveries">0 to 1, of all deliveries counted; null when there are none.</param>
/// <param name="Reach">Sum of reach; null when no delivery has it.</param>
/// <param name="EngagementRate">Engagements ÷ reach, sum over sum, of deliveries that have both; null without reach.</param>
/// <param name="ShareOfEngagements">0 to 1; null when nothing was earned at all.</param>
/// <param name="Index">Share of engagements ÷ share of deliveries: 1 earns what it takes.</param>
public sealed record CategoryResult(
    Id<Category> CategoryId,
    int Deliveries,
    int LeftOut,
    double? ShareOfDeliveries,
    double? Reach,
    double Engagements,
    double? EngagementRate,
    double? ShareOfEngagements,
    double? Index
);

/// <summary>Compares categories by what their deliveries earned.</summary>
public static class ResultsByCategory
{
    /// <returns>One row for each category that was sent, the highest index first.</returns>
    public static IReadOnlyList<CategoryResult> Of(IReadOnlyCollection<MeasuredDelivery> deliveries)
    {
        int counted = deliveries.Count(d => d.Engagements is not null);
        double earned = deliveries.Sum(d => d.Engagements ?? 0);
        return
        [
            .. deliveries
                .GroupBy(d => d.CategoryId)
                .Select(g => Row(g.Key, [.. g], counted, earned))
                .OrderByDescending(r => r.Index ?? -1)
                .ThenBy(r => r.CategoryId),
        ];
    }

    private static CategoryResult Row(Id<Category> category, IReadOnlyList<MeasuredDelivery> all, int countedInAll, double earnedInAll)
    {
        MeasuredDelivery[] counted = [.. all.Where(d => d.Engagements is not null)];
        MeasuredDelivery[] withReach = [.. counted.Where(d => d.Figures![FigureKind.Reach] is not null)];
        double earned = counted.Sum(d => d.Engagements!.Value);
        double? reach = withReach.Length > 0 ? withReach.Sum(d => d.Figures![FigureKind.Reach]!.Value) : null;
        double? share = Ratio(counted.Length, countedInAll);
        double? shareOfEarned = counted.Length > 0 ? Ratio(earned, earnedInAll) : null;
        return new(
            category,
            counted.Length,
            all.Count - counted.Length,
            share,
            reach,
            earned,
            reach is null ? null : Ratio(withReach.Sum(d => d.Engagements!.Value), reach.Value),
            shareOfEarned,
            shareOfEarned is null || share is null ? null : Ratio(shareOfEarned.Value, share.Value)
        );
    }

    private static double? Ratio(double above, double below) => below > 0 ? above / below : null;
}
