namespace AbleLark.Core.Media;

/// <summary>Tells what a file is by its first bytes, never by its name.</summary>
public static class FileKinds
{
    public const string Jpeg = "image/jpeg";
    public const string Png = "image/png";
    public const string WebP = "image/webp";
    public const string Gif = "image/gif";
    public const string Mp4 = "video/mp4";
    public const string Pdf = "application/pdf";

    /// <summary>Bytes that <see cref="Of"/> looks at.</summary>
    public const int HeadLength = 1024;

    public static bool IsPicture(string kind) => kind.StartsWith("image/", StringComparison.Ordinal);

    /// <summary>Media type; null: nothing that is taken. PNG by W3C PNG 3, JPEG by ITU-T T.81, WebP by RFC 9649, GIF by GIF89a, MP4 by
    /// ISO/IEC
    /// 14496-12 (a box of type ftyp first), PDF by ISO 32000 (a header first).</summary>
    /// <param name="head">The beginning of the file.</param>
    public static string? Of(ReadOnlySpan<byte> head) =>
        head.StartsWith(PngSignature) ? Png
        : head.StartsWith<byte>([0xFF, 0xD8, 0xFF]) ? Jpeg
        : head.StartsWith("RIFF"u8) && head.Length >= 12 && head[8..].StartsWith("WEBP"u8) ? WebP
        : head.StartsWith("GIF87a"u8) || head.StartsWith("GIF89a"u8) ? Gif
        : head.Length >= 8 && head[4..].StartsWith("ftyp"u8) ? Mp4
        : head.StartsWith("%PDF-"u8) ? Pdf
        : null;

    /// <summary>True when a file of that kind is another kind too: readers of PDF take a header anywhere in the first bytes, and an archive
    /// is known by its end.</summary>
    /// <param name="head">The beginning of the file.</param>
    /// <param name="behind">What follows after the end of what it is; empty: nothing.</param>
    public static bool IsTwo(string kind, ReadOnlySpan<byte> head, ReadOnlySpan<byte> behind) =>
        (kind != Pdf && head.IndexOf("%PDF-"u8) >= 0)
        || behind.IndexOf("PK\u0003\u0004"u8) >= 0
        || behind.IndexOf("%PDF-"u8) >= 0
        || behind.IndexOf("<script"u8) >= 0
        || Of(behind) is not null;

    private static ReadOnlySpan<byte> PngSignature => [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A];
}
