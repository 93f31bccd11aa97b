using AbleLark.Core.Media;
using AbleLark.Server.Problems;
using NetVips;

namespace AbleLark.Server.Media;

/// <summary>What a file is like, read from the file itself.</summary>
/// <param name="Kind">Media type.</param>
/// <param name="Width">Pixels as shown; 0 for a document.</param>
/// <param name="Height">Pixels as shown; 0 for a document.</param>
/// <param name="Turn">Degrees clockwise by which its pixels are turned to be shown.</param>
/// <param name="Frames">Pictures shown one after the other; 1: it stands still.</param>
/// <param name="Seconds">A video's length.</param>
/// <param name="Pages">A document's.</param>
public sealed record FileFacts(
    string Kind,
    int Width = 0,
    int Height = 0,
    int Turn = 0,
    int Frames = 1,
    double? Seconds = null,
    int? Pages = null,
    string? VideoCodec = null,
    string? AudioCodec = null
);

/// <summary>Looks into files that somebody sent: what they are by their content, whole or not, and what they are like.</summary>
public static class FileFactsReader
{
    /// <param name="ended">Nobody waits for it any longer.</param>
    /// <exception cref="ProblemException">It is nothing that is taken, damaged, or more than we open; in words.</exception>
    /// <exception cref="OperationCanceledException">It was ended.</exception>
    public static FileFacts Read(string path, string name, CancellationToken ended)
    {
        using WantedFile file = new(path, ended);
        byte[] head = new byte[FileKinds.HeadLength];
        int read = file.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        string kind = FileKinds.Of(head.AsSpan(0, read)) ?? throw NotTaken(name);
        if (file.Length > MediaLimits.MostBytesOf(kind))
            throw new ProblemException(
                StatusCodes.Status413PayloadTooLarge,
                $"“{name}” is larger than {MediaLimits.MostBytesOf(kind) / 1024 / 1024} MB. Make it smaller and try again."
            );
        if (FileKinds.IsPicture(kind))
            CheckEnd(file, kind, head.AsSpan(0, read), name);
        else if (FileKinds.IsTwo(kind, head.AsSpan(0, read), []))
            throw TwoKinds(name);
        return kind switch
        {
            FileKinds.Mp4 => Video(file, name),
            FileKinds.Pdf => new(FileKinds.Pdf, Pages: PdfPages.Count(file, name)),
            _ => PictureFacts(path, kind, name, ended),
        };
    }

    /// <summary>Refuses a picture that is cut off, and one that has more in it.</summary>
    private static void CheckEnd(FileStream file, string kind, ReadOnlySpan<byte> head, string name)
    {
        if (PictureEnd.Of(file, kind) is not { } end)
            throw CutOff(name);
        long more = file.Length - end;
        if (more > PictureEnd.Tolerated)
            throw ProblemException.BadInput(
                $"“{name}” holds {more / 1024:N0} kB behind the picture that don't belong to it. Save the picture anew and try again."
            );
        byte[] behind = new byte[more];
        file.Position = end;
        file.ReadExactly(behind);
        if (FileKinds.IsTwo(kind, head, behind))
            throw TwoKinds(name);
    }

    private static FileFacts Video(FileStream file, string name)
    {
        try
        {
            Mp4Facts facts = Mp4Reader.Read(file);
            return new(
                FileKinds.Mp4,
                facts.Width,
                facts.Height,
                facts.Turn,
                Seconds: facts.Seconds,
                VideoCodec: facts.VideoCodec,
                AudioCodec: facts.AudioCodec
            );
        }
        catch (FormatException e)
        {
            throw ProblemException.BadInput($"“{name}” {e.Message}. Save the video anew as MP4 and try again.");
        }
    }

    private static FileFacts PictureFacts(string path, string kind, string name, CancellationToken ended)
    {
        try
        {
            using Image image = VipsFiles.Open(path, kind);
            (int width, int height, int frames) = VipsFiles.SizeOf(image);
            if ((long)width * height > MediaLimits.MostPixels)
                throw ProblemException.BadInput(
                    $"“{name}” has {width:N0} × {height:N0} pixels, which is more than we open. Make it smaller and try again."
                );
            if ((long)width * height * frames > MediaLimits.MostPixelsInMotion && frames > 1)
                throw ProblemException.BadInput(
                    $"“{name}” has {frames:N0} pictures of {width:N0} × {height:N0}, more than we open. Make it shorter or smaller."
                );
            // The structure is whole; so must the pixels be.
            VipsFiles.DemandWhole(path, kind, ended);
            int orientation = image.Contains("orientation") ? (int)image.Get("orientation") : 1;
            int turn = orientation switch
            {
                3 or 4 => 180,
                6 or 7 => 90,
                5 or 8 => 270,
                _ => 0,
            };
            return turn is 90 or 270 ? new(kind, height, width, turn, frames) : new(kind, width, height, turn, frames);
        }
        catch (VipsException)
        {
            throw CutOff(name);
        }
    }

    private static ProblemException CutOff(string name) =>
        ProblemException.BadInput($"“{name}” is cut off or damaged. Take it from where it came from once more.");

    private static ProblemException TwoKinds(string name) =>
        ProblemException.BadInput($"“{name}” is two kinds of file at once, which nothing honest is. Save it anew and try again.");

    private static ProblemException NotTaken(string name) =>
        ProblemException.BadInput(
            $"“{name}” is nothing that networks take. Use PNG, JPEG, WebP or GIF; MP4 for a video, PDF for a document."
        );
}
