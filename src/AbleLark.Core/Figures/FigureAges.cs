using NodaTime;

namespace AbleLark.Core.Figures;

/// <summary>How old what was earned is, so that old and young deliveries can be compared.</summary>
public enum FigureAge
{
    /// <summary>The latest reading of each delivery, however old it was then.</summary>
    Latest,
    Day,
    Week,
    FourWeeks,
}

/// <summary>One look at a delivery's figures.</summary>
public sealed record FigureReading(Instant At, FigureSet Figures);

/// <summary>The ages at which what a delivery had earned is kept.</summary>
public static class FigureAges
{
    /// <summary>From the youngest.</summary>
    public static IReadOnlyList<FigureAge> Kept { get; } = [FigureAge.Day, FigureAge.Week, FigureAge.FourWeeks];

    /// <summary>The age by which the rotation's scores and good hours compare.</summary>
    public const FigureAge Compared = FigureAge.Week;

    /// <exception cref="ArgumentOutOfRangeException">The latest reading has no age of its own.</exception>
    public static int Hours(this FigureAge age) =>
        age switch
        {
            FigureAge.Day => 24,
            FigureAge.Week => 7 * 24,
            FigureAge.FourWeeks => 28 * 24,
            _ => throw new ArgumentOutOfRangeException(nameof(age), age, "Not an age that is kept."),
        };

    /// <summary>
    /// What a delivery had earned at an age, interpolated linearly between the readings around it; nought is assumed at
    /// sending. Null while no reading is that old.
    /// </summary>
    /// <param name="readings">In order of time.</param>
    public static FigureSet? At(Instant sentAt, IReadOnlyList<FigureReading> readings, Duration age)
    {
        Instant wanted = sentAt + age;
        int next = 0;
        while (next < readings.Count && readings[next].At < wanted)
            next++;
        if (next == readings.Count)
            return null;
        FigureReading after = readings[next];
        if (after.At == wanted)
            return after.Figures;
        FigureReading before = next > 0 ? readings[next - 1] : new(sentAt, after.Figures.AtSending());
        return before.Figures.Towards(after.Figures, (wanted - before.At) / (after.At - before.At));
    }

    /// <summary>The ages in hours that a delivery has passed and whose figures aren't kept yet.</summary>
    public static IReadOnlyList<int> Due(Duration age, IReadOnlyCollection<int> kept) =>
        [.. Kept.Select(k => k.Hours()).Where(h => Duration.FromHours(h) <= age && !kept.Contains(h))];
}
