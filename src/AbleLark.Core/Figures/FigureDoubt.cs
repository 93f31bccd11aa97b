using NodaTime;

namespace AbleLark.Core.Figures;

/// <summary>Why a reading is kept but not counted.</summary>
public enum FigureDoubt
{
    /// <summary>A figure that grows has become much smaller than it was.</summary>
    Fell,

    /// <summary>A figure below nought, or larger than any network is.</summary>
    Absurd,

    /// <summary>It is said to be from before the sending: a clock is wrong.</summary>
    TooEarly,
}

/// <summary>Looks at readings as they come in.</summary>
public static class FigureDoubts
{
    /// <summary>People take a like back now and then; more than this share, and more than a handful, is no such thing.</summary>
    private const double MayFallBy = 0.1;
    private const double Handful = 5;

    /// <summary>More than there are people.</summary>
    private const double Largest = 1e10;

    /// <param name="before">The last reading that was counted; null: there is none.</param>
    /// <returns>Null: nothing speaks against it.</returns>
    public static FigureDoubt? Of(Instant sentAt, FigureReading? before, FigureReading reading)
    {
        if (reading.At < sentAt)
            return FigureDoubt.TooEarly;
        if (reading.Figures.All.Any(f => !(f.Value >= 0) || f.Value > Largest))
            return FigureDoubt.Absurd;
        return
            before is not null
            && reading.Figures.All.Any(f =>
                f.Kind.Grows && before.Figures[f.Kind] is { } then && f.Value < then * (1 - MayFallBy) && f.Value < then - Handful
            )
            ? FigureDoubt.Fell
            : null;
    }
}
