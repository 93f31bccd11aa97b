using System.Globalization;
using AbleLark.Core.Text;

namespace AbleLark.Core.Content;

/// <summary>Makes texts shorter.</summary>
internal static class TextFitting
{
    public const string Ellipsis = "…";

    /// <summary>A text without those parts, nor the space that stood between each and what was before.</summary>
    public static string Without(string text, IEnumerable<TextPart> parts)
    {
        foreach (TextPart part in parts.OrderByDescending(p => p.Start))
        {
            int start = part.Start;
            int end = part.End;
            // What stands right behind it must not grow together with what stands before.
            if (end == text.Length || char.IsWhiteSpace(text[end]))
            {
                while (start > 0 && text[start - 1] == ' ')
                    start--;
            }
            // At the start of a line there is no space before it: then the one after it goes.
            if (start == 0 || text[start - 1] == '\n')
            {
                while (end < text.Length && text[end] == ' ')
                    end++;
            }
            text = text.Remove(start, end - start);
        }
        return text.TrimEnd();
    }

    /// <summary>The longest beginning that fits with an ellipsis behind it; never through a link, a hashtag, a mention or a grapheme, and
    /// through a word only where the first is too long already.</summary>
    public static string Cut(string text, Func<string, bool> fits)
    {
        text = TextCounter.Normalise(text);
        bool[] isInside = new bool[text.Length];
        foreach (TextPart part in TextParts.Find(text))
            isInside.AsSpan(part.Start + 1, part.Length - 1).Fill(true);
        int[] all = [.. StringInfo.ParseCombiningCharacters(text).Where(at => at > 0 && !isInside[at])];
        int[] words = [.. all.Where(at => char.IsWhiteSpace(text[at]))];
        return Longest(words) ?? Longest(all) ?? "";

        string? Longest(int[] places)
        {
            // The first place that fits no more lies where the binary search ends, but for texts whose count doesn't grow with them.
            int low = 0;
            int high = places.Length;
            while (low < high)
            {
                int middle = (low + high) / 2;
                (low, high) = Fits(places[middle]) ? (middle + 1, high) : (low, middle);
            }
            for (int i = low - 1; i >= 0; i--)
            {
                if (Fits(places[i]) && text[..places[i]].Trim().Length > 0)
                    return text[..places[i]].TrimEnd() + Ellipsis;
            }
            return null;
        }

        bool Fits(int at) => fits(text[..at].TrimEnd() + Ellipsis);
    }
}
