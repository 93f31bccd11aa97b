using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AbleLark.Core.Comparison;

/// <summary>How widely counts vary beyond chance alone.</summary>
/// <param name="Alpha">Within a delivery: the variance is μ + αμ².</param>
/// <param name="TauSquared">Between deliveries of one post: their covariance is τ²μμ′.</param>
public sealed record Spread(double Alpha, double TauSquared);

/// <summary>
/// A log-linear model of counts with an effect of each post: log μ = sum of the effects (+ log exposure), variance μ + αμ² within a
/// delivery plus τ²μμ′ between deliveries of one post. Fitted by Fisher's scoring, α and τ² by moments in turn with it.
/// </summary>
public sealed class FairModel
{
    private const int MostSteps = 50;
    private const double LongestStep = 2;
    private const double SmallestStep = 1e-10;
    private const double SmallestChange = 1e-11;

    private readonly int _rounds;
    private readonly double[] _information;

    private FairModel(FairDesign design, int rounds)
    {
        (Design, _rounds) = (design, rounds);
        int n = design.Rows.Length;
        (Beta, Means, Residuals, Weights) = (design.Beginning(), new double[n], new double[n], new double[n]);
        _information = new double[design.Columns * design.Columns];
    }

    public FairDesign Design { get; }

    /// <summary>Coefficients on the log scale, one for each column.</summary>
    public double[] Beta { get; }

    public Spread Spread { get; private set; } = new(0, 0);

    /// <summary>μ of each row.</summary>
    public double[] Means { get; }

    /// <summary>ε = (y − μ)/μ of each row.</summary>
    public double[] Residuals { get; }

    /// <summary>w = μ/(1 + αμ) of each row.</summary>
    public double[] Weights { get; }

    /// <summary>𝓘, columns × columns.</summary>
    public Matrix<double> Information => new DenseMatrix(Beta.Length, Beta.Length, _information);

    /// <summary>False: no maximum was found within the steps; nothing is to be concluded.</summary>
    public bool IsConverged { get; private set; }

    /// <param name="given">Variation that is known; null: estimated from the rows.</param>
    /// <param name="rounds">In how many rounds, at most, the variation and the effects are found in turn.</param>
    public static FairModel Fit(FairDesign design, Spread? given = null, int rounds = 30)
    {
        FairModel model = new(design, rounds);
        model.Run(given);
        return model;
    }

    private void Run(Spread? given)
    {
        Spread = given ?? Spread;
        IsConverged = Solve();
        if (given is not null)
            return;
        for (int round = 0; round < _rounds && IsConverged; round++)
        {
            Spread next = Moments();
            double change = Math.Abs(next.Alpha - Spread.Alpha) + Math.Abs(next.TauSquared - Spread.TauSquared);
            Spread = next;
            IsConverged = Solve();
            if (change < SmallestChange)
                return;
        }
    }

    /// <summary>Finds the coefficients for the variation as it is.</summary>
    private bool Solve()
    {
        double[] score = new double[Beta.Length];
        for (int i = 0; i < MostSteps; i++)
        {
            Look(score);
            Vector<double> step = NormalEquations.Solve(Information, DenseVector.OfArray(score));
            double longest = step.AbsoluteMaximum();
            if (!double.IsFinite(longest))
                return false;
            double cap = longest > LongestStep ? LongestStep / longest : 1;
            for (int column = 0; column < Beta.Length; column++)
                Beta[column] += cap * step[column];
            if (longest < SmallestStep)
            {
                Look(score);
                return true;
            }
        }
        return false;
    }

    /// <summary>Means, residuals, weights, information and score for the coefficients as they are.</summary>
    private void Look(double[] score)
    {
        FairRows rows = Design.Rows;
        double alpha = Spread.Alpha,
            tauSquared = Spread.TauSquared;
        int columns = Beta.Length;
        Array.Clear(_information);
        Array.Clear(score);
        double[] sums = new double[columns];
        List<int> touched = [];
        for (int post = 0; post < rows.Posts; post++)
        {
            (int from, int to) = (rows.Starts[post], rows.Starts[post + 1]);
            double weight = 0,
                residual = 0;
            for (int row = from; row < to; row++)
            {
                ReadOnlySpan<int> own = Design.Of(row);
                double predicted = 0;
                foreach (int column in own)
                    predicted += column < 0 ? 0 : Beta[column];
                double mean = Math.Exp(predicted) * (rows.Exposure?[row] ?? 1),
                    w = mean / (1 + (alpha * mean)),
                    e = (rows.Counts[row] - mean) / mean;
                (Means[row], Residuals[row], Weights[row]) = (mean, e, w);
                weight += w;
                residual += w * e;
                foreach (int column in own)
                {
                    if (column < 0)
                        continue;
                    score[column] += w * e;
                    if (sums[column] == 0)
                        touched.Add(column);
                    sums[column] += w;
                }
            }
            Design.AddProducts(_information, Weights, from, to);
            double kappa = tauSquared / (1 + (tauSquared * weight));
            foreach (int a in touched)
            {
                score[a] -= kappa * sums[a] * residual;
                foreach (int b in touched)
                    _information[(b * columns) + a] -= kappa * sums[a] * sums[b];
            }
            foreach (int column in touched)
                sums[column] = 0;
            touched.Clear();
        }
    }

    /// <summary>α and τ² by moments, for the means as they are.</summary>
    private Spread Moments()
    {
        FairRows rows = Design.Rows;
        double correction = (double)rows.Length / (rows.Length - Design.Columns),
            both = Spread.Alpha + Spread.TauSquared;
        double above = 0,
            below = 0,
            shared = 0,
            pairs = 0;
        for (int post = 0; post < rows.Posts; post++)
        {
            double sum = 0,
                squares = 0,
                weight = 0,
                weights = 0;
            for (int row = rows.Starts[post]; row < rows.Starts[post + 1]; row++)
            {
                double mean = Means[row],
                    e = Residuals[row],
                    v = mean / (1 + (both * mean));
                above += v * v * ((e * e * correction) - (1 / mean));
                below += v * v;
                sum += v * e;
                squares += v * v * e * e;
                weight += v;
                weights += v * v;
            }
            shared += ((sum * sum) - squares) / weight;
            pairs += ((weight * weight) - weights) / weight;
        }
        double all = Math.Max(0, above / below);
        double between = pairs > 0 ? Math.Clamp(correction * shared / pairs, 0, 0.95 * all) : 0;
        return new(all - between, between);
    }
}
