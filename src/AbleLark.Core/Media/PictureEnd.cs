using System.Buffers.Binary;

namespace AbleLark.Core.Media;

/// <summary>
/// Finds where a picture ends in its file, from the file's own structure: PNG (W3C PNG 3, chunks to IEND), JPEG (ITU-T T.81, markers to
/// EOI),
/// WebP (RFC 9649, the RIFF size), GIF (GIF89a, blocks to the trailer).
/// </summary>
public static class PictureEnd
{
    /// <summary>Bytes after the end that are let pass: some programs leave a few.</summary>
    public const int Tolerated = 64 * 1024;

    /// <summary>Offset just after the picture's last byte; null: it is cut off, or no such picture.</summary>
    /// <param name="file">A stream that can be sought; read from its beginning.</param>
    /// <param name="kind">Media type, as the content tells.</param>
    public static long? Of(Stream file, string kind)
    {
        file.Position = 0;
        try
        {
            long? end = kind switch
            {
                "image/png" => Png(file),
                "image/jpeg" => Jpeg(file),
                "image/webp" => WebP(file),
                "image/gif" => Gif(file),
                _ => null,
            };
            return end <= file.Length ? end : null;
        }
        catch (EndOfStreamException)
        {
            return null;
        }
    }

    private static long? Png(Stream file)
    {
        file.Position = 8;
        Span<byte> head = stackalloc byte[8];
        while (true)
        {
            file.ReadExactly(head);
            // Length, type, data, checksum.
            file.Position += BinaryPrimitives.ReadUInt32BigEndian(head) + 4L;
            if (head[4..].SequenceEqual("IEND"u8))
                return file.Position;
        }
    }

    private static long? Jpeg(Stream file)
    {
        file.Position = 2;
        Span<byte> size = stackalloc byte[2];
        // Not disposed of: that would close the file.
        BufferedStream buffered = new(file, 16 * 1024);
        while (true)
        {
            int marker = NextMarker(buffered);
            if (marker is 0xD9)
                return buffered.Position;
            // Restart markers, TEM and the start stand alone; everything else has a length. After a scan's head its data is skipped by
            // looking for the next marker.
            if (marker is (>= 0xD0 and <= 0xD8) or 0x01)
                continue;
            buffered.ReadExactly(size);
            buffered.Position += BinaryPrimitives.ReadUInt16BigEndian(size) - 2;
        }
    }

    /// <summary>The next marker: after 0xFF, neither a stuffed 0x00 nor another 0xFF.</summary>
    private static int NextMarker(Stream file)
    {
        while (true)
        {
            if (Next(file) != 0xFF)
                continue;
            int marker = Next(file);
            while (marker == 0xFF)
                marker = Next(file);
            if (marker != 0)
                return marker;
        }
    }

    private static long? WebP(Stream file)
    {
        Span<byte> head = stackalloc byte[8];
        file.ReadExactly(head);
        return 8 + (long)BinaryPrimitives.ReadUInt32LittleEndian(head[4..]);
    }

    private static long? Gif(Stream file)
    {
        Span<byte> screen = stackalloc byte[13];
        file.ReadExactly(screen);
        // Not disposed of: that would close the file.
        BufferedStream buffered = new(file, 16 * 1024);
        buffered.Position = 13 + TableBytes(screen[10]);
        Span<byte> image = stackalloc byte[9];
        while (true)
        {
            switch (Next(buffered))
            {
                case 0x3B:
                    return buffered.Position;
                case 0x21:
                    Next(buffered);
                    SkipBlocks(buffered);
                    break;
                case 0x2C:
                    buffered.ReadExactly(image);
                    // Colours, and the least code size before the data.
                    buffered.Position += TableBytes(image[8]) + 1;
                    SkipBlocks(buffered);
                    break;
                default:
                    return null;
            }
        }
    }

    private static int TableBytes(byte flags) => (flags & 0x80) == 0 ? 0 : 3 << ((flags & 0x07) + 1);

    private static void SkipBlocks(Stream file)
    {
        for (int length = Next(file); length != 0; length = Next(file))
            file.Position += length;
    }

    private static int Next(Stream file)
    {
        int value = file.ReadByte();
        return value >= 0 ? value : throw new EndOfStreamException();
    }
}
