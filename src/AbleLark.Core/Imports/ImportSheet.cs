using System.Globalization;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using CsvHelper;
using CsvHelper.Configuration;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>What rows are read against.</summary>
/// <param name="Channels">The workspace's channels: rows are checked against the networks that they go to.</param>
/// <param name="Pictures">Pictures by file name, whatever the letter case.</param>
/// <param name="Now">Local date and time in the workspace's zone.</param>
public sealed record ImportContext(
    IReadOnlyList<Category> Categories,
    IReadOnlyList<Channel> Channels,
    NetworkBook Networks,
    IReadOnlyDictionary<string, MediaFile> Pictures,
    LocalDateTime Now
)
{
    /// <summary>What content rests on.</summary>
    public ContentSources Sources { get; init; } = new(id => Pictures.Values.FirstOrDefault(p => p.Id == id));
}

/// <summary>One row of a sheet, as the post it would become.</summary>
/// <param name="Number">Row in the file; the header is row 1.</param>
/// <param name="When">Exact local time to send it at; null leaves it to the rotation.</param>
/// <param name="Findings">About the row. About single networks: <paramref name="NetworkFindings"/>.</param>
/// <param name="NetworkFindings">By key, for the networks that the row's category goes to; without any channel, for all.</param>
public sealed record ImportRow(
    int Number,
    string Title,
    Id<Category>? CategoryId,
    PostContent Content,
    LocalDateTime? When,
    IReadOnlyList<Finding> Findings,
    IReadOnlyDictionary<string, IReadOnlyList<Finding>> NetworkFindings
)
{
    public bool CanImport => !Findings.Any(f => f.Blocks);
}

/// <summary>A sheet that is not a sheet of posts; the message says what to do.</summary>
public sealed class ImportSheetException(string message) : Exception(message);

/// <summary>Reads a CSV of posts (RFC 4180), with fixed headers.</summary>
public static class ImportSheet
{
    /// <summary>Most rows read from one file.</summary>
    public const int MostRows = 5000;

    private static readonly string[] Delimiters = [",", ";", "\t"];

    /// <summary>All headers that a file may have: one for each content field, alone or with a network's key behind a colon, and those of
    /// the post itself.</summary>
    /// <param name="fields">The content fields that there are; null: all that are declared.</param>
    public static IReadOnlyList<string> Headers(NetworkBook networks, IReadOnlyList<Field>? fields = null) =>
        [
            "title",
            .. (fields ?? ContentFields.All).SelectMany(f => networks.All.Select(n => $"{f.Key}:{n.Key}").Prepend(f.Key)),
            "category",
            "date",
            "time",
        ];

    /// <param name="csv">The file's text. Commas, semicolons or tabs may divide the cells.</param>
    /// <param name="fields">The content fields that there are; null: all that are declared.</param>
    /// <exception cref="ImportSheetException">The header is missing or has unknown names, or there are too many rows.</exception>
    public static IReadOnlyList<ImportRow> Read(string csv, ImportContext context, IReadOnlyList<Field>? fields = null)
    {
        fields ??= ContentFields.All;
        IReadOnlyList<string> known = Headers(context.Networks, fields);
        List<string[]> records = Records(csv);
        if (records.Count == 0)
            throw new ImportSheetException("The file is empty. Start it with a header row: " + Use(fields) + ".");
        string[] header = CheckHeader(records[0], known, fields);
        if (records.Count - 1 > MostRows)
            throw new ImportSheetException($"The file has {records.Count - 1} rows; {MostRows} is the most at once. Split it.");
        List<ImportRow> rows = [];
        Dictionary<(string, string), int> seen = [];
        for (int i = 1; i < records.Count; i++)
        {
            if (records[i].All(string.IsNullOrWhiteSpace))
                continue;
            rows.Add(new ImportRowReader(header, records[i], i + 1, context, fields, seen).Read());
        }
        return rows;
    }

    private static string Use(IReadOnlyList<Field> fields) =>
        $"title, category, date, time, {string.Join(", ", fields.Select(f => f.Key))}; with a network behind it, as in text:jot, a field "
        + "is for that one alone";

    /// <summary>The header that is meant, whatever its letter case; also by the name that a field once had.</summary>
    private static string Named(string header, IReadOnlyList<string> known, IReadOnlyList<Field> fields)
    {
        string meant = header;
        foreach (Field field in fields.Where(f => f.HashKey != f.Key))
        {
            if (header.Split(':')[0].Equals(field.HashKey, StringComparison.OrdinalIgnoreCase))
                meant = field.Key + header[field.HashKey.Length..];
        }
        return known.FirstOrDefault(k => string.Equals(k, meant, StringComparison.OrdinalIgnoreCase)) ?? header;
    }

    private static string[] CheckHeader(string[] first, IReadOnlyList<string> known, IReadOnlyList<Field> fields)
    {
        string[] header = [.. first.Select(h => Named(h.Trim(), known, fields))];
        string[] unknown = [.. header.Where(h => h.Length > 0 && !known.Contains(h))];
        if (unknown.Length > 0)
            throw new ImportSheetException($"Unknown headers: {string.Join(", ", unknown.Take(5).Select(Short))}. Use: {Use(fields)}.");
        if (!header.Any(h => fields.Any(f => f.IsEverywhere && f != ContentFields.Link && h.Split(':')[0] == f.Key)))
            throw new ImportSheetException("The first row must name the columns, with a column `text` at least.");
        string? twice = header.Where(h => h.Length > 0).GroupBy(h => h).FirstOrDefault(g => g.Count() > 1)?.Key;
        if (twice is not null)
            throw new ImportSheetException($"The header `{twice}` stands twice. Leave one of them.");
        return header;
    }

    private static string Short(string text) => text.Length <= 30 ? text : text[..30] + "…";

    private static List<string[]> Records(string csv)
    {
        csv = csv.TrimStart('\uFEFF');
        CsvConfiguration format = new(CultureInfo.InvariantCulture)
        {
            Delimiter = Delimiter(csv),
            HasHeaderRecord = false,
            BadDataFound = null,
            IgnoreBlankLines = false,
        };
        using StringReader text = new(csv);
        using CsvParser parser = new(text, format);
        List<string[]> records = [];
        while (parser.Read() && records.Count <= MostRows + 1)
            records.Add(parser.Record ?? []);
        return records;
    }

    private static string Delimiter(string csv)
    {
        int end = csv.IndexOfAny(['\r', '\n']);
        string first = end < 0 ? csv : csv[..end];
        return Delimiters.MaxBy(d => first.Split(d).Length)!;
    }
}
