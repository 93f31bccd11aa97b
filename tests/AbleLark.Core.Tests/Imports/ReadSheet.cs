using AbleLark.Core.Imports;
using AbleLark.Sheets;

namespace AbleLark.Core.Tests.Imports;

/// <summary>Reads a sheet as an import does that nobody helps along.</summary>
internal static class ReadSheet
{
    public static IReadOnlyList<ImportRow> Rows(string csv, ImportContext context, ImportPlan? plan = null)
    {
        SheetReading read = TextSheets.ReadText(csv);
        RowReader reader = new(read.Sheet.Rows, plan ?? Plan(read.Sheet.Rows, context), context, read.Doubts);
        return [.. Enumerable.Range(0, reader.Count).Where(i => !reader.IsBlank(i)).Select(i => reader.Read(i, RowEdit.None))];
    }

    public static ImportPlan Plan(IReadOnlyList<string[]> rows, ImportContext context)
    {
        ColumnMatching matching = new(context);
        int header = matching.HeaderRow(rows);
        return new(header, [.. matching.Match(rows, header).Select(c => c.Target)], new Dictionary<string, DateOrders>());
    }
}
