using System.Globalization;
using AbleLark.Bench;
using AbleLark.SendingBench;

// Sending measured whole: real server processes, real stand-in networks, real PostgreSQL, all on loopback, each run bounded in time.
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (args.Length < 4)
{
    Console.Error.WriteLine(
        "Usage: AbleLark.SendingBench POSTGRES-CONNECTION BUILDS-FOLDER NETWORKS-FOLDER RESTART-POSTGRES-SCRIPT [throughput] [silence] "
            + "[figures] [chaos]"
    );
    return 2;
}
LineUpPlace place = new(args[0], args[1], args[2], args[3]);
string[] wanted = args.Length > 4 ? args[4..] : ["throughput", "silence", "figures", "chaos"];
double loop = Timing.Median(Calibration.Run);
if (wanted.Contains("throughput"))
    await Throughput.RunAsync(place, loop);
if (wanted.Contains("silence"))
    await Silence.RunAsync(place, loop);
if (wanted.Contains("figures"))
    await FiguresBeside.RunAsync(place, loop);
if (wanted.Contains("chaos"))
    await Chaos.RunAsync(place, loop);
return 0;

internal static class Line
{
    public static void Print(string name, string value, double loop, string target, bool holds) =>
        Console.WriteLine($"{name} | {value} | calibration loop {loop:0.0} ms | – | {target} | {(holds ? "holds" : "falls short")}");
}
