using System.Globalization;
using AbleLark.Core.Media;
using NetVips;

namespace AbleLark.Server.Media;

/// <summary>Opens pictures by libvips: each kind by its own reader and no other, so that no file chooses the code that reads it.</summary>
internal static class VipsFiles
{
    static VipsFiles()
    {
        // Readers that are not meant for files of strangers are off, and nothing of a file is kept after its use.
        NetVips.NetVips.BlockUntrusted = true;
        Cache.Max = 0;
        // What it minds about a file is told to whoever sent it.
        Log.SetLogHandler("VIPS", Enums.LogLevelFlags.Warning, (_, _, _) => { });
    }

    /// <summary>Reads all pixels, line by line, so that it takes little memory.</summary>
    /// <param name="ended">Nobody waits for it any longer.</param>
    /// <exception cref="VipsException">Some of them are not there.</exception>
    /// <exception cref="OperationCanceledException">It was ended.</exception>
    public static void DemandWhole(string path, string kind, CancellationToken ended)
    {
        if (kind != FileKinds.Jpeg)
        {
            using Image pixels = Open(path, kind);
            ReadAll(pixels, ended);
            return;
        }
        try
        {
            using Image pixels = Image.Jpegload(path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Warning);
            ReadAll(pixels, ended);
        }
        // Its reader only warns of lacking pixels, and of many harmless things besides.
        catch (VipsException e) when (!e.Message.Contains("premature end", StringComparison.OrdinalIgnoreCase))
        {
            using Image pixels = Open(path, kind);
            ReadAll(pixels, ended);
        }
    }

    private static void ReadAll(Image pixels, CancellationToken ended)
    {
        ended.ThrowIfCancellationRequested();
        pixels.SetProgress(new Progress<int>(_ => { }), ended);
        try
        {
            pixels.Avg();
        }
        catch (VipsException) when (ended.IsCancellationRequested)
        {
            throw new OperationCanceledException(ended);
        }
    }

    /// <summary>To be read once, from above to below.</summary>
    public static Image Open(string path, string kind) =>
        kind switch
        {
            FileKinds.Jpeg => Image.Jpegload(path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Truncated),
            FileKinds.Png => Image.Pngload(path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Truncated),
            FileKinds.WebP => Image.Webpload(path, n: -1, access: Enums.Access.Sequential, failOn: Enums.FailOn.Truncated),
            FileKinds.Gif => Image.Gifload(path, n: -1, access: Enums.Access.Sequential, failOn: Enums.FailOn.Truncated),
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "No picture."),
        };

    /// <summary>The local date on which it was taken, as its camera wrote it; null: none did.</summary>
    public static DateOnly? TakenOn(string path, string kind)
    {
        const string field = "exif-ifd2-DateTimeOriginal";
        using Image image = Open(path, kind);
        // “2026:03:25 09:30:00 (2026:03:25 09:30:00, ASCII, 20 components, 20 bytes)”, as EXIF 2.3 writes it and libvips shows it.
        return
            image.Contains(field)
            && image.Get(field) is string { Length: >= 10 } text
            && DateOnly.TryParseExact(text[..10], "yyyy:MM:dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out DateOnly date)
            ? date
            : null;
    }

    /// <summary>Size of one picture, and how many there are.</summary>
    public static (int Width, int Height, int Frames) SizeOf(Image image)
    {
        int frames = image.Contains("n-pages") ? (int)image.Get("n-pages") : 1;
        return (
            image.Width,
            frames > 1 && image.Contains("page-height") ? (int)image.Get("page-height") : image.Height / Math.Max(1, frames),
            Math.Max(1, frames)
        );
    }
}
