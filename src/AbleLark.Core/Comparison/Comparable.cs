using MathNet.Numerics.LinearAlgebra;

namespace AbleLark.Core.Comparison;

/// <summary>Finds which categories can be compared at all, and on which deliveries.</summary>
internal static class Comparable
{
    private const double Nought = 1e-9;

    /// <summary>Leaves out what would make the model stand on one post, or on nothing: levels that are all noughts, or used by one
    /// post.</summary>
    /// <param name="rows">All of them.</param>
    /// <param name="chosen">True for those that are in; changed.</param>
    public static void LeaveOut(FairRows rows, bool[] chosen)
    {
        int[][] factors = [rows.Category, .. rows.Others];
        bool again = true;
        while (again)
        {
            again = false;
            foreach (int[] levels in factors)
            {
                int count = FairRows.LevelsOf(levels);
                int[] firstPost = new int[count];
                bool[] severalPosts = new bool[count],
                    earned = new bool[count];
                Array.Fill(firstPost, -1);
                for (int row = 0; row < rows.Length; row++)
                {
                    if (!chosen[row])
                        continue;
                    int level = levels[row];
                    earned[level] |= rows.Counts[row] > 0;
                    severalPosts[level] |= firstPost[level] >= 0 && firstPost[level] != rows.Post[row];
                    firstPost[level] = rows.Post[row];
                }
                for (int row = 0; row < rows.Length; row++)
                {
                    if (chosen[row] && !(severalPosts[levels[row]] && earned[levels[row]]))
                        (chosen[row], again) = (false, true);
                }
            }
        }
    }

    /// <summary>Parts of the chosen rows in which each category meets another on some channel, however far round.</summary>
    /// <returns>For each category its part; -1: none of its rows is chosen.</returns>
    public static int[] Parts(FairRows rows, bool[] chosen)
    {
        int categories = rows.Categories,
            channels = rows.Others.Count > 0 ? FairRows.LevelsOf(rows.Others[0]) : 1;
        int[] parent = [.. Enumerable.Range(0, categories + channels)];
        bool[] occurs = new bool[categories];
        for (int row = 0; row < rows.Length; row++)
        {
            if (!chosen[row])
                continue;
            occurs[rows.Category[row]] = true;
            int channel = rows.Others.Count > 0 ? rows.Others[0][row] : 0;
            parent[Root(rows.Category[row])] = Root(categories + channel);
        }
        return [.. Enumerable.Range(0, categories).Select(c => occurs[c] ? Root(c) : -1)];

        int Root(int node)
        {
            while (parent[node] != node)
                node = parent[node] = parent[parent[node]];
            return node;
        }
    }

    /// <summary>
    /// Takes out columns that say what others say, so that the rest can be told apart. Where even categories can't be, nothing is taken
    /// out, and the largest set of them that can is returned.
    /// </summary>
    /// <param name="categories">How many of the first columns are categories'; 0: none.</param>
    /// <returns>Null: all can be compared.</returns>
    public static bool[]? MakeFullRank(FairDesign design, int categories)
    {
        for (bool first = true; ; first = false)
        {
            var parts = design.Products().Evd(Symmetricity.Symmetric);
            double largest = parts.EigenValues.Real().Maximum();
            Vector<double>[] free =
            [
                .. Enumerable
                    .Range(0, design.Columns)
                    .Where(v => parts.EigenValues[v].Real <= Nought * largest)
                    .Select(v => parts.EigenVectors.Column(v)),
            ];
            if (free.Length == 0)
                return null;
            if (first)
                design.Tell(free);
            if (categories > 0 && design.Told(0).Contains(false))
                return [.. design.Told(0)];
            int column = Enumerable.Range(categories, design.Columns - categories).MaxBy(c => free.Sum(v => v[c] * v[c]));
            design.Drop(column);
        }
    }
}
