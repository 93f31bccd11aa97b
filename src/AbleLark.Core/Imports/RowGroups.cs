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

    /// <summary>Somebody joined them.</summary>
    Hand,
}

/// <summary>Rows that are, or may be, one post: each for networks or channels of its own.</summary>
/// <param name="Rows">In the order of the sheet; one alone is a post by itself.</param>
/// <param name="By">What speaks for it, for each row after the first.</param>
public sealed record RowGroup(IReadOnlyList<ImportRow> Rows, IReadOnlyList<Kinship> By)
{
    /// <summary>An id says it, or somebody did; all else has to be confirmed.</summary>
    public bool IsCertain => By.All(k => k is Kinship.OutsideId or Kinship.Hand);

    /// <summary>True for a row alone, and for rows that somebody joined: nothing was recognised.</summary>
    public bool IsByHand => By.All(k => k == Kinship.Hand);

    /// <summary>The rows but for one, in words.</summary>
    public string Others(int than)
    {
        int[] others = [.. Rows.Select(r => r.Number).Where(n => n != than)];
        return others.Length == 1 ? $"row {others[0]}" : $"rows {string.Join(", ", others[..^1])} and {others[^1]}";
    }

    /// <summary>Each row by itself, but for those that somebody joined.</summary>
    /// <param name="with">See <see cref="RowGroups.Find"/>.</param>
    internal IEnumerable<RowGroup> KeptApart(IReadOnlyDictionary<int, int> with) =>
        Rows.GroupBy(r => with.TryGetValue(r.Number, out int other) && Rows.Any(o => o.Number == other) ? other : r.Number)
            .Select(g => new RowGroup([.. g], [.. g.Skip(1).Select(_ => Kinship.Hand)]));

    public string ByWords =>
        string.Join(
            ", ",
            By.Where(k => k != Kinship.Hand)
                .Distinct()
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
        public TextSketch Sketch => Rows[0].SketchOfWords;

        public RowGroup Group()
        {
            // Whoever was joined by hand may stand above the others.
            Rows.Sort((a, b) => a.Number.CompareTo(b.Number));
            return new(Rows, By);
        }

        /// <summary>A network, or a channel, has one row of a post.</summary>
        public bool TakesIn(ImportRow row) =>
            Rows.TrueForAll(r =>
                r.Channels is { Count: > 0 } a && row.Channels is { Count: > 0 } b
                    ? !a.Intersect(b).Any()
                    : !r.Networks.Intersect(row.Networks).Any()
            );
    }

    /// <param name="rows">In the order of the sheet.</param>
    /// <param name="with">By number of a row, what a person said about it: the row whose post it is part of, or its own number for one by
    /// itself.</param>
    public static IReadOnlyList<RowGroup> Find(IEnumerable<ImportRow> rows, IReadOnlyDictionary<int, int>? with = null)
    {
        ImportRow[] all = [.. rows];
        List<Growing> groups = Recognised(all.Where(r => with?.ContainsKey(r.Number) != true));
        if (with is { Count: > 0 })
            Join(groups, all, with);
        return [.. groups.Select(g => g.Group()).OrderBy(g => g.Rows[0].Number)];
    }

    /// <summary>Puts rows where a person said they belong; a row whose other isn't there stands by itself.</summary>
    private static void Join(List<Growing> groups, ImportRow[] all, IReadOnlyDictionary<int, int> with)
    {
        Dictionary<int, Growing> byRow = groups.SelectMany(g => g.Rows.Select(r => (r.Number, g))).ToDictionary(r => r.Number, r => r.g);
        ImportRow[] told = [.. all.Where(r => with.ContainsKey(r.Number))];
        // First those that others may join.
        foreach (ImportRow row in told.Where(r => Head(r.Number) == r.Number))
            groups.Add(byRow[row.Number] = new(row));
        foreach (ImportRow row in told.Where(r => !byRow.ContainsKey(r.Number)))
        {
            if (byRow.TryGetValue(Head(row.Number), out Growing? group))
            {
                group.Rows.Add(row);
                group.By.Add(Kinship.Hand);
            }
            else
                groups.Add(group = new(row));
            byRow[row.Number] = group;
        }

        // Two rows may each have been joined to the other.
        int Head(int row)
        {
            HashSet<int> seen = [];
            while (seen.Add(row) && with.TryGetValue(row, out int next) && next != row)
                row = next;
            return with.TryGetValue(row, out int further) && further != row ? seen.Min() : row;
        }
    }

    private static List<Growing> Recognised(IEnumerable<ImportRow> rows)
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
                TextSketch sketch = row.SketchOfWords;
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
        return groups;
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
