using System.Diagnostics;
using AbleLark.Core.Comparison;
using AbleLark.Core.Results;
using AbleLark.Tests.Shared;

namespace AbleLark.Bench;

/// <summary>The fair comparison: how it fares where the truth is known, its time, and how that grows.</summary>
internal static class Comparing
{
    private const int Workspaces = 1_000;

    public static void Run(double loop)
    {
        Acceptance.Coverage coverage = Acceptance.Intervals(Workspaces, 11);
        Share("95 % intervals that hold the truth", coverage.All, coverage.All is >= 0.93 and <= 0.97, "93 to 97 %");
        foreach ((int size, double held) in MadeUpWorkspace.Sizes.Zip(coverage.BySize))
            Share($"of them, categories of {size} posts", held, held is >= 0.91 and <= 0.98, "91 to 98 %");
        Share("the same by plain clustered errors (must fail)", coverage.Plain, coverage.Plain < 0.93, "under 93 %");
        (double right, double said, int counted) = Acceptance.Reversal(Workspaces, 12);
        Share($"a turned order found, of {counted} workspaces", right, right >= 0.97, "at least 97 %");
        Share("and said", said, said >= 0.9, "at least 90 %");
        (double wrongly, double raw) = Acceptance.Level(Workspaces, 13);
        Share($"a level pair (raw ratio {raw:0.00}) said to be turned", wrongly, wrongly <= 0.05, "at most 5 %");
        (int level, double wrong) = Acceptance.SaidLevel(Workspaces / 4, 15);
        Share($"of {level} said to be level, truly not", wrong, wrong <= 0.05, "at most 5 %");
        double any = Acceptance.Nothing(Workspaces, 14);
        Share("any verdict where nothing differs", any, any <= 0.06, "at most 6 %");

        Speed(loop);
    }

    public static void Speed(double loop)
    {
        List<(double X, double Y)> points = [];
        foreach (int posts in new[] { 3_300, 6_700, 13_000, 27_000, 54_000, 67_000 })
        {
            FairRows rows = Year(posts);
            double took = Timing.Median(() => FairComparison.Of(rows, Daypart.Merged), warmMilliseconds: 500, runs: 3);
            points.Add((Math.Log(rows.Length), Math.Log(took)));
            double? target =
                rows.Length is > 17_000 and < 23_000 ? 200
                : rows.Length > 190_000 ? 2_000
                : null;
            if (target is not null)
                Figure.Print($"comparison with intervals and verdicts, {rows.Length} deliveries", took, "ms", loop, target.Value);
        }
        double meanX = points.Average(p => p.X),
            meanY = points.Average(p => p.Y);
        double slope = points.Sum(p => (p.X - meanX) * (p.Y - meanY)) / points.Sum(p => (p.X - meanX) * (p.X - meanX));
        Console.WriteLine(
            $"its growth with deliveries | {slope:0.00} | – | – | at most 1.15 | {(slope <= 1.15 ? "holds" : "falls short")}"
        );
    }

    /// <summary>A year of twelve categories: thirteen four-week periods, up to eight channels, ten dayparts.</summary>
    private static FairRows Year(int posts)
    {
        Random chance = new(7);
        int[] sizes = [.. Enumerable.Repeat(posts / 12, 12)];
        FairRows rows = MadeUpWorkspace.Make(chance, sizes, [.. sizes.Select(_ => 0.3 * MadeUpWorkspace.Normal(chance))], 0.4).Rows;
        return rows with { Others = [.. rows.Others, [.. rows.Post.Select(_ => chance.Next(13))]] };
    }

    private static void Share(string name, double value, bool holds, string target) =>
        Console.WriteLine($"{name} | {value:P1} | – | – | {target} | {(holds ? "holds" : "falls short")}");
}
