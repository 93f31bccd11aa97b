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
    /// <param name="atMost">After so many parts it leaves off: what is left of the text is in none.</param>
    /// <returns>Stretches of the text in their order; one that can't be made to fit is cut after its first grapheme that may be.</returns>
    public static IReadOnlyList<Range> Split(string text, Func<int, string, bool> fits, int atMost = int.MaxValue)
    {
        Places places = new(text);
        List<Range> parts = [];
        int start = SkipSpace(text, 0);
        while (start < text.Length && parts.Count < atMost)
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
        int? farthest = Last(places.Any, _ => true);
        // Nothing stands behind the last place but one more grapheme: the rest is tried only once it may fit.
        if ((farthest ?? start) >= (places.Any.Count > 0 ? places.Any[^1] : 0) && fits(text[start..].TrimEnd()))
            return text.Length;
        int any = farthest ?? (FirstAfter(places.Any, start) is var next && next < places.Any.Count ? places.Any[next] : text.Length);
        int least = start + (int)((any - start) * Least);
        return Last(places.Paragraphs, at => at >= least)
            ?? Last(places.Sentences, at => at >= least)
            ?? Last(places.Words, _ => true)
            ?? any;

        int? Last(IReadOnlyList<int> all, Func<int, bool> wanted)
        {
            int first = FirstAfter(all, start);
            // The count grows with the text, but for a few characters: the last place that fits is looked for in strides that double, then
            // by halves, then stepped back to. So a part costs what it holds, however long the text is.
            int stride = 1;
            while (first + stride <= all.Count && Fits(first + stride - 1))
                stride *= 2;
            int low = first + (stride / 2);
            int high = Math.Min(all.Count, first + stride - 1);
            while (low < high)
            {
                int middle = (low + high) / 2;
                (low, high) = Fits(middle) ? (middle + 1, high) : (low, middle);
            }
            for (int i = low - 1; i >= first; i--)
            {
                if (Fits(i))
                    return wanted(all[i]) ? all[i] : null;
            }
            return null;

            bool Fits(int place) => fits(text[start..all[place]].TrimEnd());
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
