namespace AbleLark.Core.Results;

/// <summary>The median: half lie below it and half above.</summary>
public static class Median
{
    /// <param name="values">At least one, in any order; of an even number, the mean of the two in the middle counts.</param>
    public static double Of(IReadOnlyCollection<double> values)
    {
        double[] sorted = [.. values.Order()];
        return sorted.Length % 2 == 1 ? sorted[sorted.Length / 2] : (sorted[(sorted.Length / 2) - 1] + sorted[sorted.Length / 2]) / 2;
    }
}
