using AbleLark.Core.Channels;
using NodaTime;

namespace AbleLark.Core.Results;

/// <summary>One local hour of the week.</summary>
/// <param name="Online">Followers online, as a share of those in the best hour: 0 to 1; null where the network doesn't tell.</param>
/// <param name="Earned">What deliveries sent in it earned at seven days, as a ratio to their channel's median, drawn towards 1 where they
/// are few; null without any.</param>
public sealed record WeekHour(IsoDayOfWeek Day, int Hour, double? Online, double? Earned, int Deliveries)
{
    private const int FewestDeliveries = 3;
    private const double Good = 1.15;

    /// <summary>True when enough deliveries went out in it for what they earned to be told.</summary>
    public bool HasEnough => Deliveries >= FewestDeliveries;

    /// <summary>True for an hour whose deliveries did clearly better than the usual.</summary>
    public bool IsGood => HasEnough && Earned >= Good;
}

/// <summary>When people are there, and when posts did well.</summary>
public static class WeekHours
{
    private const int Hours = 168;

    /// <summary>An hour with few deliveries counts as if it had this many more of the middling sort.</summary>
    private const double Weight = 5;

    /// <summary>All hours of the week, Monday 00:00 first, in a zone.</summary>
    /// <param name="online">For each channel that tells: followers online by hour of the week in UTC, Monday 00:00 first, 168 of
    /// them.</param>
    /// <param name="at">A moment of the week that is meant: clock changes shift what is online when.</param>
    public static IReadOnlyList<WeekHour> Of(
        IReadOnlyCollection<IReadOnlyList<double>> online,
        IEnumerable<Earned> earned,
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
        List<(Id<Channel> Channel, Instant SentAt, double Engagements)> known =
        [
            .. earned.Where(e => e.Engagements is not null).Select(e => (e.ChannelId, e.SentAt, e.Engagements!.Value)),
        ];
        Dictionary<Id<Channel>, double> medians = known
            .GroupBy(e => e.Channel)
            .ToDictionary(g => g.Key, g => Median.Of([.. g.Select(e => e.Engagements)]));
        ILookup<int, double> ratios = known
            .Where(e => medians[e.Channel] > 0)
            .ToLookup(e => HourOf(e.SentAt.InZone(zone).LocalDateTime), e => e.Engagements / medians[e.Channel]);
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
