using System.Globalization;

namespace AbleLark.Core.Text;

/// <summary>
/// Cuts a text into the parts of a thread: at paragraphs, else sentences, else words; never inside a link, hashtag, mention or grapheme.
/// White space falls away where it is cut, and nothing else: joined there again, the parts give the text.
/// </summary>
public static class ThreadSplit
{
    /// <summary>A break that makes a part shorter than this share of what would fit is passed over for a lesser one.</summary>
    private const double Least = 0.3;

    private const string SentenceEnds = ".!?…。！？";
    private const string Closing = "\"'”’»)]";

    /// <param name="text">In normal form C.</param>
    /// <param name="fits">True when a part (counted from 1) may say that much, with the number that it carries.</param>
    /// <returns>Stretches of the text in their order; one that can't be made to fit is cut after its first grapheme that may be.</returns>
    public static IReadOnlyList<Range> Split(string text, Func<int, string, bool> fits)
    {
        Places places = new(text);
        List<Range> parts = [];
        int start = SkipSpace(text, 0);
        while (start < text.Length)
        {
            int end = EndOf(places, start, s => fits(parts.Count + 1, s));
            int kept = end;
            while (kept > start && char.IsWhiteSpace(text[kept - 1]))
                kept--;
            parts.Add(start..kept);
            start = SkipSpace(text, end);
        }
        return parts;
    }

    private static int EndOf(Places places, int start, Func<string, bool> fits)
    {
        string text = places.Text;
        if (fits(text[start..].TrimEnd()))
            return text.Length;
        int any = Last(places.Any, _ => true) ?? places.Any.FirstOrDefault(at => at > start, text.Length);
        int least = start + (int)((any - start) * Least);
        return Last(places.Paragraphs, at => at >= least)
            ?? Last(places.Sentences, at => at >= least)
            ?? Last(places.Words, _ => true)
            ?? any;

        int? Last(IReadOnlyList<int> all, Func<int, bool> wanted)
        {
            // The count grows with the text, but for a few characters; so the last place that fits is searched by halves, then stepped to.
            int first = FirstAfter(all, start);
            int low = first;
            int high = all.Count;
            while (low < high)
            {
                int middle = (low + high) / 2;
                (low, high) = fits(text[start..all[middle]].TrimEnd()) ? (middle + 1, high) : (low, middle);
            }
            for (int i = low - 1; i >= first; i--)
            {
                if (fits(text[start..all[i]].TrimEnd()))
                    return wanted(all[i]) ? all[i] : null;
            }
            return null;
        }
    }

    private static int FirstAfter(IReadOnlyList<int> all, int start)
    {
        int low = 0;
        int high = all.Count;
        while (low < high)
        {
            int middle = (low + high) / 2;
            (low, high) = all[middle] <= start ? (middle + 1, high) : (low, middle);
        }
        return low;
    }

    private static int SkipSpace(string text, int at)
    {
        while (at < text.Length && char.IsWhiteSpace(text[at]))
            at++;
        return at;
    }

    /// <summary>Where a text may be cut, each list in order.</summary>
    private sealed class Places
    {
        public Places(string text)
        {
            Text = text;
            bool[] isInside = new bool[text.Length];
            foreach (TextPart part in TextParts.Find(text))
                isInside.AsSpan(part.Start + 1, part.Length - 1).Fill(true);
            Any = [.. StringInfo.ParseCombiningCharacters(text).Where(at => at > 0 && !isInside[at])];
            Words = [.. Any.Where(at => char.IsWhiteSpace(text[at]))];
            Sentences = [.. Words.Where(EndsSentence)];
            Paragraphs = [.. Words.Where(at => text[at] is '\n' or '\r')];
        }

        public string Text { get; }
        public IReadOnlyList<int> Any { get; }
        public IReadOnlyList<int> Words { get; }
        public IReadOnlyList<int> Sentences { get; }
        public IReadOnlyList<int> Paragraphs { get; }

        private bool EndsSentence(int at)
        {
            int last = at - 1;
            while (last > 0 && Closing.Contains(Text[last], StringComparison.Ordinal))
                last--;
            return SentenceEnds.Contains(Text[last], StringComparison.Ordinal);
        }
    }
}
