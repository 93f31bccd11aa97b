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

    /// <summary>A reading older than this many times an age tells nothing of it by itself.</summary>
    private const double Near = 1.25;

    /// <summary>
    /// What a delivery had earned at an age: each kind interpolated linearly between its readings around that. Where there is none before,
    /// nought is assumed at sending, as long as the one after is near; a figure that was read weeks later counts at its own age alone, and
    /// so does one whose readings lie further apart than the age is long. Null where no kind can be told.
    /// </summary>
    /// <param name="readings">In order of time. One may hold some kinds only: it takes nothing from what others say of the rest.</param>
    public static FigureSet? At(Instant sentAt, IReadOnlyList<FigureReading> readings, Duration age)
    {
        Instant wanted = sentAt + age;
        List<(FigureKind, double)> told = [];
        foreach (FigureKind kind in FigureKind.All)
        {
            FigureReading? before = null,
                after = null;
            foreach (FigureReading reading in readings)
            {
                if (reading.Figures[kind] is null)
                    continue;
                if (reading.At >= wanted)
                {
                    after = reading;
                    break;
                }
                before = reading;
            }
            if (after is null)
                continue;
            bool isNear = after.At - sentAt <= age * Near,
                isBetween = before is not null && after.At - before.At <= age;
            if (!isNear && !isBetween)
                continue;
            double later = after.Figures[kind]!.Value;
            (Instant at, double earlier) = before is null ? (sentAt, kind.Grows ? 0 : later) : (before.At, before.Figures[kind]!.Value);
            told.Add((kind, after.At == wanted ? later : earlier + ((later - earlier) * ((wanted - at) / (after.At - at)))));
        }
        return told.Count == 0 ? null : FigureSet.Of(told);
    }

    /// <summary>The ages in hours that a delivery has passed and whose figures aren't kept yet.</summary>
    public static IReadOnlyList<int> Due(Duration age, IReadOnlyCollection<int> kept) =>
        [.. Kept.Select(k => k.Hours()).Where(h => Duration.FromHours(h) <= age && !kept.Contains(h))];
}
