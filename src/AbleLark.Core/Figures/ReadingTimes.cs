using NodaTime;

namespace AbleLark.Core.Figures;

/// <summary>When a delivery's figures are read: often while it is young, then ever more rarely.</summary>
public static class ReadingTimes
{
    private static readonly Duration[] Ages =
    [
        Duration.FromHours(1),
        Duration.FromHours(6),
        Duration.FromHours(24),
        Duration.FromDays(3),
        Duration.FromDays(7),
        Duration.FromDays(14),
        Duration.FromDays(28),
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
