using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AbleLark.Core.Comparison;

/// <summary>
/// Which columns of the model each row takes part in, with a 1: one of each factor at most. The first factor has a column for each level;
/// of each further one the first level is what the others are held against, and has none.
/// </summary>
public sealed class FairDesign
{
    private readonly int[] _columns;

    /// <param name="rows">What is modelled.</param>
    /// <param name="withCategories">False: the other factors alone.</param>
    public FairDesign(FairRows rows, bool withCategories = true)
    {
        Rows = rows;
        int[][] factors = withCategories ? [rows.Category, .. rows.Others] : [.. rows.Others];
        if (factors.Length == 0)
            factors = [new int[rows.Length]];
        Factors = factors.Length;
        _columns = new int[rows.Length * Factors];
        int next = 0;
        for (int factor = 0; factor < Factors; factor++)
        {
            int reference = factor == 0 ? 0 : 1;
            for (int row = 0; row < rows.Length; row++)
                _columns[(row * Factors) + factor] = factors[factor][row] < reference ? -1 : next + factors[factor][row] - reference;
            next += FairRows.LevelsOf(factors[factor]) - reference;
        }
        Columns = next;
    }

    public FairRows Rows { get; }

    public int Columns { get; private set; }

    private int Factors { get; }

    /// <summary>Columns of a row; -1 where it has the level that others are held against.</summary>
    public ReadOnlySpan<int> Of(int row) => _columns.AsSpan(row * Factors, Factors);

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
