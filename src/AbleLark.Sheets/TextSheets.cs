using System.Buffers;
using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;

namespace AbleLark.Sheets;

/// <summary>Reads and writes sheets as text with delimiters: RFC 4180, and what people have in its place.</summary>
public static class TextSheets
{
    /// <summary>By their names, as they are shown and chosen.</summary>
    public static IReadOnlyList<string> Encodings { get; } =
    [TextEncodings.Utf8, TextEncodings.Utf16, TextEncodings.Utf16Big, TextEncodings.Windows];

    public static IReadOnlyList<string> Delimiters { get; } = [",", ";", "\t", "|"];

    /// <summary>Rows that are looked at to find the delimiter.</summary>
    private const int Sampled = 60;

    private const int SampledUnits = 256 * 1024;

    /// <summary>As many columns as programs give a sheet; a row with more is a file of something else.</summary>
    private const int MostDelimiters = 16_384;

    /// <param name="ended">Nobody waits for it any longer.</param>
    /// <exception cref="SheetException">It can't be read as a sheet.</exception>
    public static SheetReading Read(ReadOnlySpan<byte> bytes, SheetChoice choice, CancellationToken ended = default)
    {
        if (bytes.Length > SheetLimits.MostBytes)
            throw SheetLimits.TooManyBytes(bytes.Length);
        (string text, string encoding, IReadOnlyList<int> others) = TextEncodings.Read(bytes, choice.Encoding);
        if (string.IsNullOrWhiteSpace(text))
            throw new SheetException("The file is empty. Choose the one that holds the posts.");
        SheetReading read = ReadText(text, choice.Delimiter, ended);
        Dictionary<int, string> doubts = read.Doubts.ToDictionary();
        foreach (int row in RowsOf(text, others, read.Delimiter!))
            doubts.TryAdd(row, $"Row {row} isn't written in {encoding} as the rest is; it was read as Windows-1252. Look at its letters.");
        return read with { Encoding = encoding, Doubts = doubts };
    }

    /// <summary>Reads cells that were pasted, or a text that is one already.</summary>
    /// <param name="delimiter">Null: recognised.</param>
    public static SheetReading ReadText(string text, string? delimiter = null, CancellationToken ended = default)
    {
        if (delimiter is not null && !Delimiters.Contains(delimiter))
            throw new SheetException("Cells are divided by a comma, a semicolon, a tab or a bar. Choose one of these.");
        delimiter ??= Recognise(text);
        Guard(text, delimiter[0]);
        KeptCells kept = new(ended);
        Dictionary<int, string> doubts = [];
        using StringReader reader = new(text);
        using CsvParser parser = new(reader, Format(delimiter));
        while (parser.Read())
        {
            kept.Add(parser.Record!);
            int row = kept.Rows.Count;
            if (IsUnclosed(parser.RawRecord))
                doubts.TryAdd(
                    row,
                    $"In row {row} a quotation mark is opened and not closed, so the rest of the file stands in one cell. Close it."
                );
        }
        List<string[]> rows = kept.WithoutEmptyEnd();
        return rows.Count == 0
            ? throw new SheetException("The file holds no cells. Choose the one that holds the posts.")
            : new(new(rows), null, delimiter, [], null, doubts);
    }

    /// <summary>The parser holds a whole row, however many cells that has.</summary>
    private static void Guard(ReadOnlySpan<char> text, char delimiter)
    {
        SearchValues<char> marks = SearchValues.Create([delimiter, '"', '\r', '\n']);
        (int cells, bool isQuoted, bool isAtStart, bool isJustClosed) = (0, false, true, false);
        while (text.IndexOfAny(marks) is >= 0 and int at)
        {
            if (text[at] == '"')
            {
                // It opens where a cell begins, or, as the second of two, goes on with what the first closed.
                bool opens = !isQuoted && at == 0 && (isAtStart || isJustClosed);
                (isJustClosed, isQuoted, isAtStart) = (isQuoted, opens, false);
            }
            else if (!isQuoted)
            {
                (isAtStart, isJustClosed) = (true, false);
                cells = text[at] == delimiter ? cells + 1 : 0;
                if (cells > MostDelimiters)
                    throw new SheetException(
                        $"A row has more than {MostDelimiters:N0} cells. Is this the right file, and is it “{delimiter}” that divides them?"
                    );
            }
            text = text[(at + 1)..];
        }
    }

    /// <summary>Writes rows with commas, CR LF and UTF-8 with a byte order mark, which spreadsheets need to read it as such.</summary>
    public static byte[] Write(IEnumerable<IReadOnlyList<string>> rows)
    {
        using MemoryStream bytes = new();
        using (StreamWriter text = new(bytes, new UTF8Encoding(encoderShouldEmitUTF8Identifier: true), leaveOpen: true))
        using (CsvWriter csv = new(text, Written))
        {
            foreach (IReadOnlyList<string> row in rows)
            {
                foreach (string cell in row)
                    csv.WriteField(cell);
                csv.NextRecord();
            }
        }
        return bytes.ToArray();
    }

    /// <summary>With a line end of its own it would leave other line ends within cells without quotes.</summary>
    private static CsvConfiguration Written { get; } =
        new(CultureInfo.InvariantCulture)
        {
            NewLine = "\r\n",
            ShouldQuote = a => a.Field is { Length: > 0 } f && (f.AsSpan().IndexOfAny("\",\r\n") >= 0 || f[0] == ' ' || f[^1] == ' '),
        };

    private static CsvConfiguration Format(string delimiter) =>
        new(CultureInfo.InvariantCulture)
        {
            Delimiter = delimiter,
            HasHeaderRecord = false,
            BadDataFound = null,
            IgnoreBlankLines = false,
            // Cells of a few letters are there again and again.
            CacheFields = true,
        };

    /// <summary>The delimiter by which most rows have the same number of cells, and more than one.</summary>
    private static string Recognise(string text)
    {
        string sample = text.Length > SampledUnits ? text[..SampledUnits] : text;
        return Delimiters.MaxBy(Evenness)!;

        (double, int) Evenness(string delimiter)
        {
            using StringReader reader = new(sample);
            using CsvParser parser = new(reader, Format(delimiter));
            List<int> counts = [];
            while (counts.Count < Sampled && parser.Read())
            {
                if (parser.Record!.Any(c => !string.IsNullOrWhiteSpace(c)))
                    counts.Add(parser.Record!.Length);
            }
            var most = counts.Where(c => c > 1).GroupBy(c => c).MaxBy(g => g.Count());
            return most is null ? (0, 0) : (Math.Round(most.Count() / (double)counts.Count, 1), most.Key);
        }
    }

    private static bool IsUnclosed(string record)
    {
        int end = record.Length - 1;
        while (end >= 0 && record[end] is '\r' or '\n')
            end--;
        // Quotes come in pairs where all that are opened are closed.
        return record.Length > 200 && record.AsSpan().Count('"') % 2 == 1 && record.AsSpan(0, end + 1).Contains('\n');
    }

    /// <summary>The rows in which those lines stand.</summary>
    private static IEnumerable<int> RowsOf(string text, IReadOnlyList<int> lines, string delimiter)
    {
        if (lines.Count == 0)
            yield break;
        using StringReader reader = new(text);
        using CsvParser parser = new(reader, Format(delimiter));
        (int line, int row, int next) = (1, 0, 0);
        while (next < lines.Count && parser.Read())
        {
            row++;
            int until = line + Math.Max(1, parser.RawRecord.AsSpan().Count('\n'));
            bool any = false;
            while (next < lines.Count && lines[next] < until)
            {
                any = true;
                next++;
            }
            line = until;
            if (any)
                yield return row;
        }
    }
}
