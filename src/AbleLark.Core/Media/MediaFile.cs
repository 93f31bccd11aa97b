using AbleLark.Core.Workspaces;

namespace AbleLark.Core.Media;

/// <summary>A picture, video or document of a workspace. Its bytes are kept once for each <see cref="Hash"/>.</summary>
public sealed class MediaFile
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<MediaFile> Id { get; init; }

    /// <summary>SHA-256 of the bytes, lower-case hexadecimal.</summary>
    public required string Hash { get; init; }

    public required string FileName { get; init; }

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

    /// <summary>The picture in words.</summary>
    public string AltText { get; set; } = "";

    /// <summary>Share of the width, from the left, at which the point that matters most lies; null: in the middle.</summary>
    public double? FocusX { get; set; }

    /// <summary>Share of the height, from the top.</summary>
    public double? FocusY { get; set; }
}
