using System.Security.Cryptography;
using AbleLark.Core;
using AbleLark.Core.Media;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using SkiaSharp;

namespace AbleLark.Server.Media;

/// <summary>What the sender says of a file that isn't looked into: of a video its size in pixels and its length, of a document its
/// pages.</summary>
public sealed record StatedFacts(int? Width, int? Height, double? Seconds, int? Pages);

/// <summary>Keeps files named by their content, and a row of each for the workspace it belongs to.</summary>
public sealed class MediaStore(LarkDb db, IOptions<LarkSettings> settings)
{
    private string Folder => Path.Combine(settings.Value.DataFolder, "media");

    public string PathOf(MediaFile file) => Path.Combine(Folder, file.Hash[..2], file.Hash);

    /// <summary>The file's bytes; null when it is gone or can't be read.</summary>
    public async Task<byte[]?> TryReadAsync(MediaFile file, CancellationToken cancellation)
    {
        try
        {
            return await File.ReadAllBytesAsync(PathOf(file), cancellation);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>Reads a file to its end, checks it and keeps it; the caller saves. The same file twice is kept once.</summary>
    /// <param name="stated">What is said of a video or a document; null: only pictures are taken.</param>
    /// <exception cref="ProblemException">It is too large, or nothing that networks take.</exception>
    public async Task<MediaFile> AddAsync(
        Id<Workspace> workspace,
        string fileName,
        Stream bytes,
        CancellationToken cancellation,
        StatedFacts? stated = null
    )
    {
        string name = Path.GetFileName(fileName.Replace("\0", "", StringComparison.Ordinal));
        if (name.Length > 200)
            name = name[^200..];
        Directory.CreateDirectory(Folder);
        string draft = Path.Combine(Folder, Path.GetRandomFileName());
        try
        {
            (string hash, long length) = await CopyAsync(bytes, draft, name, cancellation);
            MediaFile? known = await db.Media.FirstOrDefaultAsync(
                m => m.WorkspaceId == workspace && m.Hash == hash && m.FileName == name,
                cancellation
            );
            if (known is not null)
                return known;
            MediaFile file = OtherKind(draft) is not { } kind
                ? Measure(workspace, name, hash, length, draft)
                : AsStated(workspace, name, hash, length, kind, stated ?? throw NotAPicture(name));
            await CheckRoomAsync(workspace, length, cancellation);
            string path = PathOf(file);
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            File.Move(draft, path, overwrite: true);
            db.Media.Add(file);
            return file;
        }
        finally
        {
            File.Delete(draft);
        }
    }

    private static async Task<(string Hash, long Length)> CopyAsync(Stream from, string path, string name, CancellationToken cancellation)
    {
        await using FileStream to = File.Create(path);
        using IncrementalHash hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        byte[] buffer = new byte[81920];
        long length = 0;
        int read;
        while ((read = await from.ReadAsync(buffer, cancellation)) > 0)
        {
            length += read;
            if (length > MediaLimits.MostBytes)
                throw new ProblemException(
                    StatusCodes.Status413PayloadTooLarge,
                    $"“{name}” is larger than {MediaLimits.MostMegabytes} MB. Make it smaller and try again."
                );
            hash.AppendData(buffer, 0, read);
            await to.WriteAsync(buffer.AsMemory(0, read), cancellation);
        }
        return (Convert.ToHexStringLower(hash.GetHashAndReset()), length);
    }

    /// <summary>Media type of a file that is no picture, by its first bytes: MP4 (ISO/IEC 14496-12, a box of type ftyp first) or PDF (ISO
    /// 32000, a header first).</summary>
    private static string? OtherKind(string path)
    {
        using FileStream file = File.OpenRead(path);
        Span<byte> head = stackalloc byte[8];
        if (file.ReadAtLeast(head, head.Length, throwOnEndOfStream: false) < head.Length)
            return null;
        return head[4..].SequenceEqual("ftyp"u8) ? "video/mp4"
            : head.StartsWith("%PDF-"u8) ? "application/pdf"
            : null;
    }

    private static MediaFile AsStated(Id<Workspace> workspace, string name, string hash, long length, string kind, StatedFacts stated)
    {
        bool isVideo = kind == "video/mp4";
        if (isVideo && stated is not { Width: > 0 and <= 16_384, Height: > 0 and <= 16_384, Seconds: > 0 and <= 86_400 })
            throw ProblemException.BadInput(
                $"“{name}” is a video: say how wide and high it is, in pixels, and how many seconds it lasts (width, height, seconds)."
            );
        if (!isVideo && stated is not { Pages: > 0 and <= 100_000 })
            throw ProblemException.BadInput($"“{name}” is a document: say how many pages it has (pages).");
        return new()
        {
            WorkspaceId = workspace,
            Id = Id<MediaFile>.New(),
            Hash = hash,
            FileName = name,
            Kind = kind,
            Bytes = length,
            Width = isVideo ? stated.Width!.Value : 0,
            Height = isVideo ? stated.Height!.Value : 0,
            Seconds = isVideo ? stated.Seconds : null,
            Pages = isVideo ? null : stated.Pages,
        };
    }

    private static MediaFile Measure(Id<Workspace> workspace, string name, string hash, long length, string path)
    {
        using SKCodec codec = SKCodec.Create(path) ?? throw NotAPicture(name);
        string kind = codec.EncodedFormat switch
        {
            SKEncodedImageFormat.Png => "image/png",
            SKEncodedImageFormat.Jpeg => "image/jpeg",
            SKEncodedImageFormat.Webp => "image/webp",
            SKEncodedImageFormat.Gif => "image/gif",
            _ => throw NotAPicture(name),
        };
        SKImageInfo info = codec.Info;
        if ((long)info.Width * info.Height > MediaLimits.MostPixels)
            throw ProblemException.BadInput($"“{name}” has {info.Width} × {info.Height} pixels. Make it smaller and try again.");
        CheckWhole(name, path, kind, codec);
        bool onItsSide =
            codec.EncodedOrigin
            is SKEncodedOrigin.LeftTop
                or SKEncodedOrigin.RightTop
                or SKEncodedOrigin.RightBottom
                or SKEncodedOrigin.LeftBottom;
        return new()
        {
            WorkspaceId = workspace,
            Id = Id<MediaFile>.New(),
            Hash = hash,
            FileName = name,
            Kind = kind,
            Bytes = length,
            Width = onItsSide ? info.Height : info.Width,
            Height = onItsSide ? info.Width : info.Height,
        };
    }

    /// <summary>Refuses a file that is cut off, and one that holds more than a picture.</summary>
    private static void CheckWhole(string name, string path, string kind, SKCodec codec)
    {
        using FileStream file = File.OpenRead(path);
        if (PictureEnd.Of(file, kind) is not { } end)
            throw CutOff(name);
        if (file.Length - end > PictureEnd.Tolerated)
            throw ProblemException.BadInput(
                $"“{name}” holds {(file.Length - end) / 1024:N0} kB behind the picture that don't belong to it. Save the picture anew "
                    + "and try again."
            );
        // The structure is whole; so must the pixels be. Read at an eighth where the format can, so that it takes little memory.
        SKSizeI small = codec.GetScaledDimensions(0.125f);
        SKImageInfo info = new(small.Width, small.Height, SKColorType.Rgba8888, SKAlphaType.Premul);
        using SKBitmap pixels = new(info);
        if (codec.GetPixels(info, pixels.GetPixels()) != SKCodecResult.Success)
            throw CutOff(name);
    }

    private static ProblemException CutOff(string name) =>
        ProblemException.BadInput($"“{name}” is cut off or damaged. Take it from where it came from once more.");

    private async Task CheckRoomAsync(Id<Workspace> workspace, long more, CancellationToken cancellation)
    {
        long there = await db
            .Media.Where(m => m.WorkspaceId == workspace)
            .Select(m => new { m.Hash, m.Bytes })
            .Distinct()
            .SumAsync(m => m.Bytes, cancellation);
        if (there + more > settings.Value.MediaGigabytes * 1024L * 1024 * 1024)
            throw ProblemException.BadInput(
                $"The workspace holds {settings.Value.MediaGigabytes} GB of pictures, which is the most. Take out what is no longer used."
            );
    }

    private static ProblemException NotAPicture(string name) =>
        ProblemException.BadInput(
            $"“{name}” is nothing that networks take. Use PNG, JPEG, WebP or GIF; MP4 for a video, PDF for a document."
        );
}
