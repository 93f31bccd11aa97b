using System.Globalization;
using AbleLark.Core.Categories;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Core.Imports;

/// <summary>Reads one row; every doubt becomes a finding, and nothing is guessed.</summary>
internal sealed class ImportRowReader(
    string[] header,
    string[] cells,
    int number,
    ImportContext context,
    IReadOnlyList<Field> fields,
    Dictionary<(string, string), int> seen
)
{
    private const int LongestTitle = 120;

    private static readonly LocalDatePattern[] ClearDates =
    [
        LocalDatePattern.Iso,
        .. new[] { "d MMM yyyy", "d MMMM yyyy", "MMM d, yyyy", "MMMM d, yyyy", "ddd d MMM yyyy" }.Select(
            LocalDatePattern.CreateWithInvariantCulture
        ),
    ];

    private static readonly LocalDatePattern[] NumberDates =
    [
        .. new[] { "d/M/yyyy", "M/d/yyyy", "d.M.yyyy", "M.d.yyyy", "d-M-yyyy", "M-d-yyyy" }.Select(
            LocalDatePattern.CreateWithInvariantCulture
        ),
    ];

    private static readonly LocalTimePattern[] Times =
    [
        .. new[] { "H:mm", "HH:mm", "H:mm:ss", "h:mm tt", "h tt", "h:mmtt", "htt" }.Select(LocalTimePattern.CreateWithInvariantCulture),
    ];

    private readonly List<Finding> _findings = [];

    public ImportRow Read()
    {
        if (cells.Length > header.Length && cells.Skip(header.Length).Any(c => c.Trim().Length > 0))
            Found(FindingCode.RowCellsTooMany, Severity.Blocks, "row", Whole(cells.Length), Whole(header.Length));
        PostContent content = new(
            Values(f => f.Key),
            context
                .Networks.All.Select(n => KeyValuePair.Create(n.Key, Values(f => $"{f.Key}:{n.Key}")))
                .Where(n => !n.Value.IsEmpty)
                .ToDictionary()
        );
        if (!content.AllLayers().Any(l => l.Fields.Any(f => f != ContentFields.Link)))
            Found(FindingCode.RowTextMissing, Severity.Blocks, "text");
        Category? category = Category();
        string title = Title(content);
        LocalDateTime? when = When();
        WarnIfTwice(title, content.Common.Get(ContentFields.Text) ?? "");
        return new(number, title, category?.Id, content, when, _findings, NetworkFindings(content, category));
    }

    private string Cell(string name)
    {
        int at = Array.IndexOf(header, name);
        return at >= 0 && at < cells.Length ? cells[at].Trim() : "";
    }

    private string Title(PostContent content)
    {
        string title = Cell("title");
        if (title.Length == 0)
        {
            Found(FindingCode.RowTitleMissing, Severity.Advice, "title");
            title = content.AllLayers().Select(l => l.Get(ContentFields.Text)).FirstOrDefault(t => t is not null) ?? Cell("picture");
            title = title.Split('\n')[0];
        }
        return title.Length <= LongestTitle ? title : title[..(LongestTitle - 1)].TrimEnd() + "…";
    }

    /// <summary>What the columns of a layer hold; an empty cell says nothing.</summary>
    private FieldValues Values(Func<Field, string> header)
    {
        FieldValues values = FieldValues.Empty;
        foreach (Field field in fields)
        {
            if (Cell(header(field)) is not { Length: > 0 } cell)
                continue;
            (object? value, Finding? trouble) = field.FromCell(cell, context.Pictures.GetValueOrDefault);
            if (trouble is not null)
                _findings.Add(trouble);
            else
                values = values.WithValue(field, value);
        }
        return values;
    }

    private Category? Category()
    {
        string name = Cell("category");
        string known = string.Join(", ", context.Categories.Select(c => c.Name));
        if (name.Length == 0)
        {
            Found(FindingCode.RowCategoryMissing, Severity.Blocks, "category", known);
            return null;
        }
        Category? category = context.Categories.FirstOrDefault(c => string.Equals(c.Name, name, StringComparison.OrdinalIgnoreCase));
        if (category is null)
            Found(FindingCode.RowCategoryUnknown, Severity.Blocks, "category", name, known);
        else if (Cell("date").Length > 0 && category.UsualChannels.Count == 0)
            Found(FindingCode.RowNoChannel, Severity.Blocks, "category", name);
        return category;
    }

    private LocalDateTime? When()
    {
        LocalDate? date = Date(Cell("date"));
        LocalTime? time = Time(Cell("time"));
        if (Cell("date").Length == 0 && Cell("time").Length > 0)
            Found(FindingCode.RowTimeWithoutDate, Severity.Blocks, "date");
        if (Cell("date").Length > 0 && Cell("time").Length == 0)
            Found(FindingCode.RowDateWithoutTime, Severity.Blocks, "time");
        if (date is null || time is null)
            return null;
        LocalDateTime when = date.Value + time.Value;
        string words = when.ToString("d MMM yyyy, HH:mm", CultureInfo.InvariantCulture);
        if (when <= context.Now)
            Found(FindingCode.RowDatePast, Severity.Blocks, "date", words);
        else if (when > context.Now.PlusYears(1))
            Found(FindingCode.RowDateFar, Severity.Advice, "date", words);
        return when;
    }

    private LocalDate? Date(string cell)
    {
        if (cell.Length == 0)
            return null;
        LocalDate[] clear = Readings(cell, ClearDates);
        if (clear.Length == 1)
            return clear[0];
        LocalDate[] numbers = Readings(cell, NumberDates);
        if (numbers.Length == 1)
            return numbers[0];
        Found(numbers.Length > 1 ? FindingCode.RowDateUnclear : FindingCode.RowDateImpossible, Severity.Blocks, "date", cell);
        return null;
    }

    private static LocalDate[] Readings(string cell, LocalDatePattern[] patterns) =>
        [.. patterns.Select(p => p.Parse(cell)).Where(r => r.Success).Select(r => r.Value).Distinct()];

    private LocalTime? Time(string cell)
    {
        if (cell.Length == 0)
            return null;
        foreach (LocalTimePattern pattern in Times)
        {
            if (pattern.Parse(cell.ToUpperInvariant()) is { Success: true } read)
                return read.Value;
        }
        Found(FindingCode.RowTimeUnclear, Severity.Blocks, "time", cell);
        return null;
    }

    private void WarnIfTwice(string title, string text)
    {
        if (!seen.TryAdd((title, text), number))
            Found(FindingCode.RowTwice, Severity.Advice, "row", Whole(seen[(title, text)]));
    }

    private Dictionary<string, IReadOnlyList<Finding>> NetworkFindings(PostContent content, Category? category)
    {
        HashSet<string> used =
        [
            .. context.Channels.Where(c => category is null || category.UsualChannels.Contains(c.Id)).Select(c => c.Network),
        ];
        return context
            .Networks.All.Where(n => used.Count == 0 || used.Contains(n.Key))
            .Select(n => (n.Key, ContentCheck.Check(content, n, context.Sources, 0, fields).Findings))
            .Where(f => f.Findings.Count > 0)
            .ToDictionary(f => f.Key, f => f.Findings);
    }

    private void Found(FindingCode code, Severity severity, string place, params string[] values) =>
        _findings.Add(new(code, severity, place, values));

    private static string Whole(int n) => n.ToString(CultureInfo.InvariantCulture);
}
