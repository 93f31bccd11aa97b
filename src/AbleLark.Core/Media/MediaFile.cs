using AbleLark.Core.Workspaces;

namespace AbleLark.Core.Media;

/// <summary>A picture of a workspace. Its bytes are kept once for each <see cref="Hash"/>.</summary>
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

    /// <summary>Pixels.</summary>
    public required int Width { get; init; }

    /// <summary>Pixels.</summary>
    public required int Height { get; init; }

    public string AltText { get; set; } = "";
}
