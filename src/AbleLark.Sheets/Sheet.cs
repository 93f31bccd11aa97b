namespace AbleLark.Sheets;

/// <summary>The cells of a sheet as text, whatever file they came in.</summary>
/// <param name="Rows">By number: the first is row 1. Rows may differ in length; dates are written as ISO 8601, with a time where the
/// file holds one.</param>
public sealed record Sheet(IReadOnlyList<string[]> Rows)
{
    public int Columns => Rows.Count == 0 ? 0 : Rows.Max(r => r.Length);

    /// <summary>A cell without the space around it; empty where there is none.</summary>
    /// <param name="row">From 0.</param>
    /// <param name="column">From 0.</param>
    public string Cell(int row, int column) => row < Rows.Count && column < Rows[row].Length ? Rows[row][column].Trim() : "";

    /// <summary>A column's name in spreadsheets: A, B, … Z, AA.</summary>
    public static string Letters(int column)
    {
        string letters = "";
        for (int n = column + 1; n > 0; n = (n - 1) / 26)
            letters = (char)('A' + ((n - 1) % 26)) + letters;
        return letters;
    }
}

/// <summary>How a file is to be read; what is null is recognised.</summary>
/// <param name="Encoding">One of <see cref="TextSheets.Encodings"/>.</param>
/// <param name="Delimiter">One of <see cref="TextSheets.Delimiters"/>.</param>
/// <param name="SheetName">Which sheet of a workbook.</param>
/// <param name="WithHidden">False: rows and columns that the workbook hides hold nothing.</param>
public sealed record SheetChoice(string? Encoding = null, string? Delimiter = null, string? SheetName = null, bool WithHidden = true);

/// <summary>What somebody who looks at a workbook doesn't see of it, as far as anything stands there.</summary>
/// <param name="Rows">How many rows of the sheet that was read are hidden.</param>
/// <param name="Columns">Letters of its hidden columns.</param>
/// <param name="Sheets">The workbook's other sheets that hold anything, and how many rows each has.</param>
public sealed record Unseen(int Rows, IReadOnlyList<string> Columns, IReadOnlyDictionary<string, int> Sheets)
{
    public static Unseen None { get; } = new(0, [], new Dictionary<string, int>());

    /// <summary>True where rows or columns of the sheet itself are hidden.</summary>
    public bool IsHidden => Rows > 0 || Columns.Count > 0;
}

/// <summary>A sheet as it was read, and how.</summary>
/// <param name="Encoding">Null: the file is no text.</param>
/// <param name="Delimiter">Null: the file is no text.</param>
/// <param name="Names">The workbook's sheets; empty: the file is no workbook.</param>
/// <param name="Doubts">Rows that were read in a way that somebody should look at: by number, in words.</param>
public sealed record SheetReading(
    Sheet Sheet,
    string? Encoding,
    string? Delimiter,
    IReadOnlyList<string> Names,
    string? Name,
    IReadOnlyDictionary<int, string> Doubts
)
{
    public Unseen Unseen { get; init; } = Unseen.None;
}

/// <summary>A file that can't be read as a sheet; the message says what to do.</summary>
public sealed class SheetException(string message) : Exception(message);

/// <summary>How much a sheet may hold.</summary>
public static class SheetLimits
{
    /// <summary>Most bytes of a file of text, or of a workbook as it is packed.</summary>
    public const int MostBytes = 16 * 1024 * 1024;

    /// <summary>Most bytes that a workbook unpacks to.</summary>
    public const long MostUnpacked = 100L * 1024 * 1024;

    /// <summary>Most rows below the one that names the columns.</summary>
    public const int MostRows = 25_000;

    /// <summary>Rows that may stand above them.</summary>
    public const int MostAbove = 20;

    internal const int MostRead = MostRows + MostAbove;

    public const int MostColumns = 200;

    /// <summary>Most UTF-16 units of one cell: more than any field of a post takes.</summary>
    public const int MostInCell = 110_000;

    /// <summary>Most cells that hold anything.</summary>
    public const int MostCells = 1_000_000;

    /// <summary>Most UTF-16 units of all cells together.</summary>
    public const int MostInAll = 16 * 1024 * 1024;

    internal static SheetException TooMuchInAll() =>
        new($"The sheet holds more than {MostInAll / (1024 * 1024)} million characters, which is the most at once. Split it.");

    public static SheetException TooManyRows() =>
        new($"The sheet has more than {MostRows:N0} rows, which is the most at once. Split it, and import one part after the other.");

    public static SheetException TooManyBytes(long bytes) =>
        new(
            $"The sheet has {bytes / (1024 * 1024)} MB; {MostBytes / (1024 * 1024)} is the most. Take out what holds nothing for posts, "
                + "or split it."
        );
}

/// <summary>The rows of a sheet as they are read, within what one may hold.</summary>
internal sealed class KeptCells(CancellationToken ended)
{
    private int _cells;
    private long _units;

    /// <summary>Empty ones, and such without anything in them at the end, are among them.</summary>
    public List<string[]> Rows { get; } = [];

    /// <summary>How many empty rows beyond the most came last: told by no number, since nobody sees them.</summary>
    private int _beyond;

    /// <summary>Takes in the next row, without its empty end.</summary>
    /// <exception cref="SheetException">It is more than a sheet may hold.</exception>
    /// <exception cref="OperationCanceledException">Nobody waits for it any longer.</exception>
    public void Add(string[] cells)
    {
        ended.ThrowIfCancellationRequested();
        int number = Rows.Count + _beyond + 1;
        int columns = cells.Length;
        while (columns > 0 && string.IsNullOrWhiteSpace(cells[columns - 1]))
            columns--;
        if (columns > SheetLimits.MostColumns)
            throw new SheetException(
                $"Row {number} has {columns:N0} cells; {SheetLimits.MostColumns} is the most. Take out the columns that hold nothing for "
                    + "posts."
            );
        for (int i = 0; i < columns; i++)
        {
            if (cells[i].Length > SheetLimits.MostInCell)
                throw new SheetException(
                    $"Row {number}, column {Sheet.Letters(i)}: {cells[i].Length:N0} characters in one cell. Is a quotation mark not closed?"
                );
            // A line end by itself is one, whatever program wrote it.
            if (cells[i].Contains('\r'))
                cells[i] = cells[i].ReplaceLineEndings("\n");
            Count(cells[i]);
        }
        if (number <= SheetLimits.MostRead)
            Rows.Add(columns == cells.Length ? cells : cells[..columns]);
        else if (columns > 0)
            throw SheetLimits.TooManyRows();
        else
            _beyond++;
    }

    /// <summary>Counts a cell before it is kept.</summary>
    /// <exception cref="SheetException">It is one too many.</exception>
    public void Count(string cell)
    {
        ended.ThrowIfCancellationRequested();
        _units += cell.Length;
        if (cell.Length > 0 && ++_cells > SheetLimits.MostCells)
            throw new SheetException(
                $"The sheet has more than {SheetLimits.MostCells:N0} filled cells, which is the most at once. Split it."
            );
        if (_units > SheetLimits.MostInAll)
            throw SheetLimits.TooMuchInAll();
    }

    public List<string[]> WithoutEmptyEnd()
    {
        while (Rows.Count > 0 && Rows[^1].Length == 0)
            Rows.RemoveAt(Rows.Count - 1);
        return Rows;
    }
}
