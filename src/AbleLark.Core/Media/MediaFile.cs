using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Media;

/// <summary>How a picture or a video stands.</summary>
public enum MediaShape
{
    Upright,

    /// <summary>As wide as high, or nearly.</summary>
    Square,
    Wide,
}

/// <summary>A picture, video or document of a workspace. Its bytes are kept once for each <see cref="Hash"/>.</summary>
public sealed class MediaFile
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<MediaFile> Id { get; init; }

    /// <summary>SHA-256 of the bytes, lower-case hexadecimal.</summary>
    public required string Hash { get; init; }

    public required string FileName { get; set; }

    /// <summary>Media type read from the file itself, such as image/png.</summary>
    public required string Kind { get; init; }

    public required long Bytes { get; init; }

    /// <summary>Pixels; 0 for a document.</summary>
    public required int Width { get; init; }

    /// <summary>Pixels; 0 for a document.</summary>
    public required int Height { get; init; }

    /// <summary>A video's length; null: it isn't one.</summary>
    public double? Seconds { get; init; }

    /// <summary>A document's pages; null: it isn't one.</summary>
    public int? Pages { get; init; }

    /// <summary>Degrees clockwise by which the file's pixels are turned to be shown: 0, 90, 180 or 270.</summary>
    public int Turn { get; init; }

    /// <summary>Pictures that the file shows one after the other; 1: it stands still, or is no picture.</summary>
    public int Frames { get; init; } = 1;

    /// <summary>How a video's pictures are written, such as avc1; null: it isn't one.</summary>
    public string? VideoCodec { get; init; }

    /// <summary>How its sound is written, such as mp4a; null: it has none.</summary>
    public string? AudioCodec { get; init; }

    /// <summary>Hash of the picture that stands for a video; null: none.</summary>
    public string? PosterHash { get; set; }

    public Instant AddedAt { get; init; }

    /// <summary>Taken out of the workspace's media then; null: it wasn't.</summary>
    public Instant? RemovedAt { get; set; }

    /// <summary>A difference of one side to the other of less than this share is none.</summary>
    public const double SquareWithin = 0.05;

    /// <summary>How it stands; null for a document.</summary>
    public MediaShape? Shape =>
        Width == 0 || Height == 0 ? null
        : Width > Height * (1 + SquareWithin) ? MediaShape.Wide
        : Height > Width * (1 + SquareWithin) ? MediaShape.Upright
        : MediaShape.Square;

    /// <summary>The picture in words.</summary>
    public string AltText { get; set; } = "";

    /// <summary>Share of the width, from the left, at which the point that matters most lies; null: in the middle.</summary>
    public double? FocusX { get; set; }

    /// <summary>Share of the height, from the top.</summary>
    public double? FocusY { get; set; }
}
