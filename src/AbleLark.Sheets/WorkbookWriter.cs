using System.Globalization;
using System.Text.RegularExpressions;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;
using SheetList = DocumentFormat.OpenXml.Spreadsheet.Sheets;

namespace AbleLark.Sheets;

/// <summary>A column of a sheet to be written.</summary>
/// <param name="Width">In characters.</param>
/// <param name="Choices">What its cells may hold, to be chosen from; empty: anything.</param>
/// <param name="IsDate">True: its cells hold dates as ISO 8601 writes them, and become dates of the spreadsheet.</param>
/// <param name="IsNumber">True: its cells hold numbers with a point, and become numbers of the spreadsheet.</param>
public sealed record SheetColumn(string Header, int Width, IReadOnlyList<string> Choices, bool IsDate = false, bool IsNumber = false);

/// <summary>Writes .xlsx workbooks: one sheet of rows, with choices in its columns.</summary>
public static partial class WorkbookWriter
{
    /// <summary>As browsers know such files.</summary>
    public const string ContentType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    /// <summary>Rows below those that are written in which choices are offered too.</summary>
    private const int RowsAhead = 1_000;

    private const uint TextStyle = 1;
    private const uint DateStyle = 2;
    private const uint HeadStyle = 3;

    /// <summary>Number of the first format that is not built in.</summary>
    private const uint FirstFormat = 164;

    private const string ChoicesName = "Choices";

    public static byte[] Write(string name, IReadOnlyList<SheetColumn> columns, IReadOnlyList<IReadOnlyList<string>> rows)
    {
        using MemoryStream bytes = new();
        using (SpreadsheetDocument document = SpreadsheetDocument.Create(bytes, SpreadsheetDocumentType.Workbook))
        {
            WorkbookPart workbook = document.AddWorkbookPart();
            workbook.Workbook = new Workbook(new SheetList());
            workbook.AddNewPart<WorkbookStylesPart>().Stylesheet = Styles();
            Add(workbook, name, Posts(columns, rows), isHidden: false);
            if (columns.Any(c => c.Choices.Count > 0))
                Add(workbook, ChoicesName, Choices(columns), isHidden: true);
            workbook.Workbook.Save();
        }
        return bytes.ToArray();
    }

    private static void Add(WorkbookPart workbook, string name, Worksheet sheet, bool isHidden)
    {
        WorksheetPart part = workbook.AddNewPart<WorksheetPart>();
        part.Worksheet = sheet;
        SheetList sheets = workbook.Workbook!.Sheets!;
        sheets.Append(
            new DocumentFormat.OpenXml.Spreadsheet.Sheet
            {
                Name = name,
                Id = workbook.GetIdOfPart(part),
                SheetId = (uint)sheets.Count() + 1,
                State = isHidden ? SheetStateValues.Hidden : SheetStateValues.Visible,
            }
        );
    }

    private static Worksheet Posts(IReadOnlyList<SheetColumn> columns, IReadOnlyList<IReadOnlyList<string>> rows)
    {
        SheetData data = new(Row(1, [.. columns.Select(c => Text(c.Header, HeadStyle))]));
        for (int i = 0; i < rows.Count; i++)
            data.Append(Row(i + 2, [.. rows[i].Select((cell, c) => CellOf(cell, columns[c]))]));
        Columns widths = new(
            columns.Select(
                (c, i) =>
                    new Column
                    {
                        Min = (uint)i + 1,
                        Max = (uint)i + 1,
                        Width = c.Width,
                        CustomWidth = true,
                        Style =
                            c.IsDate ? DateStyle
                            : c.IsNumber ? 0
                            : TextStyle,
                    }
            )
        );
        SheetViews views = new(
            new SheetView(
                new Pane
                {
                    VerticalSplit = 1,
                    TopLeftCell = "A2",
                    ActivePane = PaneValues.BottomLeft,
                    State = PaneStateValues.Frozen,
                }
            )
            {
                WorkbookViewId = 0,
            }
        );
        Worksheet sheet = new(views, widths, data);
        DataValidation[] validations =
        [
            .. columns
                .Select((c, i) => (Column: c, Place: i))
                .Where(c => c.Column.Choices.Count > 0)
                .Select(c => Validation(c.Column, c.Place, rows.Count + RowsAhead)),
        ];
        if (validations.Length > 0)
            sheet.Append(new DataValidations(validations) { Count = (uint)validations.Length });
        return sheet;
    }

    /// <summary>Others are taken too: several channels stand in one cell with commas between.</summary>
    private static DataValidation Validation(SheetColumn column, int place, int lastRow)
    {
        string letters = AbleLark.Sheets.Sheet.Letters(place);
        return new(new Formula1($"{ChoicesName}!${letters}$1:${letters}${column.Choices.Count}"))
        {
            Type = DataValidationValues.List,
            AllowBlank = true,
            ShowErrorMessage = false,
            SequenceOfReferences = new ListValue<StringValue> { InnerText = $"{letters}2:{letters}{lastRow}" },
        };
    }

    private static Worksheet Choices(IReadOnlyList<SheetColumn> columns)
    {
        SheetData data = new();
        for (int row = 0; row < columns.Max(c => c.Choices.Count); row++)
            data.Append(Row(row + 1, [.. columns.Select(c => row < c.Choices.Count ? Text(c.Choices[row], TextStyle) : null)]));
        return new(data);
    }

    private static Row Row(int number, Cell?[] cells)
    {
        Row row = new() { RowIndex = (uint)number };
        for (int i = 0; i < cells.Length; i++)
        {
            if (cells[i] is not { } cell)
                continue;
            cell.CellReference = $"{AbleLark.Sheets.Sheet.Letters(i)}{number}";
            row.Append(cell);
        }
        return row;
    }

    private static Cell? CellOf(string cell, SheetColumn column)
    {
        if (cell.Length == 0)
            return null;
        if (
            column.IsDate
            && DateOnly.TryParseExact(cell, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out DateOnly date)
        )
            return new()
            {
                CellValue = new(date.ToDateTime(default).ToOADate().ToString(CultureInfo.InvariantCulture)),
                StyleIndex = DateStyle,
            };
        return column.IsNumber && double.TryParse(cell, NumberStyles.Float, CultureInfo.InvariantCulture, out _)
            ? new() { CellValue = new(cell) }
            : Text(cell, TextStyle);
    }

    private static Cell Text(string text, uint style) =>
        new()
        {
            DataType = CellValues.InlineString,
            InlineString = new(new Text(Clean(text)) { Space = SpaceProcessingModeValues.Preserve }),
            StyleIndex = style,
        };

    /// <summary>Without what XML can't hold: other control characters, and halves of pairs.</summary>
    private static string Clean(string text) =>
        string.Concat(
            EscapePattern()
                .Replace(text, "_x005F_$1")
                .EnumerateRunes()
                .Where(r => r.Value is '\t' or '\n' or '\r' or >= 0x20 && r.Value is not (0xFFFE or 0xFFFF))
                .Select(r => r.ToString())
        );

    private static Stylesheet Styles() =>
        new(
            new NumberingFormats(new NumberingFormat { NumberFormatId = FirstFormat, FormatCode = "yyyy\\-mm\\-dd" }) { Count = 1 },
            new Fonts(new Font(), new Font(new Bold())) { Count = 2 },
            new Fills(
                new Fill(new PatternFill { PatternType = PatternValues.None }),
                new Fill(new PatternFill { PatternType = PatternValues.Gray125 })
            )
            {
                Count = 2,
            },
            new Borders(new Border()) { Count = 1 },
            new CellStyleFormats(new CellFormat()) { Count = 1 },
            new CellFormats(
                new CellFormat(),
                // 49: as text, so that nothing is taken for a date or a formula that isn't one.
                new CellFormat { NumberFormatId = 49, ApplyNumberFormat = true },
                new CellFormat { NumberFormatId = FirstFormat, ApplyNumberFormat = true },
                new CellFormat { FontId = 1, ApplyFont = true }
            )
            {
                Count = 4,
            }
        );

    /// <summary>What would be read as a character's number.</summary>
    [GeneratedRegex("_(x[0-9A-Fa-f]{4}_)")]
    private static partial Regex EscapePattern();
}
