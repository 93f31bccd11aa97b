using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using NodaTime;

namespace AbleLark.StandIns;

/// <summary>The networks' own small check, written apart from the application's, so that the one tests the other.</summary>
internal static partial class Checker
{
    /// <summary>Why the network won't have the post; null when it will.</summary>
    /// <param name="above">The post that it stands under, as a comment or a further part; null: none.</param>
    public static string? Refusal(
        StandInNetwork network,
        PostingApi.NewPost post,
        IEnumerable<RemotePost> recent,
        Instant now,
        string? above = null
    )
    {
        string text = post.Text ?? "";
        int pictures = post.Media?.Length ?? 0;
        if (text.Trim().Length == 0 && pictures == 0)
            return "The post is empty.";
        if (above is not null && network.MostComment is { } longest && text.Length > longest)
            return $"The comment has {text.Length} characters, {longest} is the most.";
        if (network.MostWeight is { } weight && Weight(text) > weight)
            return $"The text weighs {Weight(text)}, {weight} is the most.";
        if (network.MostUnits is { } units && text.Length > units)
            return $"The text has {text.Length} characters, {units} is the most.";
        if (network.MostCodePoints is { } points && CodePoints(text) > points)
            return $"The text has {CodePoints(text)} characters, {points} is the most.";
        if (network.MostGraphemes is { } graphemes && Graphemes(Shortened(text)) > graphemes)
            return $"The text has {Graphemes(Shortened(text))} characters, {graphemes} is the most.";
        if (pictures > network.MostPictures)
            return $"{pictures} pictures, {network.MostPictures} is the most.";
        if (network.MostHashtags is { } tags && HashtagPattern().Count(text) + HashtagPattern().Count(above ?? "") > tags)
            return $"More than {tags} hashtags.";
        if (
            network.RepeatDays is { } days
            && recent.Any(p => now - p.CreatedAt < Duration.FromDays(days) && Folded(p.Text) == Folded(text))
        )
            return $"The same text was posted within {days} days.";
        return above is null ? RefusalOfMore(network, post, pictures) : null;
    }

    private static string? RefusalOfMore(StandInNetwork network, PostingApi.NewPost post, int pictures)
    {
        if (pictures < network.FewestPictures)
            return "A picture is needed.";
        if (network.NeedsLink && string.IsNullOrEmpty(post.Link))
            return "A link is needed.";
        if (network.WantsAltText && pictures > 0 && string.IsNullOrWhiteSpace(post.Say("altText")))
            return "The picture has no alt text.";
        foreach ((string name, MoreRule rule) in network.More ?? new Dictionary<string, MoreRule>())
        {
            string said = post.Say(name) ?? "";
            if (rule.Needed && said.Trim().Length == 0)
                return $"“{name}” is needed.";
            int length = rule.By switch
            {
                "graphemes" => Graphemes(said.Normalize(NormalizationForm.FormC)),
                "codePoints" => CodePoints(said),
                _ => said.Length,
            };
            if (length > rule.Most)
                return $"“{name}” has {length} characters, {rule.Most} is the most.";
            if (rule.OneOf is { } values && said.Trim().Length > 0 && !values.Contains(said))
                return $"“{name}” is one of: {string.Join(", ", values)}.";
        }
        if (network.HasButton && RefusalOfButton(post) is { } button)
            return button;
        return network.HasDates ? RefusalOfDates(post.Say("offeredFrom"), post.Say("offeredUntil")) : null;
    }

    private static string? RefusalOfButton(PostingApi.NewPost post)
    {
        bool hasVerb = !string.IsNullOrWhiteSpace(post.Say("buttonVerb"));
        bool hasTarget = !string.IsNullOrEmpty(post.Say("buttonTarget"));
        if (hasVerb && !hasTarget && string.IsNullOrEmpty(post.Link))
            return "The button has no target.";
        return hasTarget && !hasVerb ? "The button has no verb." : null;
    }

    private static string? RefusalOfDates(string? from, string? until)
    {
        bool begins = DateOnly.TryParseExact(from, "yyyy-MM-dd", out DateOnly first);
        bool ends = DateOnly.TryParseExact(until, "yyyy-MM-dd", out DateOnly last);
        if (begins != ends)
            return "Both dates are needed, or neither.";
        if (begins && last < first)
            return "It ends before it begins.";
        return begins && last > first.AddYears(1) ? "A year at most." : null;
    }

    private static int CodePoints(string text) => text.Normalize(NormalizationForm.FormC).EnumerateRunes().Count();

    private static int Graphemes(string text) => new StringInfo(text).LengthInTextElements;

    private static string Shortened(string text) => LinkPattern().Replace(text.Normalize(NormalizationForm.FormC), new string('x', 23));

    private static int Weight(string text)
    {
        int weight = 0;
        TextElementEnumerator elements = StringInfo.GetTextElementEnumerator(Shortened(text));
        while (elements.MoveNext())
        {
            Rune[] runes = [.. elements.GetTextElement().EnumerateRunes()];
            bool emoji = runes.Any(r => r.Value is >= 0x1F000 and <= 0x1FAFF or 0xFE0F or 0x20E3);
            weight += emoji
                ? 2
                : runes.Sum(r =>
                    r.Value is <= 0x10FF or (>= 0x2000 and <= 0x200D) or (>= 0x2010 and <= 0x201F) or (>= 0x2032 and <= 0x2037) ? 1 : 2
                );
        }
        return weight;
    }

    private static string Folded(string text) => SpacePattern().Replace(text.Normalize(NormalizationForm.FormC), " ").Trim();

    [GeneratedRegex(
        @"https?://[^\s]+[^\s.,;:!?)\]""']|\b[a-z0-9-]+(\.[a-z0-9-]+)*\.(org|com|net)\b(/[^\s]*[^\s.,;:!?)\]""'])?",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex LinkPattern();

    [GeneratedRegex(@"(?<=^|\s)#\w*\p{L}\w*")]
    private static partial Regex HashtagPattern();

    [GeneratedRegex(@"\s+")]
    private static partial Regex SpacePattern();
}
