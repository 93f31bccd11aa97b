using System.Globalization;
using System.IO.Compression;
using System.Xml;

namespace AbleLark.Sheets;

/// <summary>What a workbook holds, as it was counted bit by bit before anything of it was kept.</summary>
/// <param name="Shift">Days by which its dates come later than they are read.</param>
/// <param name="Sheets">By the name of a sheet.</param>
internal sealed record WorkbookExtent(int Shift, IReadOnlyDictionary<string, SheetExtent> Sheets)
{
    public SheetExtent Of(string sheet) => Sheets.GetValueOrDefault(sheet, SheetExtent.None);
}

/// <param name="LastRow">The last row with anything in it; nought: none has.</param>
/// <param name="WithoutValue">By number of the row: the first of its columns (from 0) with a formula whose value wasn't saved.</param>
internal sealed record SheetExtent(int LastRow, IReadOnlyDictionary<int, int> WithoutValue)
{
    public static SheetExtent None { get; } = new(0, new Dictionary<int, int>());
}

/// <summary>
/// Goes through a workbook in small pieces, and refuses what would unpack to more than is taken in, or take more memory or time than its
/// cells need: whoever reads it afterwards holds whole cells, and yields each row up to the last.
/// </summary>
internal static class WorkbookGuard
{
    /// <summary>As many rows as a sheet of a workbook can have (ECMA-376 names no number; this is what programs write).</summary>
    private const int RowsOfFormat = 1_048_576;

    /// <summary>From the usual epoch to that of 1904.</summary>
    private const int DaysLater = 1_462;

    /// <summary>Most rows whose formulas without a value are told.</summary>
    private const int MostTold = 1_000;

    /// <summary>Most pieces of different formats in one cell: its reader puts them together one by one.</summary>
    private const int MostPieces = 500;

    private static readonly XmlReaderSettings Settings = new()
    {
        DtdProcessing = DtdProcessing.Prohibit,
        XmlResolver = null,
        IgnoreComments = true,
        IgnoreProcessingInstructions = true,
    };

    /// <exception cref="SheetException">It is too much, leans on other files, or is no workbook.</exception>
    /// <exception cref="InvalidDataException">It is damaged.</exception>
    /// <exception cref="XmlException">It is damaged.</exception>
    public static WorkbookExtent Look(Stream workbook, CancellationToken ended)
    {
        using ZipArchive archive = new(workbook, ZipArchiveMode.Read, leaveOpen: true);
        if (archive.Entries.Any(e => e.FullName.StartsWith("xl/externalLinks/", StringComparison.OrdinalIgnoreCase)))
            throw new SheetException(
                "The workbook takes cells from other files, which can't be looked at here. Copy the posts as values into a new one."
            );
        Allowance allowance = new(ended);
        string head = Short(archive, "xl/workbook.xml", allowance);
        Dictionary<string, string> parts = PartsOf(head, Short(archive, "xl/_rels/workbook.xml.rels", allowance));
        HashSet<string> sheets = new(parts.Values, StringComparer.OrdinalIgnoreCase);
        Dictionary<string, SheetExtent> extents = new(StringComparer.OrdinalIgnoreCase);
        foreach (ZipArchiveEntry entry in archive.Entries)
        {
            bool isSheet = Begins(entry, "xl/worksheets/") || sheets.Contains(entry.FullName);
            if (!isSheet && !Begins(entry, "xl/sharedStrings") && !Begins(entry, "xl/styles"))
                continue;
            using MeasuredStream stream = new(entry.Open(), allowance);
            if (isSheet)
                extents[entry.FullName] = ExtentOf(stream, allowance);
            else if (Begins(entry, "xl/sharedStrings"))
                CountTexts(stream, allowance);
            else
                stream.CopyTo(Stream.Null);
        }
        if (extents.Count == 0)
            throw new SheetException("This is a packed file, but no .xlsx workbook. Save the sheet as .xlsx or CSV.");
        return new(
            // Its reader knows the later epoch where it is marked with a figure, and not where it is with a word (both are xsd:boolean).
            head.Length > 0
            && Elements(head, "workbookPr").Any(e => e.GetValueOrDefault("date1904") == "true")
                ? DaysLater
                : 0,
            parts.ToDictionary(p => p.Key, p => extents.GetValueOrDefault(p.Value, SheetExtent.None), StringComparer.Ordinal)
        );

        static bool Begins(ZipArchiveEntry entry, string with) => entry.FullName.StartsWith(with, StringComparison.OrdinalIgnoreCase);
    }

    /// <summary>A part that is small in any workbook; empty: it isn't there.</summary>
    private static string Short(ZipArchive archive, string part, Allowance allowance)
    {
        ZipArchiveEntry? entry = archive.Entries.FirstOrDefault(e => e.FullName.Equals(part, StringComparison.OrdinalIgnoreCase));
        if (entry is null)
            return "";
        using StreamReader text = new(new MeasuredStream(entry.Open(), allowance));
        char[] some = new char[1024 * 1024];
        int length = text.ReadBlock(some, 0, some.Length);
        return length < some.Length ? new string(some, 0, length) : throw new InvalidDataException();
    }

    /// <summary>The part in which each sheet lies, by its name.</summary>
    private static Dictionary<string, string> PartsOf(string head, string relations)
    {
        Dictionary<string, string> parts = new(StringComparer.Ordinal);
        if (head.Length == 0 || relations.Length == 0)
            return parts;
        Dictionary<string, string> targets = Elements(relations, "Relationship")
            .GroupBy(e => e.GetValueOrDefault("Id", ""))
            .ToDictionary(g => g.Key, g => g.First().GetValueOrDefault("Target", ""));
        foreach (Dictionary<string, string> sheet in Elements(head, "sheet"))
            parts[sheet.GetValueOrDefault("name", "")] = PathOf(targets.GetValueOrDefault(sheet.GetValueOrDefault("id", ""), ""));
        return parts;

        static string PathOf(string target) =>
            target.StartsWith('/') ? target[1..]
            : target.StartsWith("xl/", StringComparison.OrdinalIgnoreCase) ? target
            : $"xl/{target}";
    }

    /// <summary>The attributes, by their local names, of each element of that name.</summary>
    private static List<Dictionary<string, string>> Elements(string xml, string name)
    {
        List<Dictionary<string, string>> found = [];
        using StringReader text = new(xml);
        using XmlReader reader = XmlReader.Create(text, Settings);
        while (reader.Read())
        {
            if (reader.NodeType != XmlNodeType.Element || reader.LocalName != name)
                continue;
            Dictionary<string, string> attributes = [];
            while (reader.MoveToNextAttribute())
                attributes[reader.LocalName] = reader.Value;
            found.Add(attributes);
        }
        return found;
    }

    /// <summary>Counts a sheet's texts, and finds its last row with anything in it.</summary>
    private static SheetExtent ExtentOf(Stream sheet, Allowance allowance)
    {
        using XmlReader reader = XmlReader.Create(sheet, Settings);
        (int row, int last) = (0, 0);
        Dictionary<int, int> withoutValue = [];
        (bool isInCell, bool hasFormula, bool hasValue, int column) = (false, false, false, 0);
        while (reader.Read())
        {
            allowance.Look();
            switch (reader.NodeType)
            {
                case XmlNodeType.Element when reader.LocalName == "row":
                    row = reader.GetAttribute("r") is { } number ? NumberOf(number) : row + 1;
                    if (row is < 1 or > RowsOfFormat)
                        throw new InvalidDataException();
                    break;
                case XmlNodeType.Element when reader.LocalName == "c":
                    allowance.BeginCell();
                    column = ColumnOf(reader.GetAttribute("r"));
                    (isInCell, hasFormula, hasValue) = (!reader.IsEmptyElement, false, false);
                    break;
                case XmlNodeType.EndElement when reader.LocalName == "c":
                    isInCell = false;
                    if (hasFormula && !hasValue && withoutValue.Count < MostTold)
                    {
                        withoutValue.TryAdd(row, column);
                        last = Math.Max(last, row);
                    }
                    break;
                case XmlNodeType.Element when reader.LocalName == "f" && isInCell:
                    hasFormula = true;
                    if (!reader.IsEmptyElement)
                        PassOver(reader);
                    break;
                case XmlNodeType.Element when reader.LocalName is "v" or "is" && isInCell:
                    hasValue = true;
                    break;
                case XmlNodeType.Text or XmlNodeType.CDATA when isInCell:
                    allowance.Take(LengthOf(reader));
                    last = Math.Max(last, row);
                    break;
            }
        }
        return new(last, withoutValue);
    }

    /// <summary>The column of a cell's name (from 0), such as 27 of `AB3`; nought where it has none.</summary>
    private static int ColumnOf(string? name)
    {
        int column = 0;
        foreach (char letter in (name ?? "").TakeWhile(char.IsAsciiLetterUpper).Take(3))
            column = (column * 26) + letter - 'A' + 1;
        return Math.Max(0, column - 1);
    }

    /// <summary>A formula itself isn't kept: its value is.</summary>
    private static void PassOver(XmlReader reader)
    {
        int depth = reader.Depth;
        while (reader.Read() && reader.Depth > depth) { }
    }

    private static void CountTexts(Stream strings, Allowance allowance)
    {
        using XmlReader reader = XmlReader.Create(strings, Settings);
        while (reader.Read())
        {
            allowance.Look();
            if (reader.NodeType == XmlNodeType.Element && reader.LocalName == "si")
                allowance.BeginCell();
            else if (reader.NodeType is XmlNodeType.Text or XmlNodeType.CDATA)
                allowance.Take(LengthOf(reader));
        }
    }

    private static int NumberOf(string text) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int number) ? number : throw new InvalidDataException();

    private static readonly ThreadLocal<char[]> Some = new(() => new char[4096]);

    /// <summary>How long a text is, without holding it whole.</summary>
    private static int LengthOf(XmlReader reader)
    {
        int length = 0;
        while (reader.ReadValueChunk(Some.Value!, 0, Some.Value!.Length) is > 0 and int read)
            length += read;
        return length;
    }

    /// <summary>How much of a workbook may be read yet.</summary>
    private sealed class Allowance(CancellationToken ended)
    {
        private long _bytes = SheetLimits.MostUnpacked;
        private long _units = 2L * SheetLimits.MostInAll;
        private int _pieces;

        public void Look() => ended.ThrowIfCancellationRequested();

        public void BeginCell() => _pieces = 0;

        public void Take(int units)
        {
            if (++_pieces > MostPieces)
                throw new SheetException(
                    $"A cell of the workbook is put together from more than {MostPieces} pieces. Clear its formats first."
                );
            _units -= units;
            if (_units < 0)
                throw SheetLimits.TooMuchInAll();
        }

        public void TakeBytes(int bytes)
        {
            Look();
            _bytes -= bytes;
            if (_bytes < 0)
                throw new SheetException(
                    $"The workbook unpacks to more than {SheetLimits.MostUnpacked / (1024 * 1024)} MB, which is the most. Save the posts "
                        + "alone, without empty rows below and without pictures, or as CSV."
                );
        }
    }

    /// <summary>Measures what an entry truly unpacks to, since what its head says may be a lie; and lets no cell, and no mark around one,
    /// be so long that it would fill the memory of whoever holds it whole.</summary>
    private sealed class MeasuredStream(Stream inner, Allowance allowance) : PassingStream(inner)
    {
        private const int LongestPiece = 1024 * 1024;

        private int _sinceMark;

        protected override void Passes(ReadOnlySpan<byte> read)
        {
            allowance.TakeBytes(read.Length);
            while (!read.IsEmpty)
            {
                int mark = read.IndexOf((byte)'<');
                _sinceMark += mark < 0 ? read.Length : mark;
                if (_sinceMark > LongestPiece)
                    throw new SheetException(
                        $"A cell of the workbook holds far more than the {SheetLimits.MostInCell:N0} characters that one may. Shorten it."
                    );
                if (mark < 0)
                    return;
                _sinceMark = 0;
                read = read[(mark + 1)..];
            }
        }
    }
}
