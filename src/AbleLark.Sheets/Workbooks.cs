using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using ExcelDataReader;
using ExcelDataReader.Exceptions;

namespace AbleLark.Sheets;

/// <summary>Reads .xlsx workbooks: formulas by the values that they had when it was saved, merged cells in each row that they reach
/// over, dates of both epochs.</summary>
public static partial class Workbooks
{
    // The reader asks for an old encoding by name as soon as it is set up.
    static Workbooks() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>Most sheets of a workbook.</summary>
    private const int MostSheets = 100;

    /// <summary>A time without a date stands on the first day of an epoch: of 1900, or of 1904.</summary>
    private const int LastEpoch = 1904;

    /// <summary>True for bytes that begin as a packed file does, which workbooks are.</summary>
    public static bool IsPacked(ReadOnlySpan<byte> bytes) => bytes.StartsWith("PK\u0003\u0004"u8) || bytes.StartsWith("PK\u0005\u0006"u8);

    /// <summary>True for the workbooks of before 2007.</summary>
    public static bool IsOld(ReadOnlySpan<byte> bytes) => bytes.StartsWith<byte>([0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1]);

    /// <param name="ended">Nobody waits for it any longer.</param>
    /// <exception cref="SheetException">It can't be read, or holds more than is taken in.</exception>
    public static SheetReading Read(Stream workbook, SheetChoice choice, CancellationToken ended = default)
    {
        if (workbook.Length > SheetLimits.MostBytes)
            throw SheetLimits.TooManyBytes(workbook.Length);
        try
        {
            WorkbookExtent extent = WorkbookGuard.Look(workbook, ended);
            workbook.Position = 0;
            using IExcelDataReader reader = ExcelReaderFactory.CreateOpenXmlReader(
                workbook,
                new ExcelReaderConfiguration { LeaveOpen = true }
            );
            return Read(reader, choice, extent, ended);
        }
        catch (Exception e) when (e is ExcelReaderException or InvalidDataException or System.Xml.XmlException or FormatException)
        {
            throw new SheetException("The workbook is damaged. Open it in a spreadsheet program, save it once more, and choose that file.");
        }
    }

    private static SheetReading Read(IExcelDataReader reader, SheetChoice choice, WorkbookExtent extent, CancellationToken ended)
    {
        List<string> names = [];
        List<string[]>? rows = null;
        string? name = null;
        Dictionary<int, string> doubts = [];
        (int hiddenRows, IReadOnlyList<string> hiddenColumns) = (0, []);
        do
        {
            ended.ThrowIfCancellationRequested();
            if (names.Count >= MostSheets)
                throw new SheetException($"The workbook has more than {MostSheets} sheets. Save the one with the posts by itself.");
            names.Add(reader.Name);
            // The first sheet that holds anything, unless one is named.
            if (rows is { Count: > 0 } || (choice.SheetName is { } wanted && wanted != reader.Name))
                continue;
            name = reader.Name;
            (rows, hiddenRows, hiddenColumns) = Rows(reader, extent.Of(name), extent.Shift, choice.WithHidden, doubts, ended);
        } while (reader.NextResult());
        if (choice.SheetName is { } asked && name is null)
            throw new SheetException($"The workbook has no sheet “{asked}”. It has: {string.Join(", ", names.Select(n => $"“{n}”"))}.");
        return rows is not { Count: > 0 }
            ? throw new SheetException(
                choice.SheetName is { } empty ? $"The sheet “{empty}” is empty. Choose another." : "The workbook holds no cells."
            )
            : new(new(rows), null, null, names, name, doubts)
            {
                Unseen = new(
                    hiddenRows,
                    hiddenColumns,
                    names.Where(n => n != name && extent.Of(n).LastRow > 0).ToDictionary(n => n, n => extent.Of(n).LastRow)
                ),
            };
    }

    /// <param name="extent">Below its last row that holds anything a sheet may say that it has a million more.</param>
    private static (List<string[]> Rows, int HiddenRows, IReadOnlyList<string> HiddenColumns) Rows(
        IExcelDataReader reader,
        SheetExtent extent,
        int shift,
        bool withHidden,
        Dictionary<int, string> doubts,
        CancellationToken ended
    )
    {
        if (extent.LastRow > SheetLimits.MostRead)
            throw SheetLimits.TooManyRows();
        KeptCells kept = new(ended);
        (int hiddenRows, SortedSet<int> hiddenColumns) = (0, []);
        while (kept.Rows.Count < extent.LastRow && reader.Read())
        {
            int number = kept.Rows.Count + 1;
            string[] cells = new string[reader.FieldCount];
            bool isHidden = reader.RowHeight == 0;
            for (int i = 0; i < cells.Length; i++)
            {
                cells[i] = Text(reader.GetValue(i), shift);
                if (string.IsNullOrWhiteSpace(cells[i]))
                    continue;
                if (reader.GetColumnWidth(i) == 0)
                {
                    hiddenColumns.Add(i);
                    cells[i] = withHidden ? cells[i] : "";
                }
                if (ErrorPattern().IsMatch(cells[i]))
                {
                    doubts.TryAdd(number, $"Row {number}, column {Sheet.Letters(i)} holds the error of a formula, {cells[i]}. Mend it.");
                    cells[i] = "";
                }
            }
            if (isHidden && cells.Any(c => c.Length > 0))
            {
                hiddenRows++;
                doubts.TryAdd(number, $"Row {number} is hidden in the workbook.");
                cells = withHidden ? cells : [];
            }
            if (extent.WithoutValue.TryGetValue(number, out int column))
                doubts.TryAdd(
                    number,
                    $"Row {number}, column {Sheet.Letters(column)} holds a formula without its value. Open the workbook in a spreadsheet "
                        + "program, save it, and choose it again."
                );
            kept.Add(cells);
        }
        Spread(kept, reader.MergeCells ?? []);
        return (kept.WithoutEmptyEnd(), hiddenRows, [.. hiddenColumns.Select(Sheet.Letters)]);
    }

    /// <summary>What stands in merged cells stands in each row that they reach over; across, in the first column alone.</summary>
    private static void Spread(KeptCells kept, CellRange[] merged)
    {
        List<string[]> rows = kept.Rows;
        foreach (CellRange range in merged)
        {
            if (range.FromRow >= rows.Count || range.FromColumn >= rows[range.FromRow].Length)
                continue;
            string text = rows[range.FromRow][range.FromColumn];
            if (text.Length == 0)
                continue;
            for (int row = range.FromRow + 1; row <= Math.Min(range.ToRow, rows.Count - 1); row++)
            {
                kept.Count(text);
                string[] cells = rows[row];
                if (cells.Length <= range.FromColumn)
                {
                    int before = cells.Length;
                    Array.Resize(ref cells, range.FromColumn + 1);
                    Array.Fill(cells, "", before, cells.Length - before);
                    rows[row] = cells;
                }
                cells[range.FromColumn] = text;
            }
        }
    }

    private static string Text(object? value, int shift) =>
        value switch
        {
            null => "",
            string text => text,
            DateTime time when time.Year <= LastEpoch => Time(time.TimeOfDay),
            DateTime date => Date(date.AddDays(shift)),
            TimeSpan time => Time(time),
            double number => number.ToString("0.##########", CultureInfo.InvariantCulture),
            bool yes => yes ? "yes" : "no",
            _ => Convert.ToString(value, CultureInfo.InvariantCulture) ?? "",
        };

    private static string Date(DateTime date)
    {
        DateTime rounded = date.AddMinutes(Math.Round(date.TimeOfDay.TotalMinutes) - date.TimeOfDay.TotalMinutes);
        return rounded.ToString(rounded.TimeOfDay == default ? "yyyy-MM-dd" : "yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
    }

    /// <summary>To the minute, since shares of a day are never quite whole seconds.</summary>
    private static string Time(TimeSpan time)
    {
        int minutes = (int)Math.Round(time.TotalMinutes) % (24 * 60);
        return TimeSpan.FromMinutes(minutes).ToString("hh\\:mm", CultureInfo.InvariantCulture);
    }

    [GeneratedRegex(@"^#(?:N/A|REF!|VALUE!|DIV/0!|NAME\?|NUM!|NULL!|GETTING_DATA|SPILL!|CALC!)$")]
    private static partial Regex ErrorPattern();
}
