using System.Globalization;
using System.Text;

namespace AbleLark.Core.Text;

/// <summary>What a network counts when it limits the length of a text.</summary>
public enum TextMeasure
{
    /// <summary>Light scripts weigh 1, others 2, an emoji 2 (see networks/jot.json).</summary>
    Weighted,

    /// <summary>Extended grapheme clusters (Unicode UAX #29).</summary>
    Graphemes,
    Utf16Units,
    CodePoints,
}

/// <summary>A text counted against a limit.</summary>
/// <param name="Units">Units used, in the network's measure.</param>
/// <param name="Limit">Most units allowed.</param>
/// <param name="OverflowAt">Place in the text, in UTF-16 units, where the limit falls; null while the text fits.</param>
/// <param name="Parts">Links, hashtags and mentions found.</param>
public sealed record TextCount(int Units, int Limit, int? OverflowAt, IReadOnlyList<TextPart> Parts)
{
    public bool Fits => OverflowAt is null;
    public int Hashtags => Parts.Count(p => p.Kind == TextPartKind.Hashtag);
    public int Links => Parts.Count(p => p.Kind == TextPartKind.Link);
}

/// <summary>Counts texts in the measures that networks use.</summary>
public static class TextCounter
{
    /// <param name="text">The text; it is counted in NFC, as networks store it.</param>
    /// <param name="measure">What to count.</param>
    /// <param name="limit">Most units allowed.</param>
    /// <param name="linkUnits">Units that every link takes, whatever its length; null counts it as written.</param>
    public static TextCount Count(string text, TextMeasure measure, int limit, int? linkUnits = null)
    {
        string normal = Normalise(text);
        IReadOnlyList<TextPart> parts = TextParts.Find(normal);
        int units = 0;
        int? overflow = null;
        int at = 0;
        int nextLink = 0;
        TextPart[] links = linkUnits is null ? [] : [.. parts.Where(p => p.Kind == TextPartKind.Link)];
        while (at < normal.Length)
        {
            int length;
            if (nextLink < links.Length && links[nextLink].Start <= at)
            {
                length = links[nextLink].End - at;
                units += linkUnits!.Value;
                nextLink++;
            }
            else
            {
                // A cluster may not swallow the start of a link that follows it.
                int end = nextLink < links.Length ? links[nextLink].Start : normal.Length;
                ReadOnlySpan<char> rest = normal.AsSpan(at, end - at);
                // Most of most texts: between two ASCII characters a cluster always ends, but for CR LF (UAX #29, GB3 to GB5).
                bool isPlain = rest.Length > 1 && char.IsAscii(rest[0]) && char.IsAscii(rest[1]) && rest[0] != '\r';
                length = isPlain ? 1 : StringInfo.GetNextTextElementLength(rest);
                units += isPlain ? 1 : Weigh(rest[..length], measure);
            }
            if (units > limit && overflow is null)
                overflow = at;
            at += length;
        }
        return new(units, limit, overflow, parts);
    }

    /// <summary>NFC; texts with lone surrogates, which have no normal form, have them replaced first.</summary>
    public static string Normalise(string text)
    {
        try
        {
            return text.Normalize(NormalizationForm.FormC);
        }
        catch (ArgumentException)
        {
            return string.Concat(text.EnumerateRunes()).Normalize(NormalizationForm.FormC);
        }
    }

    private static int Weigh(ReadOnlySpan<char> cluster, TextMeasure measure) =>
        measure switch
        {
            TextMeasure.Graphemes => 1,
            TextMeasure.Utf16Units => cluster.Length,
            TextMeasure.CodePoints => CodePoints(cluster),
            _ => Weighted(cluster),
        };

    private static int CodePoints(ReadOnlySpan<char> cluster)
    {
        int n = 0;
        foreach (Rune _ in cluster.EnumerateRunes())
            n++;
        return n;
    }

    private static int Weighted(ReadOnlySpan<char> cluster)
    {
        if (Emoji.IsSequence(cluster))
            return 2;
        int weight = 0;
        foreach (Rune rune in cluster.EnumerateRunes())
            weight += IsLight(rune.Value) ? 1 : 2;
        return weight;
    }

    private static bool IsLight(int c) =>
        c is <= 0x10FF or (>= 0x2000 and <= 0x200D) or (>= 0x2010 and <= 0x201F) or (>= 0x2032 and <= 0x2037);
}
