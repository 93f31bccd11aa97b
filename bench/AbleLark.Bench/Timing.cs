using System.Diagnostics;

namespace AbleLark.Bench;

internal static class Timing
{
    /// <summary>Median milliseconds of nine runs, after a second that warms up: the server runs for weeks, its code is compiled in
    /// full.</summary>
    public static double Median(Action act, int warmMilliseconds = 1000, int runs = 9)
    {
        Stopwatch warm = Stopwatch.StartNew();
        while (warm.ElapsedMilliseconds < warmMilliseconds)
            act();
        double[] times = new double[runs];
        for (int i = 0; i < runs; i++)
        {
            long start = Stopwatch.GetTimestamp();
            act();
            times[i] = Stopwatch.GetElapsedTime(start).TotalMilliseconds;
        }
        Array.Sort(times);
        return times[runs / 2];
    }
}

/// <summary>Work whose amount never changes: hashing one megabyte forty times over a dictionary of 10,000 entries.</summary>
internal static class Calibration
{
    public static void Run()
    {
        Dictionary<int, ulong> kept = [];
        ulong hash = 14695981039346656037;
        for (int i = 0; i < 2_000_000; i++)
        {
            hash = (hash ^ (uint)i) * 1099511628211;
            if (i % 200 == 0)
                kept[i % 10_000] = hash;
        }
        if (kept.Count == 0)
            throw new InvalidOperationException("The loop was left out.");
    }
}

internal static class Figure
{
    /// <summary>One line: name, value, reference, ratio, target, and whether it holds.</summary>
    public static void Print(string name, double value, string unit, double reference, double target) =>
        Console.WriteLine(
            $"{name} | {value:0.0} {unit} | calibration loop {reference:0.0} ms | {value / reference:0.00} × | under {target:0} {unit} | "
                + $"{(value < target ? "holds" : "falls short")}"
        );
}
