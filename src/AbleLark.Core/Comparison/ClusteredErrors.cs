using MathNet.Numerics.Distributions;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AbleLark.Core.Comparison;

/// <summary>A linear combination of coefficients with what is known of its error.</summary>
/// <param name="Value">On the log scale.</param>
/// <param name="Error">Its standard error, each post left out in turn (CR3).</param>
/// <param name="Freedom">Degrees of freedom (Satterthwaite).</param>
public sealed record Estimate(double Value, double Error, double Freedom)
{
    /// <summary>Half the width of its 95 % interval on the log scale.</summary>
    public double HalfWidth => StudentT.InvCDF(0, 1, Freedom, 0.975) * Error;
}

/// <summary>
/// Errors that hold with few posts of unequal weight: the change that leaving out each post would make (CR3), with Satterthwaite's degrees
/// of freedom. Each post is solved in its own columns alone.
/// </summary>
public sealed class ClusteredErrors
{
    private const double Singular = 1e-8;
    private const int Parts = 8;

    private readonly FairModel _model;
    private readonly IReadOnlyList<double[]> _contrasts;
    private readonly int _columns;
    private readonly int _count;
    private readonly Matrix<double> _inverse;
    private readonly double[] _inverseValues;

    /// <summary>𝓘⁻¹c, contrast after contrast.</summary>
    private readonly double[][] _pulled;
    private readonly double[] _squares;
    private readonly double[] _leverage;
    private readonly double[] _excess;
    private readonly bool[] _rests;
    private readonly Dictionary<int, bool[]> _restsOn = [];

    /// <summary>Σyy′, for each contrast: each pair of columns on one side of the diagonal or the other.</summary>
    private readonly double[][] _outer;

    private double[] _table = [];

    private ClusteredErrors(FairModel model, IReadOnlyList<double[]> contrasts, Matrix<double> inverse)
    {
        (_model, _contrasts, _columns, _count) = (model, contrasts, model.Design.Columns, contrasts.Count);
        _inverse = inverse;
        _inverseValues = inverse.ToColumnMajorArray();
        _pulled = [.. contrasts.Select(c => (inverse * DenseVector.OfArray(c)).ToArray())];
        (_squares, _leverage, _excess, _rests) = (new double[_count], new double[_count], new double[_count], new bool[_count]);
        _outer = [.. contrasts.Select(_ => new double[_columns * _columns])];
    }

    /// <param name="contrasts">Weights of the columns, one array for each question.</param>
    /// <param name="restsOn">For each post (by its number) on which some contrast rests: which do.</param>
    /// <returns>In the order of the contrasts; null: it rests on one post.</returns>
    public static Estimate?[] Of(FairModel model, IReadOnlyList<double[]> contrasts, out IReadOnlyDictionary<int, bool[]> restsOn)
    {
        Matrix<double> inverse = model.Information.Inverse();
        // Parts that are always the same, added up in their order: the sums are the same however many processors there are.
        ClusteredErrors[] parts = [.. Enumerable.Range(0, Parts).Select(_ => new ClusteredErrors(model, contrasts, inverse))];
        int posts = model.Design.Rows.Posts;
        Parallel.For(
            0,
            Parts,
            part =>
            {
                PostShare share = new(model);
                for (int post = posts * part / Parts; post < posts * (part + 1) / Parts; post++)
                {
                    share.Look(post);
                    parts[part].Add(share);
                }
            }
        );
        for (int part = 1; part < Parts; part++)
            parts[0].Add(parts[part]);
        restsOn = parts[0]._restsOn;
        return [.. Enumerable.Range(0, contrasts.Count).Select(parts[0].Estimate)];
    }

    /// <inheritdoc cref="Of(FairModel, IReadOnlyList{double[]}, out IReadOnlyDictionary{int, bool[]})"/>
    public static Estimate?[] Of(FairModel model, IReadOnlyList<double[]> contrasts) => Of(model, contrasts, out _);

    private void Add(ClusteredErrors other)
    {
        foreach ((int post, bool[] contrasts) in other._restsOn)
            _restsOn[post] = contrasts;
        for (int k = 0; k < _count; k++)
        {
            _squares[k] += other._squares[k];
            _leverage[k] += other._leverage[k];
            _excess[k] += other._excess[k];
            _rests[k] |= other._rests[k];
            for (int i = 0; i < _outer[k].Length; i++)
                _outer[k][i] += other._outer[k][i];
        }
    }

    /// <summary>Solves (I − J·M)[x, y] = [u, J·M·c] in the post's own columns.</summary>
    private void Add(PostShare share)
    {
        int n = share.Own.Count,
            wide = n + 1 + _count;
        if (_table.Length < n * wide)
            _table = new double[n * wide];
        double[] table = _table;
        for (int i = 0; i < n; i++)
        {
            int row = i * wide;
            for (int j = 0; j < n; j++)
            {
                double product = 0;
                for (int l = 0; l < n; l++)
                    product += share.Information[(i * n) + l] * _inverseValues[(share.Own[j] * _columns) + share.Own[l]];
                table[row + j] = (i == j ? 1 : 0) - product;
            }
            table[row + n] = share.Score[i];
            for (int k = 0; k < _count; k++)
            {
                double product = 0;
                for (int l = 0; l < n; l++)
                    product += share.Information[(i * n) + l] * _pulled[k][share.Own[l]];
                table[row + n + 1 + k] = product;
            }
        }
        if (!Solve(table, n, wide))
        {
            RestOn(share);
            return;
        }
        Span<double> y = stackalloc double[n];
        for (int k = 0; k < _count; k++)
        {
            double change = 0,
                a = 0,
                h = 0;
            double[] pulled = _pulled[k],
                outer = _outer[k];
            for (int i = 0; i < n; i++)
            {
                double p = pulled[share.Own[i]];
                y[i] = table[(i * wide) + n + 1 + k];
                change += p * table[(i * wide) + n];
                a += p * y[i];
            }
            for (int j = 0; j < n; j++)
            {
                int column = share.Own[j] * _columns;
                double row = 0;
                for (int i = 0; i < j; i++)
                {
                    int place = column + share.Own[i];
                    row += y[i] * _inverseValues[place];
                    outer[place] += y[i] * y[j];
                }
                int own = column + share.Own[j];
                h += y[j] * ((2 * row) + (y[j] * _inverseValues[own]));
                outer[own] += y[j] * y[j];
            }
            _squares[k] += change * change;
            _leverage[k] += a;
            _excess[k] += (a * a) - (h * h);
        }
    }

    /// <summary>Gauss's elimination with the largest pivot of each column. False: singular.</summary>
    /// <param name="table">Rows of <paramref name="wide"/>; the first <paramref name="n"/> columns are the matrix, the others become
    /// the answers.</param>
    private static bool Solve(double[] table, int n, int wide)
    {
        double determinant = 1;
        for (int column = 0; column < n; column++)
        {
            int pivot = column;
            for (int row = column + 1; row < n; row++)
            {
                if (Math.Abs(table[(row * wide) + column]) > Math.Abs(table[(pivot * wide) + column]))
                    pivot = row;
            }
            determinant *= table[(pivot * wide) + column];
            if (!(Math.Abs(determinant) >= Singular))
                return false;
            Span<double> own = table.AsSpan(column * wide, wide);
            if (pivot != column)
            {
                Span<double> other = table.AsSpan(pivot * wide, wide);
                for (int i = column; i < wide; i++)
                    (own[i], other[i]) = (other[i], own[i]);
            }
            double scale = 1 / own[column];
            for (int i = column; i < wide; i++)
                own[i] *= scale;
            for (int row = 0; row < n; row++)
            {
                Span<double> other = table.AsSpan(row * wide, wide);
                double times = other[column];
                if (row == column || times == 0)
                    continue;
                for (int i = column; i < wide; i++)
                    other[i] -= times * own[i];
            }
        }
        return true;
    }

    private Estimate? Estimate(int k)
    {
        if (_rests[k])
            return null;
        // What stands for i before j in a post's own order may stand on either side: both halves together are the whole.
        Matrix<double> halves = new DenseMatrix(_columns, _columns, _outer[k]);
        Matrix<double> whole = halves + halves.Transpose();
        whole.SetDiagonal(halves.Diagonal());
        Matrix<double> product = _inverse * whole;
        double trace = 0;
        for (int i = 0; i < _columns; i++)
        {
            for (int j = 0; j < _columns; j++)
                trace += product[i, j] * product[j, i];
        }
        double value = 0;
        for (int c = 0; c < _columns; c++)
            value += _contrasts[k][c] * _model.Beta[c];
        double freedom = _leverage[k] * _leverage[k] / (_excess[k] + trace);
        // Where hardly anything is left to tell an error from, none is told.
        return freedom > 0 ? new(value, Math.Sqrt(_squares[k]), freedom) : null;
    }

    /// <summary>Marks what could not be told without this post: without it, some coefficients are free.</summary>
    private void RestOn(PostShare share)
    {
        int n = share.Own.Count;
        Matrix<double> left = _model.Information.Clone();
        for (int i = 0; i < n; i++)
        {
            for (int j = 0; j < n; j++)
                left[share.Own[i], share.Own[j]] -= share.Information[(i * n) + j];
        }
        var parts = left.Evd(Symmetricity.Symmetric);
        double largest = parts.EigenValues.Real().Maximum();
        bool[] rests = new bool[_count];
        for (int v = 0; v < parts.EigenValues.Count; v++)
        {
            if (parts.EigenValues[v].Real > Singular * largest)
                continue;
            Vector<double> direction = parts.EigenVectors.Column(v);
            for (int k = 0; k < _count; k++)
                rests[k] |= Math.Abs(direction * DenseVector.OfArray(_contrasts[k])) > 1e-6;
        }
        if (!rests.Contains(true))
            return;
        _restsOn[share.Post] = rests;
        for (int k = 0; k < _count; k++)
            _rests[k] |= rests[k];
    }
}
