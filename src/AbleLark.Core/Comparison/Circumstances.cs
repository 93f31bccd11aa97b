namespace AbleLark.Core.Comparison;

/// <summary>Tells what of a category's figure is due to where and when it goes out.</summary>
internal static class Circumstances
{
    /// <summary>Where it goes out more than others do is named rather than where it seldom does, if it explains as much as this.</summary>
    private const double Telling = 0.4;

    /// <param name="part">What was modelled.</param>
    /// <param name="rows">Places of its rows among all.</param>
    /// <returns>For each category of the part, one for each factor, the strongest first.</returns>
    public static List<Circumstance>[] Of(FairModel model, FairRows part, int[] rows, FairRows all)
    {
        List<Circumstance>[] found = [.. Enumerable.Range(0, part.Categories).Select(_ => new List<Circumstance>())];
        double[] deliveries = new double[part.Categories];
        foreach (int category in part.Category)
            deliveries[category]++;
        for (int factor = 0; factor < part.Others.Count; factor++)
        {
            int[] given = all.Others[factor];
            int levels = FairRows.LevelsOf(given);
            IReadOnlyList<bool> told = model.Design.Told(1 + factor);
            bool[] isTold = new bool[levels];
            double[,] times = new double[part.Categories, levels];
            double[] effects = new double[levels],
                shares = new double[levels];
            for (int i = 0; i < rows.Length; i++)
            {
                int level = given[rows[i]],
                    column = model.Design.Of(i)[1 + factor];
                times[part.Category[i], level]++;
                shares[level] += 1.0 / rows.Length;
                effects[level] = column < 0 ? 0 : model.Beta[column];
                isTold[level] = told[part.Others[factor][i]];
            }
            // What can't be told from something else explains nothing.
            int[] counted = [.. Enumerable.Range(0, levels).Where(l => isTold[l])];
            double mean = counted.Sum(l => shares[l] * effects[l]) / counted.Sum(l => shares[l]);
            for (int level = 0; level < levels; level++)
                effects[level] = isTold[level] ? effects[level] : mean;
            for (int category = 0; category < part.Categories; category++)
            {
                double[] more = [.. Enumerable.Range(0, levels).Select(l => (times[category, l] / deliveries[category]) - shares[l])];
                double[] shifts = [.. more.Select((m, l) => m * (effects[l] - mean))];
                double shift = shifts.Sum(),
                    sign = shift < 0 ? -1 : 1;
                int strongest = Enumerable.Range(0, levels).MaxBy(l => sign * shifts[l]);
                int often = Enumerable.Range(0, levels).Where(l => more[l] > 0).DefaultIfEmpty(strongest).MaxBy(l => sign * shifts[l]);
                if (sign * shifts[often] >= Telling * Math.Abs(shift))
                    strongest = often;
                found[category].Add(new(factor, strongest, more[strongest] < 0, Math.Exp(shift)));
            }
        }
        foreach (List<Circumstance> own in found)
            own.Sort((a, b) => Math.Abs(Math.Log(b.Ratio)).CompareTo(Math.Abs(Math.Log(a.Ratio))));
        return found;
    }
}
