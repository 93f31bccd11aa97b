using System.Buffers.Binary;
using System.Text;

namespace AbleLark.Tests.Shared;

/// <summary>Builds small MP4 files, box by box (ISO/IEC 14496-12): right ones, and wrong ones.</summary>
internal static class Mp4File
{
    /// <summary>A whole file with one track of pictures, which show nothing.</summary>
    /// <param name="seconds">Its length.</param>
    /// <param name="sampleBytes">What its one sample says of its size.</param>
    /// <param name="notes">Text in a box of notes; null: no such box.</param>
    public static byte[] Of(int width, int height, double seconds, int turn = 0, int sampleBytes = 64, string? notes = null)
    {
        byte[] type = Box("ftyp", "isom\0\0\0\0isom"u8.ToArray());
        byte[] media = Box("mdat", new byte[64]);
        byte[] movie = Box(
            "moov",
            Box("mvhd", Head(0), Number(1000), Number((uint)(seconds * 1000)), new byte[80]),
            Box(
                "trak",
                Box(
                    "tkhd",
                    Head(7),
                    Number(1),
                    new byte[4],
                    Number((uint)(seconds * 1000)),
                    new byte[16],
                    Matrix(turn),
                    Fixed(width),
                    Fixed(height)
                ),
                Box(
                    "mdia",
                    Box("mdhd", Head(0), Number(1000), Number((uint)(seconds * 1000)), new byte[4]),
                    Box("hdlr", new byte[8], "vide"u8.ToArray(), new byte[13]),
                    Box(
                        "minf",
                        Box(
                            "stbl",
                            Box("stsd", new byte[4], Number(1), Entry(width, height)),
                            Box("stsz", new byte[4], Number(0), Number(1), Number((uint)sampleBytes)),
                            Box("stco", new byte[4], Number(1), Number((uint)(type.Length + 8)))
                        )
                    )
                )
            ),
            notes is null ? [] : Box("udta", Box("\u00a9xyz", Encoding.UTF8.GetBytes(notes)))
        );
        return [.. type, .. media, .. movie];
    }

    public static byte[] Box(string type, params byte[][] parts)
    {
        byte[] content = [.. parts.SelectMany(p => p)];
        return [.. Number((uint)(content.Length + 8)), .. Encoding.Latin1.GetBytes(type), .. content];
    }

    public static byte[] Number(uint value)
    {
        byte[] bytes = new byte[4];
        BinaryPrimitives.WriteUInt32BigEndian(bytes, value);
        return bytes;
    }

    /// <summary>Version, flags, and two dates.</summary>
    private static byte[] Head(uint flags) => [.. Number(flags), .. new byte[8]];

    private static byte[] Fixed(int pixels) => Number((uint)pixels << 16);

    private static byte[] Matrix(int turn)
    {
        (int a, int b) = turn switch
        {
            90 => (0, 1),
            180 => (-1, 0),
            270 => (0, -1),
            _ => (1, 0),
        };
        return [.. new[] { a << 16, b << 16, 0, -b << 16, a << 16, 0, 0, 0, 1 << 30 }.SelectMany(n => Number((uint)n))];
    }

    private static byte[] Entry(int width, int height)
    {
        byte[] entry = new byte[78];
        BinaryPrimitives.WriteUInt16BigEndian(entry.AsSpan(24), (ushort)width);
        BinaryPrimitives.WriteUInt16BigEndian(entry.AsSpan(26), (ushort)height);
        return Box("avc1", entry);
    }
}
