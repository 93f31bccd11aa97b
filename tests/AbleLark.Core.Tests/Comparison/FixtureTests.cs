using System.Globalization;
using System.Text.Json;
using AbleLark.Core.Comparison;

namespace AbleLark.Core.Tests.Comparison;

/// <summary>
/// Against two independent programs: `expected.json` was worked out in Python (numpy) by matrices for each post and in R by full n × n
/// matrices with `clubSandwich` 0.5.8, which agree within 1e-8; versions are in the file.
/// </summary>
public sealed class FixtureTests
{
    private const double SixDigits = 1e-6;

    private static readonly string Folder = Path.Combine(Repository.Root, "tests/AbleLark.Core.Tests/Comparison/Files");
    private static readonly JsonElement Expected = JsonDocument.Parse(File.ReadAllText(Path.Combine(Folder, "expected.json"))).RootElement;

    [Theory]
    [InlineData("quasiPoisson", false, 0.0, 0.0)]
    [InlineData("countsGiven", false, 0.15, 0.1)]
    [InlineData("counts", false, null, null)]
    [InlineData("rateByReach", true, null, null)]
    public void Effects_errors_and_ratios_are_those_of_the_other_programs(string key, bool byReach, double? alpha, double? tauSquared)
    {
        JsonElement expected = Expected.GetProperty(key),
            ratio = expected.GetProperty("ratio");
        FairDesign design = new(Fixture(byReach));
        FairModel model = FairModel.Fit(design, alpha is null ? null : new(alpha.Value, tauSquared!.Value), rounds: 100);

        Assert.True(model.IsConverged);
        Close(expected.GetProperty("alpha").GetDouble(), model.Spread.Alpha);
        Close(expected.GetProperty("tau2").GetDouble(), model.Spread.TauSquared);
        Close(Numbers(expected, "beta"), model.Beta);
        Estimate?[] own = ClusteredErrors.Of(model, [.. Enumerable.Range(0, 8).Select(c => Unit(c, 8))]);
        Close(Numbers(expected, "cr3"), own.Select(e => e!.Error));
        Close(Numbers(expected, "cr3Df"), own.Select(e => e!.Freedom));

        double[] shares = Numbers(ratio, "share");
        double sum = shares.Select((f, c) => f * Math.Exp(model.Beta[c])).Sum();
        Estimate?[] against = ClusteredErrors.Of(
            model,
            [
                .. Enumerable
                    .Range(0, 3)
                    .Select(k =>
                        Enumerable
                            .Range(0, 8)
                            .Select(c => (c == k ? 1 : 0) - (c < 3 ? shares[c] * Math.Exp(model.Beta[c]) / sum : 0))
                            .ToArray()
                    ),
            ]
        );
        Close(Numbers(ratio, "cr3"), against.Select(e => e!.Error));
        Close(Numbers(ratio, "cr3Df"), against.Select(e => e!.Freedom));
    }

    [Theory]
    [InlineData("counts", false)]
    [InlineData("rateByReach", true)]
    public void The_comparison_tells_the_same_ratios_with_the_same_intervals(string key, bool byReach)
    {
        JsonElement ratio = Expected.GetProperty(key).GetProperty("ratio");
        FairAnswer answer = FairComparison.Of(Fixture(byReach));
        Close(Numbers(ratio, "ratio"), answer.Categories.Select(c => c.Adjusted!.Value));
        Close(Numbers(ratio, "low"), answer.Categories.Select(c => c.Adjusted!.Low));
        Close(Numbers(ratio, "high"), answer.Categories.Select(c => c.Adjusted!.High));
        Assert.Equal([9, 6, 5], answer.Categories.Select(c => c.Posts));
    }

    /// <summary>Worked out by hand: one category, posts of one delivery: CR3 = √Σε² / (m − 1), m − 1 degrees of freedom.</summary>
    [Fact]
    public void Posts_of_one_delivery_have_the_error_known_by_hand()
    {
        JsonElement expected = Expected.GetProperty("balanced");
        double[] counts = Numbers(expected, "engagements");
        FairRows rows = new(counts, null, [.. Enumerable.Range(0, counts.Length)], new int[counts.Length], []);
        Estimate error = ClusteredErrors.Of(
            FairModel.Fit(new(rows), new(0, 0)),
            [
                [1],
            ]
        )[0]!;
        Close(expected.GetProperty("cr3").GetDouble(), error.Error);
        Close(counts.Length - 1, error.Freedom);
        Close(Math.Log(counts.Average()), error.Value);
    }

    /// <summary>
    /// Admissions at Berkeley in 1973 (Bickel, Hammel, O'Connell 1975, Science 187; R's `UCBAdmissions`): by department, women did no
    /// worse.
    /// </summary>
    [Fact]
    public void Women_and_men_at_Berkeley_are_level_once_the_departments_are_told_apart()
    {
        string[][] lines = [.. File.ReadLines(Path.Combine(Folder, "ucb-1973.csv")).Skip(1).Select(l => l.Split(','))];
        FairRows rows = new(
            [.. lines.Select(l => Number(l[2]))],
            [.. lines.Select(l => Number(l[3]))],
            [.. Enumerable.Range(0, lines.Length)],
            [.. lines.Select(l => l[0] == "Female" ? 0 : 1)],
            [
                [.. lines.Select(l => l[1][0] - 'A')],
            ]
        );
        FairModel model = FairModel.Fit(new(rows), new(0, 0));
        Assert.Equal(1.06, Math.Exp(model.Beta[0] - model.Beta[1]), 0.005);
        CategoryAnswer[] raw = [.. FairComparison.Of(rows).Categories];
        Assert.Equal(0.68, raw[0].Raw!.Value / raw[1].Raw!.Value, 0.005);
    }

    /// <summary>NIST Statistical Reference Datasets, Norris (linear regression, lower difficulty); data and values from memory.</summary>
    [Fact]
    public void The_equations_are_solved_as_certified_for_Norris()
    {
        double[] y = [0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8, 339.3, 448.9, 10.8];
        double[] x = [0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6, 775.5, 666.9, 338.0, 447.5, 11.6];
        double[] moreY =
        [
            557.7,
            228.3,
            998.0,
            888.8,
            119.6,
            0.3,
            0.6,
            557.6,
            339.3,
            888.0,
            998.5,
            778.9,
            10.2,
            117.6,
            228.9,
            668.4,
            449.2,
            0.2,
        ];
        double[] moreX =
        [
            556.0,
            228.1,
            995.8,
            887.6,
            120.2,
            0.3,
            0.3,
            556.8,
            339.1,
            887.2,
            999.0,
            779.0,
            11.1,
            118.3,
            229.2,
            669.1,
            448.9,
            0.5,
        ];
        double[] found = LeastSquares([.. x.Concat(moreX).Select(v => new[] { 1, v })], [.. y, .. moreY]);
        Assert.Equal(-0.262323073774029, found[0], 1e-9);
        Assert.Equal(1.00211681802045, found[1], 1e-11);
    }

    /// <summary>NIST Statistical Reference Datasets, Longley (higher difficulty); data and values from memory.</summary>
    [Fact]
    public void The_equations_are_solved_as_certified_for_Longley()
    {
        double[][] data =
        [
            [60323, 83.0, 234289, 2356, 1590, 107608, 1947],
            [61122, 88.5, 259426, 2325, 1456, 108632, 1948],
            [60171, 88.2, 258054, 3682, 1616, 109773, 1949],
            [61187, 89.5, 284599, 3351, 1650, 110929, 1950],
            [63221, 96.2, 328975, 2099, 3099, 112075, 1951],
            [63639, 98.1, 346999, 1932, 3594, 113270, 1952],
            [64989, 99.0, 365385, 1870, 3547, 115094, 1953],
            [63761, 100.0, 363112, 3578, 3350, 116219, 1954],
            [66019, 101.2, 397469, 2904, 3048, 117388, 1955],
            [67857, 104.6, 419180, 2822, 2857, 118734, 1956],
            [68169, 108.4, 442769, 2936, 2798, 120445, 1957],
            [66513, 110.8, 444546, 4681, 2637, 121950, 1958],
            [68655, 112.6, 482704, 3813, 2552, 123366, 1959],
            [69564, 114.2, 502601, 3931, 2514, 125368, 1960],
            [69331, 115.7, 518173, 4806, 2572, 127852, 1961],
            [70551, 116.9, 554894, 4007, 2827, 130081, 1962],
        ];
        double[] certified =
        [
            -3482258.63459582,
            15.0618722713733,
            -0.358191792925910e-01,
            -2.02022980381683,
            -1.03322686717359,
            -0.511041056535807e-01,
            1829.15146461355,
        ];
        double[] found = LeastSquares([.. data.Select(d => new[] { 1.0 }.Concat(d.Skip(1)).ToArray())], [.. data.Select(d => d[0])]);
        foreach ((double expected, double value) in certified.Zip(found))
            Assert.Equal(1, value / expected, 1e-6);
    }

    /// <summary>`reference.json`: Holm's correction by statsmodels, permutations by scipy; written by `reference.py`, versions in
    /// it.</summary>
    [Fact]
    public void Corrections_and_permutations_are_those_of_other_programs()
    {
        JsonElement reference = JsonDocument.Parse(File.ReadAllText(Path.Combine(Folder, "reference.json"))).RootElement;
        foreach (JsonElement holm in reference.GetProperty("holm").EnumerateArray())
            Close(Numbers(holm, "corrected"), CategoryTest.Holm(Numbers(holm, "given")));
        foreach (JsonElement exact in reference.GetProperty("permutation").EnumerateArray())
        {
            // All ways there, some of them here: within four standard errors of the share.
            double p = exact.GetProperty("p").GetDouble();
            double dealt = CategoryTest.Dealt([Numbers(exact, "a")], Numbers(exact, "z"), seed: 1)[0];
            Assert.Equal(p, dealt, 4 * Math.Sqrt((p * (1 - p)) / CategoryTest.Deals) + (1.0 / CategoryTest.Deals));
        }
    }

    private static double[] LeastSquares(double[][] x, double[] y)
    {
        var matrix = MathNet.Numerics.LinearAlgebra.Double.DenseMatrix.OfRowArrays(x);
        var right = MathNet.Numerics.LinearAlgebra.Double.DenseVector.OfArray(y);
        return [.. NormalEquations.Solve(matrix.TransposeThisAndMultiply(matrix), matrix.TransposeThisAndMultiply(right))];
    }

    private static FairRows Fixture(bool byReach)
    {
        string[][] lines = [.. File.ReadLines(Path.Combine(Folder, "deliveries.csv")).Skip(1).Select(l => l.Split(',')).OrderBy(l => l[1])];
        return new(
            [.. lines.Select(l => Number(l[5]))],
            byReach ? [.. lines.Select(l => Number(l[6]))] : null,
            FairRows.Renumber([.. lines.Select(l => int.Parse(l[1][1..], CultureInfo.InvariantCulture))]),
            Levels(2, "field", "people", "offer"),
            [Levels(3, "large", "middle", "small"), Levels(4, "weekday-morning", "weekday-evening", "weekend-morning", "weekend-evening")]
        );

        int[] Levels(int place, params string[] levels) => [.. lines.Select(l => Array.IndexOf(levels, l[place]))];
    }

    private static double[] Unit(int place, int length) => [.. Enumerable.Range(0, length).Select(i => i == place ? 1.0 : 0)];

    private static double[] Numbers(JsonElement element, string name) =>
        [.. element.GetProperty(name).EnumerateArray().Select(n => n.GetDouble())];

    private static double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);

    private static void Close(double expected, double actual) =>
        Assert.Equal(expected, actual, SixDigits * Math.Max(1, Math.Abs(expected)));

    private static void Close(IEnumerable<double> expected, IEnumerable<double> actual)
    {
        double[] values = [.. actual];
        Assert.Equal(expected.Count(), values.Length);
        foreach ((double one, double other) in expected.Zip(values))
            Close(one, other);
    }
}
