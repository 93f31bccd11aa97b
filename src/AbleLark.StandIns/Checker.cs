using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using NodaTime;

namespace AbleLark.StandIns;

/// <summary>The networks' own small check, written apart from the application's, so that the one tests the other.</summary>
internal static partial class Checker
{
    /// <param name="isUnder">True for a further part or a comment: it needs no picture of its own.</param>
    /// <summary>Why the network won't have the post; null when it will.</summary>
    public static string? Refusal(
        StandInNetwork network,
        string text,
        int pictures,
        IEnumerable<RemotePost> recent,
        Instant now,
        bool isUnder = false
    )
    {
        if (text.Trim().Length == 0 && pictures == 0)
            return "The post is empty.";
        if (network.MostWeight is { } weight && Weight(text) > weight)
            return $"The text weighs {Weight(text)}, {weight} is the most.";
        if (network.MostUnits is { } units && text.Length > units)
            return $"The text has {text.Length} characters, {units} is the most.";
        if (pictures > network.MostPictures)
            return $"{pictures} pictures, {network.MostPictures} is the most.";
        if (!isUnder && pictures < network.FewestPictures)
            return "A picture is needed.";
        if (network.MostHashtags is { } tags && HashtagPattern().Count(text) > tags)
            return $"More than {tags} hashtags.";
        if (
            network.RepeatDays is { } days
            && recent.Any(p => now - p.CreatedAt < Duration.FromDays(days) && Folded(p.Text) == Folded(text))
        )
            return $"The same text was posted within {days} days.";
        return null;
    }

    private static int Weight(string text)
    {
        string shortened = LinkPattern().Replace(text.Normalize(NormalizationForm.FormC), new string('x', 23));
        int weight = 0;
        TextElementEnumerator elements = StringInfo.GetTextElementEnumerator(shortened);
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
