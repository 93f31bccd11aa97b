namespace AbleLark.Core.Comparison;

/// <summary>Tells what channels and dayparts make of a delivery, all else alike.</summary>
internal static class Levels
{
    /// <summary>What the level of the second of the other factors makes of each row, to the mean of all rows in which that can be told; 1
    /// where it can't, and where the model is without it.</summary>
    public static double[] SecondOf(FairModel model, FairRows part)
    {
        if (part.Others.Count < 2)
            return [.. Enumerable.Repeat(1.0, part.Length)];
        IReadOnlyList<bool> isTold = model.Design.Told(2);
        double?[] effects =
        [
            .. Enumerable
                .Range(0, part.Length)
                .Select(i =>
                    !isTold[part.Others[1][i]] ? (double?)null
                    : model.Design.Of(i)[2] is >= 0 and var column ? Math.Exp(model.Beta[column])
                    : 1
                ),
        ];
        double? mean = effects.Average();
        return [.. effects.Select(e => e / mean ?? 1)];
    }

    /// <param name="part">What was modelled.</param>
    /// <param name="rows">Places of its rows among all.</param>
    public static IEnumerable<LevelAnswer> Of(FairModel model, FairRows part, int[] rows, FairRows all)
    {
        List<(int Factor, int Level)> asked = [];
        List<double[]> contrasts = [];
        List<double> values = [];
        for (int factor = 0; factor < Math.Min(2, part.Others.Count); factor++)
        {
            // By the model's own levels, which may be coarser than those given.
            int count = FairRows.LevelsOf(part.Others[factor]);
            double[] shares = new double[count];
            int[] columns = [.. Enumerable.Repeat(-1, count)];
            int[] given = new int[count];
            for (int i = 0; i < rows.Length; i++)
            {
                int level = part.Others[factor][i];
                shares[level] += 1.0 / rows.Length;
                columns[level] = model.Design.Of(i)[1 + factor];
                given[level] = all.Others[factor][rows[i]];
            }
            double[] effects = [.. columns.Select(c => c < 0 ? 1 : Math.Exp(model.Beta[c]))];
            IReadOnlyList<bool> isTold = model.Design.Told(1 + factor);
            double told = shares.Where((_, level) => isTold[level]).Sum();
            shares = [.. shares.Select((f, level) => isTold[level] ? f / told : 0)];
            double mean = shares.Zip(effects, (f, e) => f * e).Sum();
            for (int level = 0; level < count; level++)
            {
                if (!isTold[level])
                    continue;
                double[] contrast = new double[model.Design.Columns];
                for (int other = 0; other < count; other++)
                {
                    if (columns[other] >= 0)
                        contrast[columns[other]] = (other == level ? 1 : 0) - (shares[other] * effects[other] / mean);
                }
                asked.Add((factor, given[level]));
                contrasts.Add(contrast);
                values.Add(Math.Log(effects[level] / mean));
            }
        }
        if (contrasts.Count == 0)
            return [];
        return asked.Zip(
            ClusteredErrors.Of(model, contrasts).Zip(values, (e, v) => e is null ? null : RatioRange.Of(e with { Value = v })),
            (a, range) => new LevelAnswer(a.Factor, a.Level, range)
        );
    }
}
