using AbleLark.Core.Imports;
using AbleLark.Data.Rows;
using AbleLark.Sheets;

namespace AbleLark.Server.Imports;

/// <summary>Lays an import out as a sheet that can be imported again.</summary>
internal static class ReportSheet
{
    public static IEnumerable<IReadOnlyList<string>> Rows(
        ImportPlan plan,
        Sheet sheet,
        IReadOnlyDictionary<int, RowEdit> edits,
        IReadOnlyDictionary<int, ImportedRow> ends
    )
    {
        // What was filled in without a column for it gets one.
        string[] more = [.. edits.Values.SelectMany(e => e.Values.Keys).Distinct().Where(t => !plan.Targets.Contains(t))];
        int columns = sheet.Columns;
        yield return
        [
            .. Enumerable
                .Range(0, columns)
                .Select(c => plan.HeaderRow > 0 ? sheet.Cell(plan.HeaderRow - 1, c) : plan.Targets.ElementAtOrDefault(c) ?? ""),
            .. more,
            "What became of it",
            "Why",
        ];
        for (int place = plan.HeaderRow; place < sheet.Rows.Count; place++)
        {
            if (Array.TrueForAll(sheet.Rows[place], string.IsNullOrWhiteSpace))
                continue;
            IReadOnlyDictionary<string, string> values = edits.GetValueOrDefault(place + 1, RowEdit.None).Values;
            ImportedRow? end = ends.GetValueOrDefault(place + 1);
            yield return
            [
                .. Enumerable
                    .Range(0, columns)
                    .Select(c =>
                        plan.Targets.ElementAtOrDefault(c) is { } target && values.TryGetValue(target, out string? value)
                            ? value
                            : sheet.Cell(place, c)
                    ),
                .. more.Select(t => values.GetValueOrDefault(t, "")),
                end is null ? "" : Words(end.End),
                end?.Words ?? "",
            ];
        }
    }

    private static string Words(RowEnd end) =>
        end switch
        {
            RowEnd.Added => "a new post",
            RowEnd.Joined => "part of the post before it",
            RowEnd.Wording => "another wording",
            RowEnd.Updated => "taken over",
            RowEnd.Unchanged => "it was there, just so",
            RowEnd.LeftOut => "left out",
            _ => "stayed out",
        };
}
