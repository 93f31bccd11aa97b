using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AbleLark.Core.Comparison;

/// <summary>A linear combination of coefficients with what is known of its error.</summary>
/// <param name="Value">On the log scale.</param>
/// <param name="Error">Its standard error, each post left out in turn (CR3).</param>
/// <param name="Freedom">Degrees of freedom (Satterthwaite).</param>
public sealed record Estimate(double Value, double Error, double Freedom)
{
    /// <summary>Half the width of its interval on the log scale.</summary>
    /// <param name="confidence">0 to 1.</param>
    public double HalfWidth(double confidence = 0.95) =>
        MathNet.Numerics.Distributions.StudentT.InvCDF(0, 1, Freedom, 0.5 + (confidence / 2)) * Error;
}

/// <summary>
/// Errors that hold with few posts of unequal weight: the change that leaving out each post would make (CR3), with Satterthwaite's degrees
/// of freedom. Each post is solved in its own columns alone.
/// </summary>
public static class ClusteredErrors
{
    private const double Singular = 1e-8;

    /// <param name="contrasts">Weights of the columns, one array for each question.</param>
    /// <returns>In the order of the contrasts; null: it rests on one post.</returns>
    public static Estimate?[] Of(FairModel model, IReadOnlyList<double[]> contrasts)
    {
        FairDesign design = model.Design;
        int columns = design.Columns,
            count = contrasts.Count;
        Matrix<double> inverse = model.Information.Inverse();
        Matrix<double> asked = DenseMatrix.OfColumnArrays(contrasts);
        Matrix<double> pulled = inverse * asked;
        double[] squares = new double[count],
            leverage = new double[count],
            excess = new double[count];
        bool[] rests = new bool[count];
        Matrix<double>[] outer = [.. contrasts.Select(_ => DenseMatrix.Create(columns, columns, 0))];
        PostScore score = new(model);
        for (int post = 0; post < design.Rows.Posts; post++)
        {
            score.Look(post);
            int[] own = [.. score.Own];
            Matrix<double> information = DenseMatrix.Create(own.Length, own.Length, (i, j) => score.Information[i, j]);
            Matrix<double> within = DenseMatrix.Create(own.Length, own.Length, (i, j) => inverse[own[i], own[j]]);
            Matrix<double> mine = DenseMatrix.Create(own.Length, count, (i, k) => pulled[own[i], k]);
            Matrix<double> right = DenseMatrix.Create(own.Length, 1 + count, 0);
            right.SetColumn(0, [.. own.Select(c => score.Score[c])]);
            right.SetSubMatrix(0, 1, information * mine);
            var factors = (DenseMatrix.CreateIdentity(own.Length) - (information * within)).LU();
            if (Math.Abs(factors.Determinant) < Singular)
            {
                RestingOn(model, own, information, asked, rests);
                continue;
            }
            Matrix<double> solved = factors.Solve(right);
            Vector<double> x = solved.Column(0);
            for (int k = 0; k < count; k++)
            {
                Vector<double> y = solved.Column(1 + k),
                    m = mine.Column(k);
                double change = m * x,
                    a = m * y,
                    h = y * (within * y);
                squares[k] += change * change;
                leverage[k] += a;
                excess[k] += (a * a) - (h * h);
                for (int i = 0; i < own.Length; i++)
                {
                    for (int j = 0; j < own.Length; j++)
                        outer[k][own[i], own[j]] += y[i] * y[j];
                }
            }
        }
        return
        [
            .. Enumerable
                .Range(0, count)
                .Select(k =>
                {
                    if (rests[k])
                        return null;
                    Matrix<double> product = inverse * outer[k];
                    double trace = (product * product).Trace();
                    double value = 0;
                    for (int c = 0; c < columns; c++)
                        value += contrasts[k][c] * model.Beta[c];
                    return new Estimate(value, Math.Sqrt(squares[k]), leverage[k] * leverage[k] / (excess[k] + trace));
                }),
        ];
    }

    /// <summary>Marks what could not be told without this post: without it, some coefficients are free.</summary>
    private static void RestingOn(FairModel model, int[] own, Matrix<double> information, Matrix<double> asked, bool[] rests)
    {
        Matrix<double> left = model.Information.Clone();
        for (int i = 0; i < own.Length; i++)
        {
            for (int j = 0; j < own.Length; j++)
                left[own[i], own[j]] -= information[i, j];
        }
        var parts = left.Evd(Symmetricity.Symmetric);
        double largest = parts.EigenValues.Real().Maximum();
        for (int v = 0; v < parts.EigenValues.Count; v++)
        {
            if (parts.EigenValues[v].Real > Singular * largest)
                continue;
            Vector<double> direction = parts.EigenVectors.Column(v);
            for (int k = 0; k < rests.Length; k++)
                rests[k] |= Math.Abs(direction * asked.Column(k)) > 1e-6;
        }
    }

    /// <summary>What one post says: its share of the information and of the score, in its own columns.</summary>
    private sealed class PostScore(FairModel model)
    {
        private readonly double[] _sums = new double[model.Design.Columns];

        public List<int> Own { get; } = [];

        /// <summary>u by column of the design; only those of <see cref="Own"/> are this post's.</summary>
        public double[] Score { get; } = new double[model.Design.Columns];

        /// <summary>J by place in <see cref="Own"/>.</summary>
        public double[,] Information { get; private set; } = new double[0, 0];

        public void Look(int post)
        {
            FairDesign design = model.Design;
            foreach (int column in Own)
                (_sums[column], Score[column]) = (0, 0);
            Own.Clear();
            (int from, int to) = (design.Rows.Starts[post], design.Rows.Starts[post + 1]);
            double weight = 0,
                residual = 0;
            for (int row = from; row < to; row++)
            {
                double w = model.Weights[row],
                    we = w * model.Residuals[row];
                weight += w;
                residual += we;
                foreach (int column in design.Of(row))
                {
                    if (column < 0)
                        continue;
                    if (_sums[column] == 0)
                        Own.Add(column);
                    _sums[column] += w;
                    Score[column] += we;
                }
            }
            double kappa = model.Spread.TauSquared / (1 + (model.Spread.TauSquared * weight));
            Information = new double[Own.Count, Own.Count];
            for (int row = from; row < to; row++)
            {
                ReadOnlySpan<int> columns = design.Of(row);
                foreach (int a in columns)
                {
                    if (a < 0)
                        continue;
                    int i = Own.IndexOf(a);
                    foreach (int b in columns)
                    {
                        if (b >= 0)
                            Information[i, Own.IndexOf(b)] += model.Weights[row];
                    }
                }
            }
            for (int i = 0; i < Own.Count; i++)
            {
                Score[Own[i]] -= kappa * _sums[Own[i]] * residual;
                for (int j = 0; j < Own.Count; j++)
                    Information[i, j] -= kappa * _sums[Own[i]] * _sums[Own[j]];
            }
        }
    }
}
