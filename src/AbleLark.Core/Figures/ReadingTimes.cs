using NodaTime;

namespace AbleLark.Core.Figures;

/// <summary>When a delivery's figures are read: each hour of its first day, each day of its first fortnight, then each week up to its
/// twelfth.</summary>
public static class ReadingTimes
{
    private static readonly Duration[] Ages =
    [
        .. Enumerable.Range(1, 24).Select(h => Duration.FromHours(h)),
        .. Enumerable.Range(2, 13).Select(d => Duration.FromDays(d)),
        .. Enumerable.Range(3, 10).Select(w => Duration.FromDays(7 * w)),
    ];

    /// <summary>The first reading after <paramref name="now"/>; null after the last.</summary>
    public static Instant? Next(Instant sentAt, Instant now)
    {
        foreach (Duration age in Ages)
        {
            if (sentAt + age > now)
                return sentAt + age;
        }
        return null;
    }

    /// <summary>All readings up to and including <paramref name="now"/>, in order.</summary>
    public static IEnumerable<Instant> Until(Instant sentAt, Instant now) => Ages.Select(a => sentAt + a).Where(at => at <= now);
}
