using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Text;

namespace AbleLark.Core.Imports;

/// <summary>What a draft is like: a post of the bank, or an earlier row.</summary>
/// <param name="Known">Null: it is a row.</param>
/// <param name="Row">Number of the row; null: it is a post of the bank.</param>
/// <param name="Likeness">0 to 1; 1: the same.</param>
/// <param name="ById">True: it has that post's outside id.</param>
public sealed record DoubleOf(KnownPost? Known, int? Row, double Likeness, bool ById)
{
    /// <summary>True: it says just the same.</summary>
    public required bool IsSame { get; init; }

    /// <summary>What is done where nobody says otherwise; null: somebody has to say.</summary>
    public DoubleChoice? Proposed =>
        ById ? DoubleChoice.Update
        : IsSame ? DoubleChoice.LeaveOut
        // Rows of one sheet that are nearly the same are a series more often than a slip: it is told, not asked.
        : Known is null ? DoubleChoice.Anyway
        : null;
}

/// <summary>Finds what would be there twice: the same, or nearly the same.</summary>
public static class Doubles
{
    /// <summary>Texts that share less than this are two texts.</summary>
    public const double Near = 0.7;

    /// <summary>A mark that so many texts bear tells nothing.</summary>
    private const int MostWithMark = 64;

    /// <summary>What stands for all that a post says in common: text, link, files.</summary>
    public static string KeyOf(PostContent content)
    {
        FieldValues said = content.Common.Has(ContentFields.Text)
            ? content.Common
            : content.AllLayers().FirstOrDefault(l => !l.IsEmpty) ?? content.Common;
        string link = said.Get(ContentFields.Link) is { } l ? IdenticalText.Fingerprint(l) : "";
        IEnumerable<Id<MediaFile>> files = said.Fields.SelectMany(f => f.Files(said.ValueOf(f))).Distinct().Order();
        return $"{IdenticalText.Fingerprint(said.Get(ContentFields.Text) ?? "")} {link} {string.Join(' ', files)}";
    }

    /// <param name="drafts">In the order of the sheet.</param>
    /// <returns>By the draft's number.</returns>
    public static IReadOnlyDictionary<int, DoubleOf> Find(IReadOnlyList<ImportDraft> drafts, KnownPosts bank)
    {
        Dictionary<int, DoubleOf> found = [];
        Dictionary<string, List<ImportDraft>> same = [];
        Dictionary<uint, List<(TextSketch Sketch, KnownPost? Known, ImportDraft? Draft)>> marks = [];
        foreach (KnownPost known in bank.All)
            Mark(known.Sketch, known, null);
        foreach (ImportDraft draft in drafts)
        {
            string key = draft.DoubleKey;
            TextSketch sketch = draft.First.Sketch;
            if (draft.First.OutsideId is { } id && bank.WithOutsideId(id) is { } byId)
                found[draft.Number] = new(byId, null, byId.Sketch.LikenessTo(sketch), true) { IsSame = false };
            else if (bank.WithText(key) is { } known)
                found[draft.Number] = new(known, null, 1, false) { IsSame = true };
            else if (same.GetValueOrDefault(key)?.Find(d => Meet(d, draft)) is { } before)
                found[draft.Number] = new(null, before.Number, 1, false) { IsSame = true };
            else if (draft.First.Text.Length > 0 && Nearest(draft, sketch) is { } near)
                found[draft.Number] = near;
            // A row that stays out itself makes no other a double.
            if (draft.AllFindings.Any(f => f.Blocks))
                continue;
            (same.TryGetValue(key, out List<ImportDraft>? all) ? all : same[key] = []).Add(draft);
            Mark(sketch, null, draft);
        }
        return found;

        void Mark(TextSketch sketch, KnownPost? known, ImportDraft? draft)
        {
            foreach (uint mark in sketch.Marks)
            {
                var with = marks.TryGetValue(mark, out var all) ? all : marks[mark] = [];
                if (with.Count <= MostWithMark)
                    with.Add((sketch, known, draft));
            }
        }

        DoubleOf? Nearest(ImportDraft draft, TextSketch sketch)
        {
            DoubleOf? nearest = null;
            foreach (uint mark in sketch.Marks)
            {
                if (!marks.TryGetValue(mark, out var with) || with.Count > MostWithMark)
                    continue;
                foreach ((TextSketch other, KnownPost? known, ImportDraft? row) in with)
                {
                    if (row is not null && !Meet(row, draft))
                        continue;
                    double likeness = other.LikenessTo(sketch);
                    if (likeness >= Near && likeness > (nearest?.Likeness ?? 0))
                        nearest = new(known, row?.Number, likeness, false) { IsSame = false };
                }
            }
            return nearest;
        }
    }

    /// <summary>True when some channel would get both.</summary>
    private static bool Meet(ImportDraft one, ImportDraft other) =>
        one.GoesTo.Count == 0 || other.GoesTo.Count == 0 || one.GoesTo.Intersect(other.GoesTo).Any();
}
