using System.Text;

namespace AbleLark.Sheets;

/// <summary>Finds out in which encoding a text was written, and reads it.</summary>
internal static class TextEncodings
{
    public const string Utf8 = "UTF-8";
    public const string Utf16 = "UTF-16";
    public const string Utf16Big = "UTF-16, big end first";
    public const string Windows = "Windows-1252";

    private static readonly UTF8Encoding Strict = new(false, throwOnInvalidBytes: true);
    private static readonly Encoding Western = CodePagesEncodingProvider.Instance.GetEncoding(1252)!;

    /// <summary>Share of a text in UTF-16 in which one of two bytes is nought, for most scripts' delimiters and line ends alone.</summary>
    private const double ShareOfNoughts = 0.05;

    /// <summary>The same of a text of plain letters alone.</summary>
    private const double ShareOfNoughtsInPlain = 0.9;

    /// <param name="name">Null: recognised.</param>
    /// <returns>The text, its encoding's name, and lines (from 1) that are not in it and were read as Windows-1252.</returns>
    /// <exception cref="SheetException">It is no text.</exception>
    public static (string Text, string Name, IReadOnlyList<int> Others) Read(ReadOnlySpan<byte> bytes, string? name)
    {
        string found = name ?? Recognise(bytes);
        (string text, IReadOnlyList<int> others) = found switch
        {
            Utf16 => (Utf16Text(bytes, bigEndian: false), []),
            Utf16Big => (Utf16Text(bytes, bigEndian: true), []),
            Windows => (Western.GetString(bytes), []),
            Utf8 => Utf8Text(bytes, lenient: name is null),
            _ => throw new SheetException($"There is no encoding “{found}” here. There are: {string.Join(", ", TextSheets.Encodings)}."),
        };
        return IsRubbish(text) ? throw NoText() : (text, found, others);
    }

    /// <summary>Share of a text that may be characters which nobody types.</summary>
    private const double ShareOfRubbish = 0.01;

    private static SheetException NoText() =>
        new("This is no sheet: it holds bytes that no text has. Save it as CSV or as an .xlsx workbook, and choose that file.");

    private static bool IsRubbish(string text)
    {
        int rubbish = 0;
        foreach (char c in text)
        {
            if (c == '\0')
                return true;
            if (
                (c < ' ' && c is not ('\t' or '\n' or '\r'))
                || c is '\uFFFD' or (>= '\uFFFE' and <= '\uFFFF') or (>= '\uE000' and < '\uF900')
            )
                rubbish++;
        }
        // One stray character is somebody's slip.
        return rubbish > Math.Max(1, ShareOfRubbish * text.Length);
    }

    private static string Recognise(ReadOnlySpan<byte> bytes)
    {
        if (bytes.StartsWith<byte>([0xFF, 0xFE]))
            return Utf16;
        if (bytes.StartsWith<byte>([0xFE, 0xFF]))
            return Utf16Big;
        ReadOnlySpan<byte> sample = bytes[..Math.Min(bytes.Length, 64 * 1024)];
        (int even, int odd) = (0, 0);
        for (int i = 0; i < sample.Length; i++)
        {
            if (sample[i] == 0)
                _ = i % 2 == 0 ? even++ : odd++;
        }
        if (even + odd > 0)
        {
            double share = 2.0 * Math.Max(even, odd) / sample.Length;
            // Plain letters in UTF-16 have a nought each; others have letters beyond the plain ones instead.
            bool isPlain = !sample.ContainsAnyExceptInRange((byte)0, (byte)127);
            if (share < (isPlain ? ShareOfNoughtsInPlain : ShareOfNoughts) || Math.Min(even, odd) * 20 > Math.Max(even, odd))
                throw NoText();
            return odd > even ? Utf16 : Utf16Big;
        }
        return Strict.IsValid(bytes) || HasUtf8Letters(bytes) ? Utf8 : Windows;
    }

    /// <summary>True when whole letters of several bytes are in it: a text in UTF-8, if perhaps not all of it.</summary>
    private static bool HasUtf8Letters(ReadOnlySpan<byte> bytes)
    {
        while (!bytes.IsEmpty)
        {
            int end = bytes.IndexOf((byte)'\n');
            ReadOnlySpan<byte> line = end < 0 ? bytes : bytes[..end];
            if (line.ContainsAnyExceptInRange((byte)0, (byte)127) && Strict.IsValid(line))
                return true;
            bytes = end < 0 ? [] : bytes[(end + 1)..];
        }
        return false;
    }

    private static string Utf16Text(ReadOnlySpan<byte> bytes, bool bigEndian)
    {
        if (bytes.Length % 2 != 0)
            throw new SheetException("The text in UTF-16 ends in half a letter: the file isn't whole. Save it once more.");
        try
        {
            return new UnicodeEncoding(bigEndian, byteOrderMark: false, throwOnInvalidBytes: true).GetString(bytes).TrimStart('\uFEFF');
        }
        catch (DecoderFallbackException)
        {
            throw NoText();
        }
    }

    /// <summary>Line by line where it isn't UTF-8 throughout, so that one line from elsewhere spoils no other.</summary>
    private static (string, IReadOnlyList<int>) Utf8Text(ReadOnlySpan<byte> bytes, bool lenient)
    {
        if (bytes.StartsWith<byte>([0xEF, 0xBB, 0xBF]))
            bytes = bytes[3..];
        if (Strict.IsValid(bytes))
            return (Strict.GetString(bytes), []);
        StringBuilder text = new();
        List<int> others = [];
        for (int number = 1; !bytes.IsEmpty; number++)
        {
            int end = bytes.IndexOf((byte)'\n');
            ReadOnlySpan<byte> line = end < 0 ? bytes : bytes[..(end + 1)];
            if (Strict.IsValid(line))
                text.Append(Strict.GetString(line));
            else
            {
                text.Append((lenient ? Western : Encoding.UTF8).GetString(line));
                others.Add(number);
            }
            bytes = end < 0 ? [] : bytes[(end + 1)..];
        }
        return (text.ToString(), others);
    }

    extension(Encoding encoding)
    {
        private bool IsValid(ReadOnlySpan<byte> bytes)
        {
            try
            {
                encoding.GetCharCount(bytes);
                return true;
            }
            catch (DecoderFallbackException)
            {
                return false;
            }
        }
    }
}
