namespace AbleLark.Core.Results;

/// <summary>A true proportion with its interval after E. B. Wilson (1927).</summary>
/// <param name="Share">0 to 1; null of nothing.</param>
/// <param name="Low">Of the 95 % interval, 0 to 1.</param>
/// <param name="High">Of the 95 % interval, 0 to 1.</param>
public sealed record Wilson(int Of, int Successes, double? Share, double? Low, double? High)
{
    private const double Z = 1.959963984540054;

    /// <param name="successes">0 to <paramref name="of"/>.</param>
    public static Wilson Interval(int successes, int of)
    {
        if (of == 0)
            return new(0, 0, null, null, null);
        double n = of,
            share = successes / n,
            square = Z * Z,
            middle = (share + (square / (2 * n))) / (1 + (square / n)),
            half = Z / (1 + (square / n)) * Math.Sqrt((share * (1 - share) / n) + (square / (4 * n * n)));
        return new(of, successes, share, successes == 0 ? 0 : middle - half, successes == of ? 1 : middle + half);
    }
}
