using System.Globalization;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;

namespace AbleLark.Core.Posts;

/// <summary>The count and the findings for one network.</summary>
public sealed record CheckedContent(ResolvedContent Content, TextCount Count, IReadOnlyList<Finding> Findings)
{
    /// <summary>True when nothing keeps the network from taking it.</summary>
    public bool Fits => Block is null;

    /// <summary>The first finding that keeps it out, in words; null: it fits.</summary>
    public string? Block => Findings.FirstOrDefault(f => f.Blocks)?.Words;

    /// <summary>The same for each of its wordings.</summary>
    public IReadOnlyList<CheckedContent> Wordings { get; init; } = [];
}

/// <summary>Checks a post's content against a network's rules.</summary>
public static class ContentCheck
{
    /// <summary>Checks all wordings of a post.</summary>
    /// <param name="find">The file behind a picture; null when it isn't there.</param>
    public static CheckedContent CheckAll(PostContent content, NetworkRules rules, Func<Id<MediaFile>, MediaFile?> find)
    {
        CheckedContent[] all =
        [
            .. Enumerable
                .Range(0, content.Wordings.Count + 1)
                .Select(i => Check(content, rules, content.For(rules, i).PictureId is { } id ? find(id) : null, i)),
        ];
        return all[0] with { Wordings = all[1..] };
    }

    /// <summary>Checks one wording.</summary>
    /// <param name="content">The post's content with its variants.</param>
    /// <param name="rules">The network.</param>
    /// <param name="picture">The file behind the resolved picture; null when there is none.</param>
    /// <param name="wording">Which wording; see <see cref="PostContent.For"/>.</param>
    public static CheckedContent Check(PostContent content, NetworkRules rules, MediaFile? picture, int wording = 0)
    {
        ResolvedContent resolved = content.For(rules, wording);
        TextCount count = TextCounter.Count(resolved.Text, rules.Text.Measure, rules.Text.Limit, rules.Text.LinkUnits);
        List<Finding> findings = [];
        CheckText(resolved, count, rules, findings);
        CheckHashtags(count, rules, findings);
        CheckPicture(resolved, picture, rules, findings);
        if (rules.Link == LinkShown.NotClickable && count.Links > 0)
            findings.Add(new(FindingCode.LinkNotClickable, Severity.Advice, "link", rules.Name));
        return new(resolved, count, findings);
    }

    private static void CheckText(ResolvedContent resolved, TextCount count, NetworkRules rules, List<Finding> findings)
    {
        if (string.IsNullOrWhiteSpace(resolved.Text) && resolved.PictureId is null)
            findings.Add(new(FindingCode.NothingToSend, Severity.Blocks, "text", rules.Name));
        if (!count.Fits)
            findings.Add(
                new(
                    FindingCode.TextTooLong,
                    Severity.Blocks,
                    "text",
                    Whole(count.Units),
                    Whole(count.Limit),
                    rules.Name,
                    Whole(count.Units - count.Limit)
                )
            );
        if (rules.Text.FoldAfter is { } fold && count.Units > fold)
            findings.Add(new(FindingCode.TextFolds, Severity.Advice, "text", Whole(fold), rules.Name));
    }

    private static void CheckHashtags(TextCount count, NetworkRules rules, List<Finding> findings)
    {
        if (rules.Hashtags.Most is { } most && count.Hashtags > most)
            findings.Add(new(FindingCode.TooManyHashtags, Severity.Blocks, "text", Whole(count.Hashtags), Whole(most), rules.Name));
        else if (rules.Hashtags.Advised is { } advised && count.Hashtags > advised)
            findings.Add(new(FindingCode.HashtagsAdvised, Severity.Advice, "text", Whole(count.Hashtags), Whole(advised), rules.Name));
    }

    private static void CheckPicture(ResolvedContent resolved, MediaFile? picture, NetworkRules rules, List<Finding> findings)
    {
        PictureRules allowed = rules.Pictures;
        if (picture is null || resolved.PictureId is null)
        {
            if (allowed.Fewest > 0)
                findings.Add(new(FindingCode.PictureMissing, Severity.Blocks, "picture", rules.Name));
            return;
        }
        if (!allowed.Kinds.Contains(picture.Kind))
            findings.Add(new(FindingCode.PictureKind, Severity.Blocks, "picture", picture.Kind, rules.Name));
        if (allowed.MostBytes is { } most && picture.Bytes > most)
            findings.Add(
                new(FindingCode.PictureTooHeavy, Severity.Blocks, "picture", Megabytes(picture.Bytes), Megabytes(most), rules.Name)
            );
        if (allowed.MinWidth is { } least && picture.Width < least)
            findings.Add(new(FindingCode.PictureTooNarrow, Severity.Blocks, "picture", Whole(picture.Width), Whole(least), rules.Name));
        double ratio = (double)picture.Width / picture.Height;
        if (ratio < (allowed.MinRatio ?? 0) || ratio > (allowed.MaxRatio ?? double.MaxValue))
            findings.Add(
                new(
                    FindingCode.PictureRatio,
                    Severity.Blocks,
                    "picture",
                    Ratio(ratio),
                    Ratio(allowed.MinRatio ?? 0),
                    Ratio(allowed.MaxRatio ?? 0),
                    rules.Name
                )
            );
    }

    private static string Whole(int n) => n.ToString("N0", CultureInfo.InvariantCulture);

    private static string Ratio(double r) => r.ToString("0.##", CultureInfo.InvariantCulture);

    private static string Megabytes(long bytes) => (bytes / 1048576.0).ToString("0.#", CultureInfo.InvariantCulture);
}
