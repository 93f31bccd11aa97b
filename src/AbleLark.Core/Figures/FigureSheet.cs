using System.Globalization;
using System.Text.RegularExpressions;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Core.Figures;

/// <summary>Figures of one post, as a row of a sheet gives them.</summary>
/// <param name="Row">From 1.</param>
/// <param name="Address">The post's own address on the network; empty: not given.</param>
/// <param name="OutsideId">The post's outside id; empty: not given.</param>
/// <param name="Channel">A channel's name or handle, or a network's name; empty: not given.</param>
/// <param name="ReadAt">Local; null: as of now.</param>
public sealed record FigureRow(int Row, string Address, string OutsideId, string Channel, LocalDateTime? ReadAt, FigureSet Figures);

/// <param name="Row">From 1; 0: the sheet as a whole.</param>
public sealed record FigureTrouble(int Row, string Words);

/// <summary>A sheet of figures that were read elsewhere.</summary>
/// <param name="Rows">Those that can be understood; the others are told in <paramref name="Troubles"/>.</param>
public sealed partial record FigureSheet(IReadOnlyList<FigureRow> Rows, IReadOnlyList<FigureTrouble> Troubles)
{
    private const int HeaderWithin = 20;
    private const double Most = 1e10;

    private static readonly string[] Addresses = ["address", "post address", "link", "permalink", "url", "post link", "post url"];
    private static readonly string[] Ids = ["outside id", "id", "post id", "reference"];
    private static readonly string[] Channels = ["channel", "account", "page", "profile", "network", "platform"];
    private static readonly string[] Dates = ["read on", "read at", "as of", "date read", "measured on", "date"];

    /// <summary>Reads cells. What is unclear is never guessed: its row is told and left out.</summary>
    public static FigureSheet Read(IReadOnlyList<string[]> cells)
    {
        int header = Enumerable.Range(0, Math.Min(HeaderWithin, cells.Count)).FirstOrDefault(r => IsHeader(cells[r]), -1);
        if (header < 0)
            return new(
                [],
                [
                    new(
                        0,
                        "No row heads the columns. One must say “Address” or “Outside id”, and at least one a figure: "
                            + string.Join(", ", FigureKind.All.Select(k => k.Words))
                            + "."
                    ),
                ]
            );
        string[] names = [.. cells[header].Select(Plain)];
        (int Column, FigureKind Kind)[] kinds =
        [
            .. names.Select((n, i) => (i, KindOf(n))).Where(k => k.Item2 is not null).Select(k => (k.i, k.Item2!)),
        ];
        List<FigureTrouble> troubles =
        [
            .. kinds
                .GroupBy(k => k.Kind)
                .Where(g => g.Count() > 1)
                .Select(g => new FigureTrouble(header + 1, $"Two columns hold {g.Key.Words}. Leave one.")),
        ];
        if (troubles.Count > 0)
            return new([], troubles);
        List<FigureRow> rows = [];
        for (int r = header + 1; r < cells.Count; r++)
        {
            if (Array.TrueForAll(cells[r], string.IsNullOrWhiteSpace))
                continue;
            try
            {
                rows.Add(ReadRow(r + 1, names, kinds, cells[r]));
            }
            catch (FormatException e)
            {
                troubles.Add(new(r + 1, e.Message));
            }
        }
        return new(rows, troubles);
    }

    private static FigureRow ReadRow(int number, string[] names, (int Column, FigureKind Kind)[] kinds, string[] cells)
    {
        string address = Cell(Addresses),
            id = Cell(Ids),
            date = Cell(Dates);
        if (address.Length == 0 && id.Length == 0)
            throw new FormatException("It names no post: give its address or its outside id.");
        List<(FigureKind, double)> figures = [];
        foreach ((int column, FigureKind kind) in kinds)
        {
            string text = column < cells.Length ? cells[column].Trim() : "";
            if (text.Length > 0)
                figures.Add((kind, NumberOf(text) ?? throw new FormatException($"“{text}” is no number of {kind.Words}.")));
        }
        if (figures.Count == 0)
            throw new FormatException("It holds no figure.");
        LocalDateTime? readAt =
            date.Length == 0 ? null
            : InstantOf(date) is { } at ? at
            : throw new FormatException(
                $"“{date}” can be read in several ways, or in none. Write the date as 2026-11-27, or 2026-11-27 18:30."
            );
        return new(number, address, id, Cell(Channels), readAt, FigureSet.Of(figures));

        string Cell(string[] words) =>
            Array.FindIndex(names, n => words.Contains(n)) is >= 0 and var column && column < cells.Length ? cells[column].Trim() : "";
    }

    /// <summary>A date alone stands for its end: what was read on it was read by then.</summary>
    private static LocalDateTime? InstantOf(string text)
    {
        if (LocalDatePattern.Iso.Parse(text) is { Success: true } day)
            return day.Value.At(new LocalTime(23, 59));
        foreach (string pattern in new[] { "uuuu-MM-dd HH:mm", "uuuu-MM-dd'T'HH:mm", "uuuu-MM-dd HH:mm:ss", "uuuu-MM-dd'T'HH:mm:ss" })
        {
            if (LocalDateTimePattern.CreateWithInvariantCulture(pattern).Parse(text) is { Success: true } time)
                return time.Value;
        }
        return null;
    }

    /// <summary>Figures are whole numbers, so points, commas and spaces between groups of three part thousands; anything else is
    /// none.</summary>
    private static double? NumberOf(string text)
    {
        if (!Whole().IsMatch(text))
            return null;
        double value = double.Parse(string.Concat(text.Where(char.IsAsciiDigit)), CultureInfo.InvariantCulture);
        return value <= Most ? value : null;
    }

    private static bool IsHeader(string[] cells)
    {
        string[] names = [.. cells.Select(Plain)];
        return names.Any(n => Addresses.Contains(n) || Ids.Contains(n)) && names.Any(n => KindOf(n) is not null);
    }

    private static FigureKind? KindOf(string name) =>
        FigureKind.All.FirstOrDefault(k => name == k.Words || name == Plain(k.Key) || name + "s" == k.Words);

    private static string Plain(string name) => name.Trim().ToLowerInvariant().Replace('_', ' ');

    [GeneratedRegex(@"^(\d{1,15}|\d{1,3}([.,'’ \u00a0\u202f]\d{3})+)$")]
    private static partial Regex Whole();
}
