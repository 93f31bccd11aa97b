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
        do
        {
            ended.ThrowIfCancellationRequested();
            if (names.Count >= MostSheets)
                throw new SheetException($"The workbook has more than {MostSheets} sheets. Save the one with the posts by itself.");
            int last = extent.LastRows.GetValueOrDefault(reader.Name);
            names.Add(reader.Name);
            // The first sheet that holds anything, unless one is named.
            if (rows is { Count: > 0 } || (choice.SheetName is { } wanted && wanted != reader.Name))
                continue;
            (rows, name) = (Rows(reader, last, extent.Shift, doubts, ended), reader.Name);
        } while (reader.NextResult());
        if (choice.SheetName is { } asked && name is null)
            throw new SheetException($"The workbook has no sheet “{asked}”. It has: {string.Join(", ", names.Select(n => $"“{n}”"))}.");
        return rows is not { Count: > 0 }
            ? throw new SheetException(
                choice.SheetName is { } empty ? $"The sheet “{empty}” is empty. Choose another." : "The workbook holds no cells."
            )
            : new(new(rows), null, null, names, name, doubts);
    }

    /// <param name="last">Number of the last row that holds anything: below it a sheet may say that it has a million more.</param>
    private static List<string[]> Rows(
        IExcelDataReader reader,
        int last,
        int shift,
        Dictionary<int, string> doubts,
        CancellationToken ended
    )
    {
        if (last > SheetLimits.MostRows)
            throw SheetLimits.TooManyRows();
        KeptCells kept = new(ended);
        while (kept.Rows.Count < last && reader.Read())
        {
            int number = kept.Rows.Count + 1;
            string[] cells = new string[reader.FieldCount];
            for (int i = 0; i < cells.Length; i++)
            {
                cells[i] = Text(reader.GetValue(i), shift);
                if (ErrorPattern().IsMatch(cells[i]))
                {
                    doubts.TryAdd(number, $"Row {number}, column {Sheet.Letters(i)} holds the error of a formula, {cells[i]}. Mend it.");
                    cells[i] = "";
                }
            }
            kept.Add(cells);
        }
        Spread(kept, reader.MergeCells ?? []);
        return kept.WithoutEmptyEnd();
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
