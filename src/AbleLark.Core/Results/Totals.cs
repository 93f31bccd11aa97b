using AbleLark.Core.Categories;

namespace AbleLark.Core.Results;

/// <summary>What deliveries of one category earned together.</summary>
/// <param name="Deliveries">Those whose measure is known.</param>
/// <param name="LeftOut">Those whose measure isn't.</param>
/// <param name="Below">Null for counts.</param>
public sealed record CategorySum(Id<Category> CategoryId, int Deliveries, int LeftOut, double Above, double? Below)
{
    /// <summary>Sum over sum; null for counts and when nothing stands below the line.</summary>
    public double? Rate => Below > 0 ? Above / Below : null;
}

/// <summary>Sums over deliveries, as they stand.</summary>
/// <param name="Deliveries">Those whose measure is known.</param>
/// <param name="Below">Null for counts.</param>
/// <param name="IndexByCategory">What each earned to what it took: 1 the same; null: nothing was earned at all.</param>
public sealed record Totals(
    int Deliveries,
    int LeftOut,
    double Above,
    double? Below,
    IReadOnlyDictionary<Id<Category>, double?> IndexByCategory
)
{
    /// <inheritdoc cref="CategorySum.Rate"/>
    public double? Rate => Below > 0 ? Above / Below : null;

    /// <summary>Of counts, so that periods of different length can be compared; a rate is the same whatever the length.</summary>
    public double? PerDay(ResultsPeriod period) => Below is null ? Above / period.Days : Rate;

    public static Totals Of(IReadOnlyCollection<CategorySum> sums)
    {
        int count = sums.Sum(s => s.Deliveries);
        double above = sums.Sum(s => s.Above);
        double? below = sums.Any(s => s.Below is not null) ? sums.Sum(s => s.Below ?? 0) : null;
        return new(
            count,
            sums.Sum(s => s.LeftOut),
            above,
            below,
            sums.ToDictionary(
                s => s.CategoryId,
                s => s.Deliveries == 0 || above == 0 ? (double?)null : s.Above / (s.Below ?? s.Deliveries) / (above / (below ?? count))
            )
        );
    }

    /// <summary>Sums by category.</summary>
    public static IReadOnlyList<CategorySum> SumsOf(IEnumerable<MeasuredDelivery> deliveries) =>
        [
            .. deliveries
                .GroupBy(d => d.CategoryId)
                .Select(g =>
                {
                    Measured[] known = [.. g.Select(d => d.Measured).OfType<Measured>()];
                    return new CategorySum(
                        g.Key,
                        known.Length,
                        g.Count() - known.Length,
                        known.Sum(m => m.Above),
                        known.Any(m => m.Below is not null) ? known.Sum(m => m.Below ?? 0) : null
                    );
                }),
        ];
}
