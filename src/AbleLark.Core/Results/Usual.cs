namespace AbleLark.Core.Results;

/// <summary>What is worth a word beside what is usual.</summary>
public static class Usual
{
    /// <summary>From this ratio on something did clearly better than the usual; below its inverse, worse.</summary>
    public const double Apart = 1.15;

    /// <summary>How many times the usual it is; null where it is much as usual, or there is no usual.</summary>
    public static double? TimesOf(double value, double? usual) =>
        usual is > 0 and var there && value / there is var ratio && ratio is > Apart or < 1 / Apart ? ratio : null;
}
