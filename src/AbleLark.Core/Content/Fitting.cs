using System.Globalization;
using AbleLark.Core.Findings;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;

namespace AbleLark.Core.Content;

/// <summary>How a finding is mended without asking.</summary>
public enum Fix
{
    CutAtAWord,
    DropHashtags,
    TakeLinkOut,
    LeavePictureOut,
}

/// <summary>One thing that was done to make content fit.</summary>
/// <param name="Wording">Of which wording: 0 the post's own.</param>
/// <param name="Field">Of which field.</param>
/// <param name="Before">What was there and isn't any more; a picture's is empty.</param>
/// <param name="After">What is there now.</param>
public sealed record FixDone(Fix Fix, int Wording, string Field, string Before, string After);

/// <param name="Content">What fits, as far as it can be mended without asking.</param>
/// <param name="Done">In the order in which it was done; empty: nothing was needed, or nothing could be.</param>
public sealed record FittedContent(PostContent Content, IReadOnlyList<FixDone> Done);

/// <summary>Makes content fit a network, as far as that needs no decision. What is changed is that network's, or channel's, alone. Doing it
/// again changes nothing more.</summary>
public static class Fitting
{
    private const string Ellipsis = "…";

    /// <summary>Which findings can be mended without asking, and how; null: a person has to.</summary>
    public static Fix? FixOf(FindingCode code) =>
        code switch
        {
            FindingCode.TextTooLong => Fix.CutAtAWord,
            FindingCode.TooManyHashtags or FindingCode.HashtagsAdvised => Fix.DropHashtags,
            FindingCode.LinkNotClickable => Fix.TakeLinkOut,
            FindingCode.PictureKind
            or FindingCode.PictureTooHeavy
            or FindingCode.PictureTooNarrow
            or FindingCode.PictureTooLow
            or FindingCode.PictureRatio => Fix.LeavePictureOut,
            _ => null,
        };

    /// <summary>Mends every wording for one target.</summary>
    public static FittedContent Fit(PostContent content, Target target, ContentSources sources)
    {
        List<FixDone> done = [];
        for (int wording = 0; wording <= content.Wordings.Count; wording++)
        {
            // One after the other: dropping hashtags may spare a cut. Each is tried once, so that this ends.
            foreach (Fix fix in new[] { Fix.TakeLinkOut, Fix.DropHashtags, Fix.LeavePictureOut, Fix.CutAtAWord })
            {
                if (ContentCheck.Check(content, target, sources, wording).Findings.All(f => FixOf(f.Code) != fix))
                    continue;
                content = Apply(fix, content, target, wording, done);
            }
        }
        return new(content, done);
    }

    private static PostContent Apply(Fix fix, PostContent content, Target target, int wording, List<FixDone> done)
    {
        FieldValues written = content.Written(target, wording);
        string text = written.Get(ContentFields.Text) ?? "";
        bool hasPicture = written.Get(ContentFields.Picture) is not null;
        switch (fix)
        {
            case Fix.TakeLinkOut:
                string unlinked = Without(text, TextParts.Find(text).Where(p => p.Kind == TextPartKind.Link));
                // Nothing would be left: a link that nobody can click is better than that.
                if (string.IsNullOrWhiteSpace(unlinked) && !hasPicture)
                    return content;
                content = Say(ContentFields.Text, text, unlinked);
                return written.Get(ContentFields.Link) is { } link ? Say(ContentFields.Link, link, null) : content;
            case Fix.DropHashtags:
                return DropHashtags();
            case Fix.LeavePictureOut when target.Rules.Pictures.Fewest == 0 && !string.IsNullOrWhiteSpace(text):
                done.Add(new(fix, wording, ContentFields.Picture.Key, "", ""));
                return content.Saying(target, wording, ContentFields.Picture, null);
            case Fix.CutAtAWord:
                return Say(ContentFields.Text, text, Cut(text, written, target.Rules));
            default:
                return content;
        }

        PostContent DropHashtags()
        {
            int most = target.Rules.Hashtags.Advised ?? target.Rules.Hashtags.Most ?? int.MaxValue;
            string comment = written.Get(ContentFields.FirstComment) ?? "";
            TextPart[] ofText = Hashtags(text);
            TextPart[] ofComment = Hashtags(comment);
            int surplus = ofText.Length + ofComment.Length - most;
            // The last go first: those of the comment, then those of the text.
            int fromComment = Math.Clamp(surplus, 0, ofComment.Length);
            int fromText = Math.Clamp(surplus - fromComment, 0, ofText.Length);
            string lighter = Without(text, ofText[^fromText..]);
            if (string.IsNullOrWhiteSpace(lighter) && !hasPicture)
                return content;
            content = Say(ContentFields.FirstComment, comment, Without(comment, ofComment[^fromComment..]));
            return Say(ContentFields.Text, text, lighter);
        }

        PostContent Say(Field<string> field, string before, string? after)
        {
            if (before == (after ?? ""))
                return content;
            done.Add(new(fix, wording, field.Key, before, after ?? ""));
            return content.Saying(target, wording, field, after);
        }
    }

    private static TextPart[] Hashtags(string text) => [.. TextParts.Find(text).Where(p => p.Kind == TextPartKind.Hashtag)];

    /// <summary>A text without those parts, nor the space that stood between each and what was before.</summary>
    private static string Without(string text, IEnumerable<TextPart> parts)
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

    /// <summary>The longest beginning that fits, with the link if the network wants it in the text; never through a link, a hashtag, a
    /// mention or a grapheme, and through a word only where the first is too long already.</summary>
    private static string Cut(string text, FieldValues written, NetworkRules rules)
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

        bool Fits(int at)
        {
            FieldValues cut = written.With(ContentFields.Text, text[..at].TrimEnd() + Ellipsis);
            string shown = PostContent.LinkAsShown(cut, rules.Link).Get(ContentFields.Text)!;
            return TextCounter.Count(shown, rules.Text.Measure, rules.Text.Limit, rules.Text.LinkUnits).Fits;
        }
    }
}
