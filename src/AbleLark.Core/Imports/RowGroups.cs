using AbleLark.Core.Content;
using AbleLark.Core.Text;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>What speaks for rows being one post.</summary>
public enum Kinship
{
    OutsideId,
    Title,
    Link,
    Media,
    Text,
}

/// <summary>Rows that are, or may be, one post: each for networks or channels of its own.</summary>
/// <param name="Rows">In the order of the sheet; one alone is a post by itself.</param>
/// <param name="By">What speaks for it, for each row after the first.</param>
public sealed record RowGroup(IReadOnlyList<ImportRow> Rows, IReadOnlyList<Kinship> By)
{
    /// <summary>An id says it; all else somebody has to confirm.</summary>
    public bool IsCertain => By.All(k => k == Kinship.OutsideId);

    public string ByWords =>
        string.Join(
            ", ",
            By.Distinct()
                .Select(k =>
                    k switch
                    {
                        Kinship.OutsideId => "the same outside id",
                        Kinship.Title => "the same title",
                        Kinship.Link => "the same link on one day",
                        Kinship.Media => "the same files on one day",
                        _ => "nearly the same text on one day",
                    }
                )
        );
}

/// <summary>Recognises rows of one post in sheets that have a row for each network.</summary>
public static class RowGroups
{
    /// <summary>Texts of one post for two networks are at least so alike.</summary>
    private const double Alike = 0.5;

    /// <summary>Most groups of one day that a text is compared with.</summary>
    private const int MostCompared = 40;

    private sealed class Growing(ImportRow first)
    {
        public List<ImportRow> Rows { get; } = [first];
        public List<Kinship> By { get; } = [];
        public TextSketch Sketch => Rows[0].Sketch;

        /// <summary>A network, or a channel, has one row of a post.</summary>
        public bool TakesIn(ImportRow row) =>
            Rows.TrueForAll(r =>
                r.Channels is { Count: > 0 } a && row.Channels is { Count: > 0 } b
                    ? !a.Intersect(b).Any()
                    : !r.Networks.Intersect(row.Networks).Any()
            );
    }

    /// <param name="rows">In the order of the sheet.</param>
    public static IReadOnlyList<RowGroup> Find(IEnumerable<ImportRow> rows)
    {
        List<Growing> groups = [];
        Dictionary<(Kinship, string), List<Growing>> known = [];
        Dictionary<LocalDate, List<Growing>> byDay = [];
        foreach (ImportRow row in rows)
        {
            bool isForSome = row.Networks.Count > 0 || row.Channels is { Count: > 0 };
            // What goes to all of its category's channels is a post by itself.
            if (!isForSome)
            {
                groups.Add(new(row));
                continue;
            }
            (Kinship By, string Value)[] signs = [.. Signs(row)];
            Growing? group = null;
            Kinship by = default;
            foreach ((Kinship kind, string value) in signs)
            {
                group = known.GetValueOrDefault((kind, value))?.LastOrDefault(g => g.TakesIn(row));
                by = kind;
                if (group is not null)
                    break;
            }
            if (group is null && row is { Date: { } day, Text.Length: > 0 } && byDay.TryGetValue(day, out List<Growing>? there))
            {
                TextSketch sketch = row.Sketch;
                (group, by) = (
                    there.TakeLast(MostCompared).LastOrDefault(g => g.TakesIn(row) && g.Sketch.LikenessTo(sketch) >= Alike),
                    Kinship.Text
                );
            }
            if (group is null)
            {
                groups.Add(group = new(row));
                if (row.Date is { } date)
                    (byDay.TryGetValue(date, out List<Growing>? ofDay) ? ofDay : byDay[date] = []).Add(group);
            }
            else
            {
                group.Rows.Add(row);
                group.By.Add(by);
            }
            foreach ((Kinship, string) sign in signs)
            {
                List<Growing> with = known.TryGetValue(sign, out List<Growing>? all) ? all : known[sign] = [];
                if (with.Count == 0 || with[^1] != group)
                    with.Add(group);
            }
        }
        return [.. groups.Select(g => new RowGroup(g.Rows, g.By))];
    }

    private static IEnumerable<(Kinship, string)> Signs(ImportRow row)
    {
        if (row.OutsideId is { } id)
            yield return (Kinship.OutsideId, id);
        if (HeaderWords.Plain(row.Title) is { Length: > 0 } title)
            yield return (Kinship.Title, title);
        if (row.Date is not { } date)
            yield break;
        if (row.Content.Common.Get(ContentFields.Link) is { } link)
            yield return (Kinship.Link, $"{date} {IdenticalText.Fingerprint(link)}");
        if (row.Content.AllFiles().Any())
            yield return (Kinship.Media, $"{date} {string.Join(' ', row.Content.AllFiles().Order())}");
    }
}
