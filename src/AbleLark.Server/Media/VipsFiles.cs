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
    }

    /// <param name="eighth">Where the kind can be read at an eighth of its size, do so.</param>
    public static Image Open(string path, string kind, bool eighth, Enums.Access access = Enums.Access.Sequential) =>
        kind switch
        {
            FileKinds.Jpeg => Image.Jpegload(path, shrink: eighth ? 8 : 1, access: access, failOn: Enums.FailOn.Truncated),
            FileKinds.Png => Image.Pngload(path, access: access, failOn: Enums.FailOn.Truncated),
            FileKinds.WebP => Image.Webpload(path, n: -1, access: access, failOn: Enums.FailOn.Truncated),
            FileKinds.Gif => Image.Gifload(path, n: -1, access: access, failOn: Enums.FailOn.Truncated),
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "No picture."),
        };

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
