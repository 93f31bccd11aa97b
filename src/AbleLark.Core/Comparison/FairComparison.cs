namespace AbleLark.Core.Comparison;

/// <summary>
/// Compares categories fairly: what each earned beside what its channels and hours would have earned without it, how surely that can be
/// said, and where it can't be said at all.
/// </summary>
public static class FairComparison
{
    /// <summary>Of fewer posts nothing is told.</summary>
    public const int FewestPosts = 5;

    /// <summary>What is told at the corrected probability of at most this.</summary>
    public const double Level = 0.05;

    private const int FewestSpare = 10;

    /// <summary>Most posts that are left out, one after the other, since all would rest on them.</summary>
    private const int MostAlone = 8;

    /// <param name="rows">Deliveries whose figure is known; the first of the other factors is the channel.</param>
    /// <param name="merged">
    /// Coarser levels of the second factor, one after the other, for when there are too few posts for the finer ones: each maps a level as
    /// given to a coarser one.
    /// </param>
    /// <param name="seed">Of the dealing out.</param>
    /// <param name="withLevels">True: what channels and dayparts make of a delivery is told, too.</param>
    public static FairAnswer Of(FairRows rows, IReadOnlyList<Func<int, int>>? merged = null, int seed = 1, bool withLevels = false)
    {
        Run run = new(rows, merged ?? [], seed, withLevels);
        return run.Answer();
    }

    private sealed class Run(FairRows all, IReadOnlyList<Func<int, int>> merged, int seed, bool withLevels)
    {
        private readonly List<LevelAnswer> _levels = [];

        private readonly CategoryAnswer[] _answers = Raw(all);

        /// <summary>Posts that are left out, since a category would rest on them.</summary>
        private readonly HashSet<int> _alone = [];

        /// <summary>Categories of which nothing might be said without one of them.</summary>
        private readonly HashSet<int> _rested = [];
        private readonly List<PairAnswer> _pairs = [];
        private readonly double[] _expected = [.. Enumerable.Repeat(double.NaN, all.Length)];
        private readonly double[] _atAnyHour = [.. Enumerable.Repeat(double.NaN, all.Length)];

        public FairAnswer Answer()
        {
            bool[] chosen = [.. Enumerable.Repeat(true, all.Length)];
            Comparable.LeaveOut(all, chosen);
            int[] parts = Comparable.Parts(all, chosen);
            foreach (int part in parts.Where(p => p >= 0).Distinct().Order())
                Compare([.. chosen.Select((c, row) => c && parts[all.Category[row]] == part)]);
            return new(_answers, _pairs, _expected, _atAnyHour, _levels);
        }

        /// <summary>Compares the categories of rows that hang together.</summary>
        private void Compare(bool[] chosen)
        {
            while (true)
            {
                Comparable.LeaveOut(all, chosen);
                int[] rows = [.. Enumerable.Range(0, all.Length).Where(r => chosen[r])];
                int[] categories = [.. rows.Select(r => all.Category[r]).Distinct().Order()];
                if (categories.Length < 2)
                {
                    foreach (int category in categories)
                        Tell(category, Verdict.Apart);
                    return;
                }
                FairRows part = all.Where(r => chosen[r]);
                foreach (FairRows merging in Merged(part, rows))
                {
                    FairDesign design = new(merging);
                    if (Comparable.MakeFullRank(design, merging.Categories) is { } together)
                    {
                        // What can't be told from its hours is left out, and the rest compared without it.
                        for (int i = 0; i < together.Length; i++)
                        {
                            if (together[i])
                                continue;
                            Tell(categories[i], Verdict.Apart);
                            foreach (int row in rows)
                                chosen[row] &= all.Category[row] != categories[i];
                        }
                        break;
                    }
                    if (merging.Posts - design.Columns < FewestSpare)
                        continue;
                    if (Fit(merging, design, rows, categories) is not { } alone)
                        return;
                    // What can be said without it is said.
                    _alone.Add(alone);
                    _rested.UnionWith(categories);
                    foreach (int row in rows)
                        chosen[row] &= all.Post[row] != alone;
                    break;
                }
                if (rows.All(r => chosen[r]))
                {
                    foreach (int category in categories)
                        Tell(category, Verdict.TooFew);
                    return;
                }
            }
        }

        /// <summary>The rows, and with coarser and coarser hours, then without periods.</summary>
        private IEnumerable<FairRows> Merged(FairRows part, int[] rows)
        {
            yield return part;
            if (part.Others.Count < 2)
                yield break;
            foreach (Func<int, int> coarser in merged)
            {
                int[] levels = FairRows.Renumber([.. rows.Select(r => coarser(all.Others[1][r]))]);
                part = part with { Others = [part.Others[0], levels, .. part.Others.Skip(2)] };
                yield return part;
            }
            for (int others = part.Others.Count - 1; others > 0; others--)
                yield return part with
                {
                    Others = [.. part.Others.Take(others)],
                };
        }

        /// <returns>A post without which more can be said; null: there is none, and what can be said is.</returns>
        private int? Fit(FairRows part, FairDesign design, int[] rows, int[] categories)
        {
            FairModel model = FairModel.Fit(design);
            if (!model.IsConverged)
            {
                foreach (int category in categories)
                    Tell(category, Verdict.NoAnswer);
                return null;
            }
            double[] hours = Levels.SecondOf(model, part);
            for (int i = 0; i < rows.Length; i++)
                (_expected[rows[i]], _atAnyHour[rows[i]]) = (model.Means[i], model.Means[i] / hours[i]);

            double[] shares = new double[categories.Length];
            foreach (int category in part.Category)
                shares[category] += 1.0 / part.Length;
            List<(int First, int Second)> reversed = [.. Reversed(model, categories)];
            Estimate?[] estimates = ClusteredErrors.Of(
                model,
                [
                    .. Enumerable.Range(0, categories.Length).Select(c => Contrasts.AgainstMean(c, model, shares)),
                    .. reversed.Select(pair => Contrasts.Difference(pair.First, pair.Second, design.Columns)),
                ],
                out IReadOnlyDictionary<int, bool[]> restsOn
            );
            if (_alone.Count < MostAlone && Alone(restsOn, categories, part, rows) is { } alone)
                return alone;
            double mean = Math.Log(Enumerable.Range(0, categories.Length).Sum(c => shares[c] * Math.Exp(model.Beta[c])));
            RatioRange?[] ranges =
            [
                .. estimates
                    .Take(categories.Length)
                    .Select((e, c) => e is null ? null : RatioRange.Of(e with { Value = model.Beta[c] - mean })),
            ];
            double?[] probabilities = Test(part, categories, ranges);
            List<Circumstance>[] circumstances = Circumstances.Of(model, part, rows, all);
            for (int c = 0; c < categories.Length; c++)
            {
                RatioRange? range = ranges[c];
                int posts = Enumerable.Range(0, rows.Length).Where(i => part.Category[i] == c).Select(i => part.Post[i]).Distinct().Count();
                Verdict verdict =
                    _answers[categories[c]].Posts < FewestPosts ? Verdict.TooFew
                    : range is null || posts < FewestPosts ? Verdict.OnePost
                    : probabilities[c] is not (<= Level) || !range.Excludes(1) ? Verdict.NoClearDifference
                    : range.Value > 1 ? Verdict.More
                    : Verdict.Less;
                _answers[categories[c]] = _answers[categories[c]] with
                {
                    Adjusted = range,
                    Probability = probabilities[c],
                    Verdict = verdict,
                    Compared = part.Category.Count(x => x == c),
                    Without =
                    [
                        .. _alone.Where(p =>
                            Enumerable.Range(0, all.Length).Any(r => all.Post[r] == p && all.Category[r] == categories[c])
                        ),
                    ],
                    Circumstances = circumstances[c],
                };
            }
            if (withLevels)
                _levels.AddRange(Levels.Of(model, part, rows, all));
            foreach (((int first, int second), Estimate? estimate) in reversed.Zip(estimates.Skip(categories.Length)))
            {
                if (estimate is not null)
                    _pairs.Add(
                        new(
                            categories[first],
                            categories[second],
                            _answers[categories[first]].Raw!.Value / _answers[categories[second]].Raw!.Value,
                            RatioRange.Of(estimate)
                        )
                    );
            }
            return null;
        }

        /// <summary>The post on which most categories rest of which something might be told; of several the one with fewest
        /// deliveries.</summary>
        private int? Alone(IReadOnlyDictionary<int, bool[]> restsOn, int[] categories, FairRows part, int[] rows)
        {
            (int Post, int Categories, int Deliveries)[] found =
            [
                .. restsOn
                    .Select(r =>
                        (
                            r.Key,
                            Enumerable.Range(0, categories.Length).Count(c => r.Value[c] && _answers[categories[c]].Posts >= FewestPosts),
                            part.Post.Count(p => p == r.Key)
                        )
                    )
                    .Where(r => r.Item2 > 0)
                    .OrderByDescending(r => r.Item2)
                    .ThenBy(r => r.Item3)
                    .ThenBy(r => r.Key),
            ];
            return found.Length == 0 ? null : all.Post[rows[Array.IndexOf(part.Post, found[0].Post)]];
        }

        /// <summary>Pairs with posts enough whose order is another after adjusting.</summary>
        private IEnumerable<(int First, int Second)> Reversed(FairModel model, int[] categories)
        {
            for (int first = 0; first < categories.Length; first++)
            {
                for (int second = 0; second < categories.Length; second++)
                {
                    (CategoryAnswer one, CategoryAnswer other) = (_answers[categories[first]], _answers[categories[second]]);
                    if (
                        one.Posts >= FewestPosts
                        && other.Posts >= FewestPosts
                        && one.Raw < other.Raw
                        && model.Beta[first] > model.Beta[second]
                    )
                        yield return (first, second);
                }
            }
        }

        private double?[] Test(FairRows part, int[] categories, RatioRange?[] ranges)
        {
            double?[] probabilities = new double?[categories.Length];
            int[] tested =
            [
                .. Enumerable.Range(0, categories.Length).Where(c => ranges[c] is not null && _answers[categories[c]].Posts >= FewestPosts),
            ];
            FairDesign alone = new(part, withCategories: false);
            Comparable.MakeFullRank(alone, 0);
            FairModel without = FairModel.Fit(alone);
            if (tested.Length == 0 || !without.IsConverged)
                return probabilities;
            double[] dealt = CategoryTest.Of(without, seed);
            double[] corrected = CategoryTest.Holm([.. tested.Select(c => dealt[c])]);
            foreach ((int category, double probability) in tested.Zip(corrected))
                probabilities[category] = probability;
            return probabilities;
        }

        private void Tell(int category, Verdict verdict)
        {
            CategoryAnswer answer = _answers[category];
            // Too few posts is the plainer reason.
            _answers[category] = answer with
            {
                Verdict =
                    answer.Posts < FewestPosts ? Verdict.TooFew
                    : _rested.Contains(category) ? Verdict.OnePost
                    : verdict,
            };
        }
    }

    /// <summary>What the figures say as they stand, before any comparison.</summary>
    private static CategoryAnswer[] Raw(FairRows rows)
    {
        double[] earned = new double[rows.Categories],
            below = new double[rows.Categories];
        int[] posts = new int[rows.Categories],
            deliveries = new int[rows.Categories],
            last = [.. Enumerable.Repeat(-1, rows.Categories)];
        for (int row = 0; row < rows.Length; row++)
        {
            int category = rows.Category[row];
            earned[category] += rows.Counts[row];
            below[category] += rows.Exposure?[row] ?? 1;
            deliveries[category]++;
            if (last[category] != rows.Post[row])
                posts[category]++;
            last[category] = rows.Post[row];
        }
        double mean = earned.Sum() / below.Sum();
        return
        [
            .. Enumerable
                .Range(0, rows.Categories)
                .Select(c => new CategoryAnswer(
                    c,
                    posts[c],
                    deliveries[c],
                    0,
                    mean > 0 ? earned[c] / below[c] / mean : null,
                    null,
                    null,
                    posts[c] < FewestPosts ? Verdict.TooFew
                        : earned[c] == 0 ? Verdict.Nothing
                        : Verdict.Apart,
                    []
                )),
        ];
    }
}
