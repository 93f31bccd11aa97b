using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.LinearAlgebra.Double;

namespace AbleLark.Core.Comparison;

/// <summary>Solves the equations of weighted least squares, however different the sizes of their columns.</summary>
public static class NormalEquations
{
    /// <param name="products">X′WX: symmetric, columns × columns, of full rank.</param>
    /// <param name="right">X′Wy.</param>
    /// <returns>One coefficient for each column; not numbers where the columns can't be told apart.</returns>
    public static Vector<double> Solve(Matrix<double> products, Vector<double> right)
    {
        // Each column in its own unit: rounding then is the same for all.
        Vector<double> unit = products.Diagonal().Map(d => d > 0 ? 1 / Math.Sqrt(d) : 1);
        Matrix<double> scaled = DenseMatrix.Create(products.RowCount, products.ColumnCount, (i, j) => unit[i] * products[i, j] * unit[j]);
        var factors = scaled.LU();
        Vector<double> wanted = right.PointwiseMultiply(unit),
            found = factors.Solve(wanted);
        // What rounding left over is solved once more.
        found += factors.Solve(wanted - (scaled * found));
        return found.PointwiseMultiply(unit);
    }
}
