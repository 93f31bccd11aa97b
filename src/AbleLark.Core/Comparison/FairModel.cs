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
    private const int Parts = 8;
    private const double LongestStep = 2;
    private const double SmallestStep = 1e-10;

    /// <summary>Before the effects are known as well as this, the variation is nothing to go by.</summary>
    private const double RoughStep = 0.1;
    private const double SmallestChange = 1e-9;

    private readonly int _rounds;
    private readonly double[] _information;
    private readonly Part[] _parts;

    private FairModel(FairDesign design, int rounds)
    {
        (Design, _rounds) = (design, rounds);
        int n = design.Rows.Length;
        (Beta, Means, Residuals, Weights) = (design.Beginning(), new double[n], new double[n], new double[n]);
        _information = new double[design.Columns * design.Columns];
        _parts = [.. Enumerable.Range(0, Parts).Select(_ => new Part(design.Columns))];
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
    /// <param name="rounds">How many steps, at most, are made of the effects and of the variation in turn.</param>
    public static FairModel Fit(FairDesign design, Spread? given = null, int rounds = 60)
    {
        FairModel model = new(design, rounds);
        model.Run(given);
        return model;
    }

    private void Run(Spread? given)
    {
        if (given is not null)
        {
            Spread = given;
            IsConverged = Solve();
            return;
        }
        // One step of each in turn: far from the end, neither needs to be known exactly.
        double[] score = new double[Beta.Length];
        for (int round = 0; round < _rounds; round++)
        {
            double step = Step(score);
            if (!double.IsFinite(step))
                return;
            if (step > RoughStep)
                continue;
            Spread next = Moments();
            double change = Math.Abs(next.Alpha - Spread.Alpha) + Math.Abs(next.TauSquared - Spread.TauSquared);
            Spread = next;
            if (change < SmallestChange && step < SmallestStep)
                break;
        }
        IsConverged = Solve();
    }

    /// <summary>Finds the coefficients for the variation as it is.</summary>
    private bool Solve()
    {
        double[] score = new double[Beta.Length];
        for (int i = 0; i < MostSteps; i++)
        {
            double step = Step(score);
            if (!double.IsFinite(step))
                return false;
            if (step < SmallestStep)
            {
                Look(score);
                return true;
            }
        }
        return false;
    }

    /// <summary>One step of Fisher's scoring; returns how far the coefficient moved that moved most.</summary>
    private double Step(double[] score)
    {
        Look(score);
        Vector<double> step = NormalEquations.Solve(Information, DenseVector.OfArray(score));
        double longest = step.AbsoluteMaximum();
        if (!double.IsFinite(longest))
            return longest;
        double cap = longest > LongestStep ? LongestStep / longest : 1;
        for (int column = 0; column < Beta.Length; column++)
            Beta[column] += cap * step[column];
        return longest;
    }

    /// <summary>Means, residuals, weights, information and score for the coefficients as they are.</summary>
    private void Look(double[] score)
    {
        int posts = Design.Rows.Posts;
        Parallel.For(0, Parts, part => _parts[part].Look(this, posts * part / Parts, posts * (part + 1) / Parts));
        Array.Clear(_information);
        Array.Clear(score);
        // In their order: the sums are the same however many processors there are.
        foreach (Part part in _parts)
        {
            for (int i = 0; i < score.Length; i++)
                score[i] += part.Score[i];
            for (int i = 0; i < _information.Length; i++)
                _information[i] += part.Information[i];
        }
    }

    /// <summary>Sums over some of the posts.</summary>
    private sealed class Part(int columns)
    {
        private readonly double[] _sums = new double[columns];
        private readonly List<int> _touched = [];

        public double[] Score { get; } = new double[columns];
        public double[] Information { get; } = new double[columns * columns];

        public void Look(FairModel model, int first, int end)
        {
            FairRows rows = model.Design.Rows;
            double alpha = model.Spread.Alpha,
                tauSquared = model.Spread.TauSquared;
            Array.Clear(Information);
            Array.Clear(Score);
            for (int post = first; post < end; post++)
            {
                (int from, int to) = (rows.Starts[post], rows.Starts[post + 1]);
                double weight = 0,
                    residual = 0;
                for (int row = from; row < to; row++)
                {
                    ReadOnlySpan<int> own = model.Design.Of(row);
                    double predicted = 0;
                    foreach (int column in own)
                        predicted += column < 0 ? 0 : model.Beta[column];
                    double mean = Math.Exp(predicted) * (rows.Exposure?[row] ?? 1),
                        w = mean / (1 + (alpha * mean)),
                        e = (rows.Counts[row] - mean) / mean;
                    (model.Means[row], model.Residuals[row], model.Weights[row]) = (mean, e, w);
                    weight += w;
                    residual += w * e;
                    foreach (int column in own)
                    {
                        if (column < 0)
                            continue;
                        Score[column] += w * e;
                        if (_sums[column] == 0)
                            _touched.Add(column);
                        _sums[column] += w;
                    }
                }
                model.Design.AddProducts(Information, model.Weights, from, to);
                double kappa = tauSquared / (1 + (tauSquared * weight));
                foreach (int a in _touched)
                {
                    Score[a] -= kappa * _sums[a] * residual;
                    foreach (int b in _touched)
                        Information[(b * columns) + a] -= kappa * _sums[a] * _sums[b];
                }
                foreach (int column in _touched)
                    _sums[column] = 0;
                _touched.Clear();
            }
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
