using AbleLark.Core.Categories;

namespace AbleLark.Core.Results;

/// <summary>Sums over deliveries, as they stand.</summary>
/// <param name="Deliveries">Those whose measure is known.</param>
/// <param name="Below">Null for counts.</param>
/// <param name="IndexByCategory">What each earned to what it took: 1 the same; null: nothing was earned at all.</param>
public sealed record Totals(int Deliveries, double Above, double? Below, IReadOnlyDictionary<Id<Category>, double?> IndexByCategory)
{
    /// <summary>Sum over sum; null for counts and when nothing stands below the line.</summary>
    public double? Rate => Below > 0 ? Above / Below : null;

    /// <summary>Of counts, so that periods of different length can be compared; a rate is the same whatever the length.</summary>
    public double? PerDay(ResultsPeriod period) => Below is null ? Above / period.Days : Rate;

    public static Totals Of(IReadOnlyCollection<MeasuredDelivery> deliveries)
    {
        (int count, double above, double? below) = Sum(deliveries);
        return new(
            count,
            above,
            below,
            deliveries
                .GroupBy(d => d.CategoryId)
                .ToDictionary(
                    g => g.Key,
                    g =>
                    {
                        (int own, double earned, double? ownBelow) = Sum(g);
                        return own == 0 || above == 0 ? (double?)null : earned / (ownBelow ?? own) / (above / (below ?? count));
                    }
                )
        );
    }

    private static (int Count, double Above, double? Below) Sum(IEnumerable<MeasuredDelivery> deliveries)
    {
        (int count, double above, double below, bool isRate) = (0, 0, 0, false);
        foreach (MeasuredDelivery delivery in deliveries)
        {
            if (delivery.Measured is not { } measured)
                continue;
            count++;
            above += measured.Above;
            below += measured.Below ?? 0;
            isRate |= measured.Below is not null;
        }
        return (count, above, isRate ? below : null);
    }
}
