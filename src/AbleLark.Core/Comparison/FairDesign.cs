using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AbleLark.Core.Comparison;

/// <summary>
/// Which columns of the model each row takes part in, with a 1: one of each factor at most. The first factor has a column for each level;
/// of each further one the first level is what the others are held against, and has none.
/// </summary>
public sealed class FairDesign
{
    private const double SameDirection = 1e-6;

    private readonly int[] _columns;
    private readonly int[][] _factors;

    /// <summary>Of each factor where its levels' columns begin, before any was taken out; one before it where the first has none.</summary>
    private readonly int[] _first;
    private readonly bool[][] _told;

    /// <param name="rows">What is modelled.</param>
    /// <param name="withCategories">False: the other factors alone.</param>
    public FairDesign(FairRows rows, bool withCategories = true)
    {
        Rows = rows;
        _factors = withCategories ? [rows.Category, .. rows.Others] : [.. rows.Others];
        if (_factors.Length == 0)
            _factors = [new int[rows.Length]];
        Factors = _factors.Length;
        _columns = new int[rows.Length * Factors];
        _first = new int[Factors];
        _told = new bool[Factors][];
        int next = 0;
        for (int factor = 0; factor < Factors; factor++)
        {
            int reference = factor == 0 ? 0 : 1,
                levels = FairRows.LevelsOf(_factors[factor]);
            for (int row = 0; row < rows.Length; row++)
                _columns[(row * Factors) + factor] = _factors[factor][row] < reference ? -1 : next + _factors[factor][row] - reference;
            _first[factor] = next - reference;
            _told[factor] = [.. Enumerable.Repeat(true, levels)];
            next += levels - reference;
        }
        Columns = next;
    }

    public FairRows Rows { get; }

    public int Columns { get; private set; }

    private int Factors { get; }

    /// <summary>Columns of a row; -1 where it has the level that others are held against.</summary>
    public ReadOnlySpan<int> Of(int row) => _columns.AsSpan(row * Factors, Factors);

    /// <summary>Whether each level of a factor can be told from the others: its largest set of levels whose differences no other column
    /// explains as well.</summary>
    public IReadOnlyList<bool> Told(int factor) => _told[factor];

    /// <summary>Finds the levels that can be told apart, before any column is taken out.</summary>
    /// <param name="free">Directions in which the columns may be changed and say the same, one after another.</param>
    internal void Tell(IReadOnlyCollection<Vector<double>> free)
    {
        for (int factor = 0; factor < Factors; factor++)
        {
            int levels = _told[factor].Length,
                most = -1;
            int[] deliveries = new int[levels];
            foreach (int level in _factors[factor])
                deliveries[level]++;
            double[][] touched = [.. Enumerable.Range(0, levels).Select(l => free.Select(v => Part(v, factor, l)).ToArray())];
            foreach (double[] own in touched)
            {
                bool[] with = [.. touched.Select(other => own.Zip(other).All(x => Math.Abs(x.First - x.Second) < SameDirection))];
                int sum = deliveries.Where((_, level) => with[level]).Sum();
                if (sum > most)
                    (most, _told[factor]) = (sum, with);
            }
        }

        double Part(Vector<double> direction, int factor, int level) => factor > 0 && level == 0 ? 0 : direction[_first[factor] + level];
    }

    /// <summary>Takes a column out: what it said is said by others.</summary>
    public void Drop(int column)
    {
        for (int i = 0; i < _columns.Length; i++)
            _columns[i] =
                _columns[i] == column ? -1
                : _columns[i] > column ? _columns[i] - 1
                : _columns[i];
        Columns--;
    }

    /// <summary>Σ xx′ over all rows, columns × columns.</summary>
    public Matrix<double> Products()
    {
        double[] sum = new double[Columns * Columns];
        AddProducts(sum, null, 0, Rows.Length);
        return new DenseMatrix(Columns, Columns, sum);
    }

    /// <summary>Adds Σ w·xx′ over some rows.</summary>
    /// <param name="sum">Column after column.</param>
    /// <param name="weights">Of each row; null: each counts once.</param>
    internal void AddProducts(double[] sum, double[]? weights, int from, int to)
    {
        for (int row = from; row < to; row++)
        {
            double weight = weights is null ? 1 : weights[row];
            ReadOnlySpan<int> own = Of(row);
            foreach (int a in own)
            {
                if (a < 0)
                    continue;
                foreach (int b in own)
                {
                    if (b >= 0)
                        sum[(b * Columns) + a] += weight;
                }
            }
        }
    }

    /// <summary>Coefficients from which a fit begins: least squares of the logarithms.</summary>
    public double[] Beginning()
    {
        double[] right = new double[Columns];
        for (int row = 0; row < Rows.Length; row++)
        {
            double y = Math.Log(Rows.Counts[row] + 0.5) - (Rows.Exposure is { } exposure ? Math.Log(exposure[row]) : 0);
            foreach (int column in Of(row))
            {
                if (column >= 0)
                    right[column] += y;
            }
        }
        return [.. NormalEquations.Solve(Products(), DenseVector.OfArray(right))];
    }
}
