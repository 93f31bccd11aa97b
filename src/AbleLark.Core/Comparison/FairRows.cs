namespace AbleLark.Core.Comparison;

/// <summary>
/// Deliveries to be compared, as columns of equal length, the deliveries of one post next to each other. Levels are counted from nought,
/// and each occurs.
/// </summary>
/// <param name="Counts">What each earned: 0 or more.</param>
/// <param name="Exposure">What it is put in relation to, such as reach, above 0; null: counts as they are.</param>
/// <param name="Post">Number of each delivery's post, in rising order.</param>
/// <param name="Category">Level of the effect that is asked for.</param>
/// <param name="Others">Levels of what else bears on a delivery: channel, daypart, period.</param>
public sealed record FairRows(double[] Counts, double[]? Exposure, int[] Post, int[] Category, IReadOnlyList<int[]> Others)
{
    public int Length => Counts.Length;

    public int Posts { get; } = Post.Length == 0 ? 0 : Post[^1] + 1;

    public int Categories { get; } = LevelsOf(Category);

    /// <summary>First row of each post, and the number of rows at the end.</summary>
    public int[] Starts { get; } = StartsOf(Post);

    public static int LevelsOf(int[] levels)
    {
        int most = -1;
        foreach (int level in levels)
            most = Math.Max(most, level);
        return most + 1;
    }

    /// <summary>Rows chosen from these, with posts and levels counted anew.</summary>
    public FairRows Where(Func<int, bool> chosen)
    {
        int[] rows = [.. Enumerable.Range(0, Length).Where(chosen)];
        return new(
            [.. rows.Select(r => Counts[r])],
            Exposure is { } exposure ? [.. rows.Select(r => exposure[r])] : null,
            Renumber([.. rows.Select(r => Post[r])]),
            Renumber([.. rows.Select(r => Category[r])]),
            [.. Others.Select(o => Renumber([.. rows.Select(r => o[r])]))]
        );
    }

    /// <summary>Levels that occur, counted from nought in their order.</summary>
    public static int[] Renumber(int[] levels)
    {
        int[] places = new int[LevelsOf(levels)];
        foreach (int level in levels)
            places[level] = 1;
        for (int level = 0, next = 0; level < places.Length; level++)
            places[level] = places[level] == 1 ? next++ : -1;
        return [.. levels.Select(l => places[l])];
    }

    private static int[] StartsOf(int[] posts)
    {
        List<int> starts = [];
        for (int row = 0; row < posts.Length; row++)
        {
            if (row == 0 || posts[row] != posts[row - 1])
                starts.Add(row);
        }
        starts.Add(posts.Length);
        return [.. starts];
    }
}
