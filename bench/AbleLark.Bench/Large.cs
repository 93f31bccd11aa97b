using System.Diagnostics;
using AbleLark.Core.LineUps;
using AbleLark.Core.Rotation;
using AbleLark.Core.Tests.Rotation;
using NodaTime;

namespace AbleLark.Bench;

/// <summary>The line-up where it is large: its time, its memory, how both grow, and the plain rotation of the tests beside it.</summary>
internal static class Large
{
    private const int LargePrefix = 8;

    public static void Run(string root, double loop)
    {
        LineUpInput whole = Usual.Workspace(root, slots: 500, bank: 20_000, channelCount: 50, categoryCount: 20, deliveries: 10_000);
        LineUpInput large = Usual.AsRead(whole);
        long before = GC.GetTotalMemory(forceFullCollection: true);
        Stopwatch watch = Stopwatch.StartNew();
        IReadOnlyList<LineUpPlace> places = LineUp.Project(large, Usual.Start, Usual.Start + Duration.FromDays(364));
        watch.Stop();
        double kept = (GC.GetTotalMemory(forceFullCollection: true) - before) / 1e6;
        double peak = Process.GetCurrentProcess().PeakWorkingSet64 / 1e6;
        GC.KeepAlive(places);
        Console.WriteLine(
            $"line-up, large workspace (50 channels, 20,000 posts, {places.Count} places in 52 weeks) | "
                + $"{watch.Elapsed.TotalMilliseconds:0} ms | calibration loop {loop:0.0} ms | {watch.Elapsed.TotalMilliseconds / loop:0} "
                + "× | – "
                + "| –"
        );
        Console.WriteLine(
            $"its memory: highest of the process | {peak:0} MB | kept by the result {kept:0} MB | – | under 500 MB | "
                + $"{(peak < 500 ? "holds" : "falls short")}"
        );
        Slope("occurrences", n => Usual.Workspace(root, slots: 60 * n), n => 60 * n);
        Slope("posts", n => Usual.Workspace(root, bank: 2000 * n), n => 2000 * n);
        BesidePlain(
            "120 posts, four weeks",
            Usual.Workspace(root, slots: 30, bank: 120, channelCount: 8, categoryCount: 6, deliveries: 300),
            Usual.Start + Duration.FromDays(28),
            runs: 9
        );
        BesidePlain("the large workspace's first places", whole, places.Skip(LargePrefix).First().Occurrence.At, runs: 3);
    }

    /// <summary>Least squares through five sizes, each double the one before, on log-log paper.</summary>
    private static void Slope(string of, Func<int, LineUpInput> workspace, Func<int, int> size)
    {
        List<(double X, double Y)> points = [];
        foreach (int n in new[] { 1, 2, 4, 8, 16 })
        {
            LineUpInput input = Usual.AsRead(workspace(n));
            points.Add(
                (
                    Math.Log(size(n)),
                    Math.Log(
                        Timing.Median(
                            () => LineUp.Project(input, Usual.Start, Usual.Start + Duration.FromDays(84)),
                            warmMilliseconds: 300,
                            runs: 5
                        )
                    )
                )
            );
        }
        (double mx, double my) = (points.Average(p => p.X), points.Average(p => p.Y));
        double slope = points.Sum(p => (p.X - mx) * (p.Y - my)) / points.Sum(p => (p.X - mx) * (p.X - mx));
        Console.WriteLine(
            $"growth of the line-up's time with {of}, five sizes up to 16 × | slope {slope:0.00} | straight growth 1.00 | – | at most "
                + $"1.15 | {(slope <= 1.15 ? "holds" : "falls short")}"
        );
    }

    /// <summary>The plain rotation looks everything up anew each time and would take weeks over the large case: beside it stand a small
    /// case whole, and the large one's first places.</summary>
    private static void BesidePlain(string what, LineUpInput whole, Instant until, int runs)
    {
        Stopwatch plain = Stopwatch.StartNew();
        var expected = new PlainRotation(whole, Usual.Start).Run(until);
        plain.Stop();
        LineUpInput input = Usual.AsRead(whole);
        double ours = Timing.Median(() => LineUp.Project(input, Usual.Start, until), warmMilliseconds: 500, runs);
        IReadOnlyList<LineUpPlace> places = LineUp.Project(input, Usual.Start, until);
        bool same =
            places.Count == expected.Count
            && places
                .Zip(expected)
                .All(p =>
                    p.First.Occurrence.Origin == p.Second.Origin
                    && p.First.Picks.All(k => Equals(p.Second.Gets[k.ChannelId]?.Post.Id, k.PostId))
                );
        double ratio = plain.Elapsed.TotalMilliseconds / ours;
        Console.WriteLine(
            $"line-up beside the plain rotation, {what} ({expected.Count} places), {(same ? "identical output" : "DIFFERENT OUTPUT")} | "
                + $"{ours:0.0} ms | plain rotation {plain.Elapsed.TotalMilliseconds:0} ms | {ratio:0} × as fast | at least 5 × | "
                + $"{(same && ratio >= 5 ? "holds" : "falls short")}"
        );
    }
}
