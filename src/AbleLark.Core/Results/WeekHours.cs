using AbleLark.Core.Channels;
using NodaTime;

namespace AbleLark.Core.Results;

/// <summary>One local hour of the week.</summary>
/// <param name="Online">Followers online, as a share of those in the best hour: 0 to 1; null where the network doesn't tell.</param>
/// <param name="Earned">What deliveries sent in it earned, as a ratio to what they would have at no hour in particular, drawn towards 1
/// where they are few; null without any.</param>
public sealed record WeekHour(IsoDayOfWeek Day, int Hour, double? Online, double? Earned, int Deliveries)
{
    private const int FewestDeliveries = 3;

    /// <summary>True when enough deliveries went out in it for what they earned to be told.</summary>
    public bool HasEnough => Deliveries >= FewestDeliveries;

    /// <summary>By which hours are ranked: what it makes of posts, where that can be told, times the followers who are there.</summary>
    public double Worth => (HasEnough ? Earned ?? 1 : 1) * (Online ?? 1);

    /// <summary>True for an hour whose deliveries did clearly better than the usual.</summary>
    public bool IsGood => HasEnough && Earned >= Usual.Apart;
}

/// <summary>What a delivery's result is held against to tell what its hour made of it.</summary>
public enum HourBasis
{
    /// <summary>There are no results yet.</summary>
    None,

    /// <summary>Its channel's median: there are too few posts to compare fairly.</summary>
    Median,

    /// <summary>What such a post earns there at no hour in particular, by the comparison of all.</summary>
    Comparison,
}

/// <summary>What one delivery earned beside what it would have at no hour in particular.</summary>
/// <param name="Ratio">1: as much.</param>
public sealed record HourResult(Id<Channel> ChannelId, Instant SentAt, double Ratio);

/// <summary>When people are there, and when posts did well.</summary>
public static class WeekHours
{
    private const int Hours = 168;

    /// <summary>An hour with few deliveries counts as if it had this many more of the middling sort.</summary>
    private const double Weight = 5;

    /// <summary>What the hours made of deliveries; those whose figure is missing say nothing.</summary>
    public static (HourBasis Basis, IReadOnlyList<HourResult> Results) ResultsOf(
        IReadOnlyCollection<MeasuredDelivery> deliveries,
        CategoryComparison comparison
    )
    {
        MeasuredDelivery[] known = [.. deliveries.Where(d => d.Measured is not null)];
        if (comparison.AtAnyHour.Count > 0)
            return (
                HourBasis.Comparison,
                [
                    .. known
                        .Where(d => comparison.AtAnyHour.GetValueOrDefault(d.Id) > 0)
                        .Select(d => new HourResult(d.ChannelId, d.SentAt, d.Measured!.Above / comparison.AtAnyHour[d.Id])),
                ]
            );
        Dictionary<Id<Channel>, double> medians = known
            .GroupBy(d => d.ChannelId)
            .ToDictionary(g => g.Key, g => Median.Of([.. g.Select(d => d.Measured!.Above)]));
        HourResult[] results =
        [
            .. known
                .Where(d => medians[d.ChannelId] > 0)
                .Select(d => new HourResult(d.ChannelId, d.SentAt, d.Measured!.Above / medians[d.ChannelId])),
        ];
        return (results.Length > 0 ? HourBasis.Median : HourBasis.None, results);
    }

    /// <summary>All hours of the week, Monday 00:00 first, in a zone.</summary>
    /// <param name="online">For each channel that tells: followers online by hour of the week in UTC, Monday 00:00 first, 168 of
    /// them.</param>
    /// <param name="at">A moment of the week that is meant: clock changes shift what is online when.</param>
    public static IReadOnlyList<WeekHour> Of(
        IReadOnlyCollection<IReadOnlyList<double>> online,
        IEnumerable<HourResult> results,
        DateTimeZone zone,
        Instant at
    )
    {
        double[] there = new double[Hours];
        LocalDate monday = at.InZone(zone).Date is var today ? today.PlusDays(1 - (int)today.DayOfWeek) : default;
        for (int hour = 0; hour < Hours; hour++)
        {
            Instant when = zone.AtLeniently(monday.AtMidnight().PlusHours(hour)).ToInstant();
            there[hour] = online.Sum(o => o[HourOf(when.InUtc().LocalDateTime)]);
        }
        double most = there.Max();
        ILookup<int, double> ratios = results.ToLookup(r => HourOf(r.SentAt.InZone(zone).LocalDateTime), r => r.Ratio);
        return
        [
            .. Enumerable
                .Range(0, Hours)
                .Select(hour => new WeekHour(
                    (IsoDayOfWeek)(1 + (hour / 24)),
                    hour % 24,
                    most > 0 ? there[hour] / most : null,
                    ratios[hour].Any() ? (ratios[hour].Sum() + Weight) / (ratios[hour].Count() + Weight) : null,
                    ratios[hour].Count()
                )),
        ];
    }

    private static int HourOf(LocalDateTime time) => (((int)time.DayOfWeek - 1) * 24) + time.Hour;
}
