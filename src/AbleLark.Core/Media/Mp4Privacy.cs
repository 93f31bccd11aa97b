using System.Buffers.Binary;

namespace AbleLark.Core.Media;

/// <summary>Finds what a video's file says beside its pictures and sound: notes, places, names of makers (ISO/IEC 14496-12, boxes udta,
/// meta and uuid). Filled with nothing, they leave everything else where it is.</summary>
public static class Mp4Privacy
{
    private const int MostBoxes = 20_000;

    /// <summary>Boxes that hold others, in which such notes lie.</summary>
    private static readonly string[] Holders = ["moov", "trak", "mdia", "minf", "stbl"];

    private static readonly string[] Notes = ["udta", "meta", "uuid"];

    /// <summary>Where the notes lie: from a box's type to its end. The type is to be written over with “free”, the rest with
    /// zeros.</summary>
    /// <param name="file">A video that <see cref="Mp4Reader"/> has read.</param>
    public static IReadOnlyList<(long Start, long End)> Ranges(Stream file)
    {
        List<(long, long)> found = [];
        int boxes = 0;
        Walk(0, file.Length);
        return found;

        void Walk(long from, long to)
        {
            byte[] head = new byte[16];
            for (long at = from; to - at >= 8 && ++boxes <= MostBoxes; )
            {
                file.Position = at;
                int read = file.ReadAtLeast(head, (int)Math.Min(16, to - at), throwOnEndOfStream: false);
                long length = BinaryPrimitives.ReadUInt32BigEndian(head);
                string type = System.Text.Encoding.Latin1.GetString(head, 4, 4);
                int own = length == 1 ? 16 : 8;
                if (length == 1 && read == 16)
                    length = (long)Math.Min(long.MaxValue, BinaryPrimitives.ReadUInt64BigEndian(head.AsSpan(8)));
                else if (length == 0)
                    length = to - at;
                if (length < own || length > to - at)
                    return;
                // The length of a long box lies behind its type, and stays.
                if (Notes.Contains(type) && own == 8)
                    found.Add((at + 4, at + length));
                else if (Holders.Contains(type))
                    Walk(at + own, at + length);
                at += length;
            }
        }
    }

    /// <summary>Fills the notes with nothing.</summary>
    /// <param name="file">A copy, to be written to.</param>
    public static void Clear(Stream file)
    {
        byte[] nothing = new byte[64 * 1024];
        foreach ((long start, long end) in Ranges(file))
        {
            file.Position = start;
            file.Write("free"u8);
            for (long left = end - file.Position; left > 0; left = end - file.Position)
                file.Write(nothing, 0, (int)Math.Min(left, nothing.Length));
        }
    }
}
