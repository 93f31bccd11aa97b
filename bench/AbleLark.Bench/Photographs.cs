using System.Diagnostics;
using AbleLark.Core.Content;
using AbleLark.Server;
using AbleLark.Server.Media;
using Microsoft.Extensions.Options;
using NetVips;

namespace AbleLark.Bench;

/// <summary>How long it takes to make of a large photograph what three networks get of it.</summary>
internal static class Photographs
{
    private const int Width = 6000;
    private const int Height = 4000;
    private const string Hash = "abcdef";
    private const int Runs = 5;
    private static readonly Crop[] Crops = [new(600, 400, 4800, 2400), new(1200, 100, 3040, 3800), new(0, 0, 4000, 4000)];

    public static async Task RunAsync(double loop)
    {
        string folder = Directory.CreateTempSubdirectory("able-lark-bench-pictures-").FullName;
        try
        {
            FolderStore files = new(Options.Create(new LarkSettings { DataFolder = folder }));
            using Renditions renditions = new(files);
            string source = files.Draft();
            using (Image sky = (Image.Gaussnoise(Width / 20, Height / 20, mean: 120, sigma: 40).Resize(20) + new double[] { 10, 0, 30 }))
            using (Image picture = sky.Cast(Enums.BandFormat.Uchar).Copy(interpretation: Enums.Interpretation.Srgb))
                picture.Jpegsave(source, q: 90);
            files.Keep(source, MediaStore.KeyOf(Hash));
            string path = files.Find(MediaStore.KeyOf(Hash))!;
            List<double> plain = [];
            List<double> ours = [];
            for (int i = 0; i <= Runs; i++)
            {
                plain.Add(Time(() => Plain(path, folder)));
                foreach (KeptFile old in files.List(Renditions.Folder).ToList())
                    files.Remove(old.Key);
                long start = Stopwatch.GetTimestamp();
                IReadOnlyList<Rendition>? made = await renditions.GetAllAsync(Hash, [.. Crops.Select(c => new Recipe(c))], default);
                ours.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
                if (made?.Count != Crops.Length)
                    throw new InvalidOperationException("The crops were not made.");
            }
            (double own, double reference) = (Median(ours), Median(plain));
            bool holds = own <= 1.5 * reference && own < 800;
            string beside = $"plain decode and three encodes by libvips {reference:0} ms, calibration loop {loop:0.0} ms";
            Console.WriteLine(
                $"a 24-megapixel JPEG to three crops | {own:0} ms | {beside} | {own / reference:0.00} × | at most 1.5 × and under 800 ms | "
                    + $"{(holds ? "holds" : "falls short")}"
            );
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    /// <summary>The least that has to be done: the picture is read once, and three are written.</summary>
    private static void Plain(string path, string folder)
    {
        using Image whole = Image.Jpegload(path).CopyMemory();
        foreach (Crop crop in Crops)
        {
            using Image part = whole.ExtractArea(crop.X, crop.Y, crop.Width, crop.Height);
            part.Jpegsave(Path.Combine(folder, "plain.jpg"), q: 88, keep: Enums.ForeignKeep.None);
        }
    }

    private static double Time(Action act)
    {
        long start = Stopwatch.GetTimestamp();
        act();
        return Stopwatch.GetElapsedTime(start).TotalMilliseconds;
    }

    /// <summary>Without the first run, which pays for what is loaded once.</summary>
    private static double Median(List<double> times) => times.Skip(1).Order().ElementAt(Runs / 2);
}
