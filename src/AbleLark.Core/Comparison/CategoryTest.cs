using MathNet.Numerics.Distributions;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AbleLark.Core.Comparison;

/// <summary>
/// Whether a category does otherwise than its channels and hours alone would have it: residuals of whole posts are dealt out anew among
/// all posts, and what the category has is held against what it then would have.
/// </summary>
public static class CategoryTest
{
    /// <summary>How often residuals are dealt out.</summary>
    public const int Deals = 1_999;

    /// <summary>Above so many posts the sum is as good as normal, and dealing tells nothing more.</summary>
    public const int MostDealt = 2_000;

    /// <param name="alone">The model without categories.</param>
    /// <param name="seed">The same seed deals the same way.</param>
    /// <returns>For each category, how probable so large a difference is where there is none: 0 to 1, both ways.</returns>
    public static double[] Of(FairModel alone, int seed = 1, int mostDealt = MostDealt)
    {
        (double[] z, double[][] a) = PostScores(alone);
        return z.Length > mostDealt ? [.. a.Select(own => Normal(own, z))] : Dealt(a, z, seed);
    }

    /// <summary>Holm's correction: what each probability is worth where several are looked at. In the order given.</summary>
    public static double[] Holm(IReadOnlyList<double> probabilities)
    {
        double[] corrected = new double[probabilities.Count];
        double most = 0;
        int left = probabilities.Count;
        foreach (int i in Enumerable.Range(0, probabilities.Count).OrderBy(i => probabilities[i]))
        {
            most = Math.Max(most, Math.Min(1, left * probabilities[i]));
            corrected[i] = most;
            left--;
        }
        return corrected;
    }

    /// <summary>Each post's residual z, and its weight a for each category.</summary>
    private static (double[] Z, double[][] A) PostScores(FairModel alone)
    {
        FairDesign design = alone.Design;
        FairRows rows = design.Rows;
        double[] z = new double[rows.Posts];
        double[] weights = new double[rows.Posts];
        for (int post = 0; post < rows.Posts; post++)
        {
            double residual = 0;
            for (int row = rows.Starts[post]; row < rows.Starts[post + 1]; row++)
            {
                weights[post] += alone.Weights[row];
                residual += alone.Weights[row] * alone.Residuals[row];
            }
            z[post] = residual / Scale(post);
        }

        // Each category's indicator less what channels, hours and periods say of it.
        Matrix<double> right = DenseMatrix.Create(design.Columns, rows.Categories, 0);
        double[] sums = new double[design.Columns];
        for (int post = 0; post < rows.Posts; post++)
        {
            double kappa = alone.Spread.TauSquared / (1 + (alone.Spread.TauSquared * weights[post]));
            (int from, int to) = (rows.Starts[post], rows.Starts[post + 1]);
            Dictionary<int, double> own = [];
            for (int row = from; row < to; row++)
            {
                double w = alone.Weights[row];
                int category = rows.Category[row];
                own[category] = own.GetValueOrDefault(category) + w;
                foreach (int column in design.Of(row))
                {
                    if (column < 0)
                        continue;
                    right[column, category] += w;
                    sums[column] += w;
                }
            }
            for (int row = from; row < to; row++)
            {
                foreach (int column in design.Of(row))
                {
                    if (column < 0 || sums[column] == 0)
                        continue;
                    foreach ((int category, double weight) in own)
                        right[column, category] -= kappa * sums[column] * weight;
                    sums[column] = 0;
                }
            }
        }
        Matrix<double> said = alone.Information.Solve(right);
        double[][] a = [.. Enumerable.Range(0, rows.Categories).Select(_ => new double[rows.Posts])];
        for (int post = 0; post < rows.Posts; post++)
        {
            for (int row = rows.Starts[post]; row < rows.Starts[post + 1]; row++)
            {
                for (int category = 0; category < rows.Categories; category++)
                {
                    double left = rows.Category[row] == category ? 1 : 0;
                    foreach (int column in design.Of(row))
                        left -= column < 0 ? 0 : said[column, category];
                    a[category][post] += alone.Weights[row] * left / Scale(post);
                }
            }
        }
        return (z, a);

        double Scale(int post) => Math.Sqrt(weights[post] * (1 + (alone.Spread.TauSquared * weights[post])));
    }

    /// <summary>How often sums of products are at least as large, either way, when z is dealt out anew.</summary>
    /// <param name="a">Weights of the posts, for each question.</param>
    /// <param name="z">Residuals of the posts.</param>
    public static double[] Dealt(double[][] a, double[] z, int seed)
    {
        double[] seen = [.. a.Select(own => Math.Abs(Sum(own, z)))];
        int[] asLarge = new int[a.Length];
        double[] dealt = [.. z];
        Random chance = new(seed);
        for (int deal = 0; deal < Deals; deal++)
        {
            chance.Shuffle(dealt);
            for (int category = 0; category < a.Length; category++)
            {
                // What differs by rounding alone is the same.
                if (Math.Abs(Sum(a[category], dealt)) >= seen[category] * (1 - 1e-12))
                    asLarge[category]++;
            }
        }
        return [.. asLarge.Select(n => (1 + n) / (Deals + 1.0))];
    }

    private static double Normal(double[] a, double[] z)
    {
        int n = z.Length;
        double meanA = a.Average(),
            meanZ = z.Average();
        double mean = n * meanA * meanZ,
            deviation = Math.Sqrt(a.Sum(x => (x - meanA) * (x - meanA)) * z.Sum(x => (x - meanZ) * (x - meanZ)) / (n - 1));
        double seen = Math.Abs(Sum(a, z));
        return deviation == 0 ? 1 : Math.Min(1, Normal01((-seen - mean) / deviation) + Normal01((mean - seen) / deviation));
    }

    private static double Normal01(double x) => MathNet.Numerics.Distributions.Normal.CDF(0, 1, x);

    private static double Sum(double[] a, double[] z)
    {
        double sum = 0;
        for (int i = 0; i < a.Length; i++)
            sum += a[i] * z[i];
        return sum;
    }
}
