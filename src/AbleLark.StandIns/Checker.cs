using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using NodaTime;

namespace AbleLark.StandIns;

/// <summary>The networks' own small check, written apart from the application's, so that the one tests the other.</summary>
internal static partial class Checker
{
    /// <summary>Why the network won't have the post; null when it will.</summary>
    /// <param name="facts">Of its files, in their order.</param>
    /// <param name="above">The texts that it stands under, as a comment or a further part, the nearest first; empty: it stands by
    /// itself.</param>
    public static string? Refusal(
        StandInNetwork network,
        PostingApi.NewPost post,
        IReadOnlyList<MediaFacts> facts,
        IEnumerable<RemotePost> recent,
        Instant now,
        params IReadOnlyList<string> above
    )
    {
        string text = post.Text ?? "";
        bool isUnder = above.Count > 0;
        if (isUnder && network.MostComment is null && !(above.Count < network.MostParts))
            return network.MostParts is null ? "Nothing can stand under a post here." : $"{network.MostParts} parts at most.";
        if (text.Trim().Length == 0 && facts.Count == 0)
            return "The post is empty.";
        if (isUnder && network.MostComment is { } longest && text.Length > longest)
            return $"The comment has {text.Length} characters, {longest} is the most.";
        if (network.MostWeight is { } weight && Weight(text) > weight)
            return $"The text weighs {Weight(text)}, {weight} is the most.";
        if (network.MostUnits is { } units && text.Length > units)
            return $"The text has {text.Length} characters, {units} is the most.";
        if (network.MostCodePoints is { } points && CodePoints(text) > points)
            return $"The text has {CodePoints(text)} characters, {points} is the most.";
        if (network.MostGraphemes is { } graphemes && Graphemes(Shortened(text)) > graphemes)
            return $"The text has {Graphemes(Shortened(text))} characters, {graphemes} is the most.";
        if (MediaChecker.Refusal(network, facts) is { } media)
            return media;
        if (network.MostHashtags is { } tags && HashtagPattern().Count(text) + above.Sum(a => HashtagPattern().Count(a)) > tags)
            return $"More than {tags} hashtags.";
        if (
            network.RepeatDays is { } days
            && !isUnder
            && recent.Any(p => p.Under is null && now - p.CreatedAt < Duration.FromDays(days) && Folded(p.Text) == Folded(text))
        )
            return $"The same text was posted within {days} days.";
        if (RefusalOfAltText(network, post, facts) is { } words)
            return words;
        return isUnder ? null : RefusalOfMore(network, post, facts);
    }

    private static string? RefusalOfAltText(StandInNetwork network, PostingApi.NewPost post, IReadOnlyList<MediaFacts> facts)
    {
        if (network.MostAltText is not { } most || !facts.Any(f => f.Kind.StartsWith("image/", StringComparison.Ordinal)))
            return null;
        string[] all = [.. post.Media!.Select(m => (m.AltText ?? "").Normalize(NormalizationForm.FormC))];
        if (all.Any(string.IsNullOrWhiteSpace))
            return "A picture has no alt text.";
        return all.Any(a => Graphemes(a) > most) ? $"An alt text has more than {most} characters." : null;
    }

    private static string? RefusalOfMore(StandInNetwork network, PostingApi.NewPost post, IReadOnlyList<MediaFacts> facts)
    {
        string wanted = post.Say("format") switch
        {
            "video" => "video",
            "document" => "application",
            "pictures" => "image",
            _ => "",
        };
        if (wanted.Length > 0 && !facts.Any(f => f.Kind.StartsWith(wanted, StringComparison.Ordinal)))
            return $"A {(wanted == "image" ? "picture" : wanted == "video" ? wanted : "document")} is needed.";
        if (network.FewestPictures > 0 && facts.Count < network.FewestPictures)
            return "A picture is needed.";
        if (network.NeedsVideo && facts.Count == 0)
            return "A video is needed.";
        if (network.NeedsLink && string.IsNullOrEmpty(post.Link))
            return "A link is needed.";
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
