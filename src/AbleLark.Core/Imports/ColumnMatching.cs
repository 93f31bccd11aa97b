using AbleLark.Core.Content;
using AbleLark.Core.Text;

namespace AbleLark.Core.Imports;

/// <summary>What spoke for a column's target.</summary>
public enum MatchBasis
{
    /// <summary>Nothing: somebody has to say, or leaves it out.</summary>
    None,
    Header,
    Content,

    /// <summary>So it was chosen before, under headers like these.</summary>
    Remembered,

    /// <summary>A person chose it for this import.</summary>
    Chosen,
}

/// <summary>One column of a sheet.</summary>
/// <param name="Place">From 0.</param>
/// <param name="Target">Key of what it becomes; null: it is left out.</param>
/// <param name="Witnesses">Three values that stand in it.</param>
/// <param name="Filled">How many of its cells hold anything.</param>
public sealed record ColumnMatch(int Place, string Header, string? Target, MatchBasis Basis, IReadOnlyList<string> Witnesses, int Filled);

/// <summary>Finds what the columns of a sheet hold, by their headers and by what stands in them.</summary>
public sealed class ColumnMatching(ImportContext context)
{
    private const int MostSampled = 400;
    private const int Witnesses = 3;
    private const int HeaderWithin = 20;

    /// <summary>Share of cells that must be of a kind for the column to be.</summary>
    private const double Most = 0.8;

    private static readonly string[] FileEnds =
    [
        ".png",
        ".jpg",
        ".jpeg",
        ".gif",
        ".webp",
        ".avif",
        ".mp4",
        ".mov",
        ".pdf",
        ".heic",
        ".svg",
        ".tif",
        ".tiff",
    ];

    private readonly HeaderWords _words = new(context.Targets, context.Networks, context.Channels);
    private readonly Reading _reading = new(context);

    /// <summary>Number of the row that names the columns, from 1; 0: none does.</summary>
    public int HeaderRow(IReadOnlyList<string[]> rows)
    {
        (int best, int known) = (0, 0);
        for (int i = 0; i < Math.Min(rows.Count, HeaderWithin); i++)
        {
            int here = rows[i].Where(c => c.Trim().Length is > 0 and < 60).Select(_words.Find).OfType<ImportTarget>().Distinct().Count();
            if (here > known)
                (best, known) = (i + 1, here);
        }
        // One word that happens to be a header's is no header in a row of many cells.
        return known == 0 || (known == 1 && rows[best - 1].Count(c => c.Trim().Length > 0) > 2) ? 0 : best;
    }

    /// <summary>True for a sheet of our own kind: each header is just as we write it.</summary>
    public bool IsOurs(IReadOnlyList<string[]> rows, int headerRow) =>
        headerRow > 0
        && rows[headerRow - 1].Where(h => h.Trim().Length > 0).All(IsOurs)
        && rows[headerRow - 1].Any(h => _words.Find(h)?.Content == ContentFields.Text);

    private bool IsOurs(string header) =>
        _words.Find(header) is { } target && (target.Name == header.Trim() || target.Key == header.Trim());

    /// <param name="remembered">Targets by plain header, as they were chosen before.</param>
    public IReadOnlyList<ColumnMatch> Match(
        IReadOnlyList<string[]> rows,
        int headerRow,
        IReadOnlyDictionary<string, string?>? remembered = null
    )
    {
        int columns = rows.Count == 0 ? 0 : rows.Max(r => r.Length);
        List<ColumnMatch> found = [];
        HashSet<string> taken = [];
        string[] headers = [.. Enumerable.Range(0, columns).Select(c => headerRow > 0 ? CellOf(rows[headerRow - 1], c) : "")];
        string[][] samples = [.. Enumerable.Range(0, columns).Select(c => Sample(rows, headerRow, c))];
        foreach (int column in Enumerable.Range(0, columns))
        {
            (string? target, MatchBasis basis) = ByHeader(headers[column], samples[column], remembered);
            if (target is not null && !taken.Add(target))
                (target, basis) = (null, MatchBasis.None);
            int filled = rows.Skip(headerRow).Count(r => CellOf(r, column).Length > 0);
            found.Add(new(column, headers[column], target, basis, [.. samples[column].Distinct().Take(Witnesses)], filled));
        }
        // What no header names is found by what stands in it.
        foreach (ColumnMatch column in found.Where(c => c.Basis == MatchBasis.None && c.Filled > 0).ToList())
        {
            if (ByContent(samples[column.Place]) is { } target && taken.Add(target))
                found[column.Place] = column with { Target = target, Basis = MatchBasis.Content };
        }
        if (!taken.Any(t => context.Targets.Find(t) is { Content: { } f } && f == ContentFields.Text))
            FindText(found, samples);
        return found;
    }

    private (string? Target, MatchBasis Basis) ByHeader(string header, string[] sample, IReadOnlyDictionary<string, string?>? remembered)
    {
        if (remembered is not null && remembered.TryGetValue(HeaderWords.Plain(header), out string? before))
            return before is null || context.Targets.Find(before) is not null ? (before, MatchBasis.Remembered) : (null, MatchBasis.None);
        if (_words.Find(header) is not { } target)
            return (null, MatchBasis.None);
        // A network's name heads ticks as often as its text.
        if (
            target is { Content: { } field, Wording: 0 }
            && field == ContentFields.Text
            && (target.Network is not null || target.Channel is not null)
        )
            return TickCell.AreTicks(sample)
                ? (context.Targets.Tick(target.Network, target.Channel).Key, MatchBasis.Content)
                : (target.Key, MatchBasis.Header);
        // A header may say one thing and its cells another: “Day” heads dates as often as weekdays, “Media” files as often as links.
        string? content = ByContent(sample);
        if (target.Row is RowField.Date or RowField.Weekday or RowField.Time && content is not null && IsTime(content))
            return (content, content == target.Key ? MatchBasis.Header : MatchBasis.Content);
        if (
            (target.Content == ContentFields.Pictures || target.Content == ContentFields.Link)
            && target is { Network: null, Channel: null, Wording: 0 }
            && content is not null
            && IsMedia(content)
        )
            return (content, content == target.Key ? MatchBasis.Header : MatchBasis.Content);
        return (target.Key, MatchBasis.Header);
    }

    private static bool IsTime(string key) =>
        key == ImportTargets.KeyOf(RowField.Date)
        || key == ImportTargets.KeyOf(RowField.Weekday)
        || key == ImportTargets.KeyOf(RowField.Time);

    private static bool IsMedia(string key) =>
        key == ContentFields.Pictures.Key || key == ContentFields.Link.Key || key == ImportTargets.KeyOf(RowField.LinkOrFiles);

    /// <summary>What nearly all cells are; null: nothing in particular.</summary>
    private string? ByContent(string[] sample)
    {
        if (sample.Length == 0)
            return null;
        if (Mostly(c => Weekdays.Read(c) is not null))
            return ImportTargets.KeyOf(RowField.Weekday);
        if (Mostly(c => TimeCell.Read(c) is not null && c.Length > 2))
            return ImportTargets.KeyOf(RowField.Time);
        if (Mostly(c => DateCell.Read(c, context.Now.Year) is { } date && (date.IsDate || date.LacksYear)))
            return ImportTargets.KeyOf(RowField.Date);
        if (Mostly(c => _reading.CategoryNamed(c) is not null))
            return ImportTargets.KeyOf(RowField.Category);
        if (Mostly(c => _reading.NetworksNamed(c).Unknown.Count == 0))
            return ImportTargets.KeyOf(RowField.Networks);
        if (Mostly(c => _reading.ChannelsNamed(c, []).Unknown.Count == 0))
            return ImportTargets.KeyOf(RowField.Channels);
        bool links = sample.Any(WebAddress.IsValid),
            files = sample.Any(IsFile);
        if (Mostly(c => WebAddress.IsValid(c) || IsFile(c)))
            return links && files ? ImportTargets.KeyOf(RowField.LinkOrFiles)
                : links ? ContentFields.Link.Key
                : ContentFields.Pictures.Key;
        return null;

        bool Mostly(Func<string, bool> holds) => sample.Count(holds) >= Most * sample.Length;
    }

    private bool IsFile(string cell) =>
        cell.Split([';', '\n', ','], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries) is { Length: > 0 } names
        && Array.TrueForAll(
            names,
            n => context.Files.ContainsKey(n) || Array.Exists(FileEnds, e => n.EndsWith(e, StringComparison.OrdinalIgnoreCase))
        );

    /// <summary>Without a header for it, the longest texts of all are the posts'.</summary>
    private static void FindText(List<ColumnMatch> found, string[][] samples)
    {
        int[] free = [.. found.Where(c => c.Target is null && c.Basis == MatchBasis.None && c.Filled > 0).Select(c => c.Place)];
        if (free.Length == 0)
            return;
        int longest = free.MaxBy(c => samples[c].Average(s => s.Length));
        if (samples[longest].Average(s => s.Length) >= 20)
            found[longest] = found[longest] with { Target = ContentFields.Text.Key, Basis = MatchBasis.Content };
    }

    private static string[] Sample(IReadOnlyList<string[]> rows, int headerRow, int column)
    {
        int step = Math.Max(1, (rows.Count - headerRow) / MostSampled);
        return
        [
            .. Enumerable
                .Range(0, Math.Min(rows.Count - headerRow, MostSampled))
                .Select(i => CellOf(rows[headerRow + (i * step)], column))
                .Where(c => c.Length > 0),
        ];
    }

    private static string CellOf(string[] row, int column) => column < row.Length ? row[column].Trim() : "";
}
