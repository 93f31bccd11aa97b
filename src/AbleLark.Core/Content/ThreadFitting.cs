using AbleLark.Core.Networks;
using AbleLark.Core.Text;

namespace AbleLark.Core.Content;

/// <summary>Makes threads of what is too long.</summary>
internal static class ThreadFitting
{
    /// <summary>True when the text is short enough as it would be sent.</summary>
    public static bool Fits(FieldValues written, NetworkRules rules, ContentSources sources) =>
        FitsText(ResolvedContent.Of(written, rules, sources).Text, rules);

    private static bool FitsText(string text, NetworkRules rules) =>
        TextCounter.Count(text, rules.Text.Measure, rules.Text.Limit, rules.Text.LinkUnits).Fits;

    /// <summary>Splits what is too long of a text and its further parts, up to as many parts as the network takes; what is left after
    /// those is cut off.</summary>
    /// <param name="first">What the post itself says.</param>
    /// <param name="rest">The further parts.</param>
    /// <param name="isLinkSaid">True when the post's link stands in the parts now.</param>
    public static void Split(
        string text,
        FieldValues written,
        NetworkRules rules,
        ContentSources sources,
        out string first,
        out PostThread? rest,
        out bool isLinkSaid
    )
    {
        PostThread before = written.Get(ContentFields.Thread) ?? new([]);
        int most = rules.RulesOf(ContentFields.Thread.Key)?.Limit ?? 1;
        isLinkSaid = false;
        if (!Fits(written, rules, sources))
        {
            // With its link, which then stands where the text ends.
            string shown = ResolvedContent.LinkAsShown(written.With(ContentFields.Text, text), rules.Link).Get(ContentFields.Text) ?? "";
            isLinkSaid = written.Get(ContentFields.Link) is not null && rules.Link != LinkShown.Card;
            text = shown;
        }
        List<ThreadPart> parts = [];
        // As many numerals as the parts come to need.
        for (int guess = before.Parts.Count + 1; parts.Count != guess; )
        {
            guess = Math.Max(guess, parts.Count);
            parts = [.. before.Parts.Prepend(new ThreadPart(text)).Aggregate(new List<ThreadPart>(), (all, p) => Add(all, p, guess))];
            if (parts.Count <= guess)
                break;
        }
        if (parts.Count > most)
        {
            parts = parts[..most];
            string last = parts[^1].Text + TextFitting.Ellipsis;
            parts[^1] = parts[^1] with
            {
                Text = FitsPart(last, most, most) ? last : TextFitting.Cut(parts[^1].Text, t => FitsPart(t, most, most)),
            };
        }
        first = parts[0].Text;
        rest = parts.Count == 1 ? null : before with { Parts = parts[1..] };

        List<ThreadPart> Add(List<ThreadPart> all, ThreadPart part, int of)
        {
            int done = all.Count;
            string normal = TextCounter.Normalise(part.Text);
            IReadOnlyList<Range> ranges = FitsPart(normal, done + 1, of)
                ? []
                : ThreadSplit.Split(normal, (n, t) => FitsPart(t, done + n, of), most + 1);
            if (ranges.Count == 0)
                all.Add(part);
            // Its pictures stay with its beginning.
            all.AddRange(ranges.Select((r, i) => new ThreadPart(normal[r], i == 0 ? part.Pictures : null)));
            return all;
        }

        bool FitsPart(string words, int number, int of) =>
            FitsText(Mentions.Resolve(words, rules, sources) + (before.IsNumbered ? PostThread.Number(number, of) : ""), rules);
    }
}
