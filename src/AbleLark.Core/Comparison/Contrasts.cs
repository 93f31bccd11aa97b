namespace AbleLark.Core.Comparison;

/// <summary>Questions to a model, as weights of its columns.</summary>
internal static class Contrasts
{
    /// <summary>c = e_k − π, with πj ∝ fj·exp(βj).</summary>
    public static double[] AgainstMean(int category, FairModel model, double[] shares)
    {
        double[] contrast = new double[model.Design.Columns];
        double sum = 0;
        for (int c = 0; c < shares.Length; c++)
            sum += shares[c] * Math.Exp(model.Beta[c]);
        for (int c = 0; c < shares.Length; c++)
            contrast[c] = -shares[c] * Math.Exp(model.Beta[c]) / sum;
        contrast[category] += 1;
        return contrast;
    }

    public static double[] Difference(int first, int second, int columns)
    {
        double[] contrast = new double[columns];
        (contrast[first], contrast[second]) = (1, -1);
        return contrast;
    }
}
