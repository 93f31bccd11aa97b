using System.Buffers.Binary;
using System.IO.Compression;
using System.Text;
using NetVips;
using SkiaSharp;

namespace AbleLark.Server.Tests.Media;

/// <summary>Files made for tests, right ones and wrong ones.</summary>
internal static class SampleFiles
{
    public const string Place = "Marram Island, 51.5 N";

    /// <summary>A picture of four quarters in four colours: red and green above, blue and white below.</summary>
    public static byte[] Quarters(SKEncodedImageFormat format, int width, int height)
    {
        using SKBitmap bitmap = new(width, height);
        using SKCanvas canvas = new(bitmap);
        SKColor[] colours = [SKColors.Red, SKColors.Lime, SKColors.Blue, SKColors.White];
        for (int i = 0; i < 4; i++)
        {
            using SKPaint paint = new() { Color = colours[i] };
            canvas.DrawRect(i % 2 * width / 2, i / 2 * height / 2, (width + 1) / 2, (height + 1) / 2, paint);
        }
        using SKData data = bitmap.Encode(format, 90);
        return data.ToArray();
    }

    /// <summary>The same as JPEG, with an orientation of EXIF, a place in EXIF, words in XMP and a profile.</summary>
    public static byte[] Photograph(int width, int height, int orientation)
    {
        using Image plain = Image.NewFromBuffer(Quarters(SKEncodedImageFormat.Png, width, height));
        using Image opaque = plain.ExtractBand(0, n: 3);
        using Image told = opaque.Mutate(m =>
        {
            m.Set(GValue.GIntType, "orientation", orientation);
            m.Set(GValue.GStrType, "exif-ifd0-ImageDescription", Place);
            m.Set(GValue.GStrType, "exif-ifd3-GPSLatitudeRef", "N");
            m.Set(GValue.BlobType, "xmp-data", Encoding.UTF8.GetBytes($"<xmpmeta>{Place}</xmpmeta>"));
        });
        return told.JpegsaveBuffer(q: 95, profile: "srgb");
    }

    /// <summary>Pictures shown one after the other, each of another grey.</summary>
    public static byte[] Moving(string suffix, int frames, int width, int height)
    {
        Image[] all =
        [
            .. Enumerable.Range(0, frames).Select(i => (Image.Black(width, height, bands: 3) + (40.0 * i)).Cast(Enums.BandFormat.Uchar)),
        ];
        using Image joined = Image.Arrayjoin(all, across: 1).Copy(interpretation: Enums.Interpretation.Srgb);
        using Image told = joined.Mutate(m =>
        {
            m.Set(GValue.GIntType, "page-height", height);
            m.Set(GValue.ArrayIntType, "delay", Enumerable.Repeat(120, frames).ToArray());
        });
        return told.WriteToBuffer(suffix);
    }

    public static byte[] Pdf(int pages)
    {
        using MemoryStream stream = new();
        using (SKDocument document = SKDocument.CreatePdf(stream))
        {
            for (int i = 0; i < pages; i++)
            {
                document.BeginPage(200, 300);
                document.EndPage();
            }
            document.Close();
        }
        return stream.ToArray();
    }

    /// <summary>The same, said to be locked.</summary>
    public static byte[] LockedPdf()
    {
        string text = Encoding.Latin1.GetString(Pdf(1));
        string blank = new('0', 64);
        return Encoding.Latin1.GetBytes(
            text.Replace(
                "trailer\n<<",
                $"trailer\n<</Encrypt <</Filter /Standard /V 1 /R 2 /O <{blank}> /U <{blank}> /P -4>> /ID [<{blank}> <{blank}>] ",
                StringComparison.Ordinal
            )
        );
    }

    /// <summary>A PDF whose index is a hundred kilobytes that unpack to a hundred megabytes.</summary>
    public static byte[] PdfBomb()
    {
        using MemoryStream packed = new();
        using (ZLibStream pack = new(packed, CompressionLevel.Fastest, leaveOpen: true))
        {
            byte[] nothing = new byte[1024 * 1024];
            for (int i = 0; i < 100; i++)
                pack.Write(nothing);
        }
        byte[] head = Encoding.ASCII.GetBytes(
            $"%PDF-1.5\n1 0 obj\n<</Type /XRef /Size 9 /W [1 2 1] /Root 2 0 R /Filter /FlateDecode /Length {packed.Length}>>\nstream\n"
        );
        return [.. head, .. packed.ToArray(), .. "\nendstream\nendobj\nstartxref\n9\n%%EOF\n"u8];
    }

    /// <summary>A PNG whose head says it is that large, and whose pixels are those of a small one.</summary>
    public static byte[] Claiming(int width, int height)
    {
        byte[] png = Quarters(SKEncodedImageFormat.Png, 16, 16);
        BinaryPrimitives.WriteInt32BigEndian(png.AsSpan(16), width);
        BinaryPrimitives.WriteInt32BigEndian(png.AsSpan(20), height);
        BinaryPrimitives.WriteUInt32BigEndian(png.AsSpan(29), Crc(png.AsSpan(12, 17)));
        return png;
    }

    /// <summary>Cyclic redundancy check of a PNG chunk (W3C PNG 3, annex D).</summary>
    private static uint Crc(ReadOnlySpan<byte> bytes)
    {
        uint crc = uint.MaxValue;
        foreach (byte b in bytes)
        {
            crc ^= b;
            for (int i = 0; i < 8; i++)
                crc = (crc & 1) == 1 ? (crc >> 1) ^ 0xEDB88320 : crc >> 1;
        }
        return ~crc;
    }
}
