using System.Globalization;
using System.Reflection;
using System.Text;
using System.Text.RegularExpressions;

namespace AbleLark.Core.Text;

public enum TextPartKind
{
    Link,
    Hashtag,
    Mention,
}

/// <summary>A stretch of a text that networks treat specially. Start and length in UTF-16 units.</summary>
public readonly record struct TextPart(TextPartKind Kind, int Start, int Length)
{
    public int End => Start + Length;
}

/// <summary>
/// Finds links, hashtags and mentions in a text, in the way short-text networks do: bare domains count as links when
/// they end in a known top-level domain; hashtags need a letter; mentions are not parts of e-mail addresses.
/// </summary>
public static partial class TextParts
{
    private const string PathChars = @"\p{IsCyrillic}\u00C0-\u024Fa-zA-Z0-9!*';:=+,.$/%#\[\]\-\u2013_~@|&";
    private const string PathEnd = @"\p{IsCyrillic}\u00C0-\u024Fa-zA-Z0-9+\-=_#/";
    private const string InBrackets = @"\((?:[" + PathChars + @"]|\([" + PathChars + @"]*\))*\)";
    private const string TagChars =
        @"\p{L}\p{M}\p{Nd}_\u200C\u200D\uA67E\u05BE\u05F3\u05F4\uFF5E\u301C\u309B\u309C\u30A0\u30FB\u3003\u0F0B\u0F0C\u00B7";

    /// <summary>A guard against texts made to keep a pattern busy, by the clock on the wall: a machine that has much else to do soon loses
    /// a second.</summary>
    private const int MostMilliseconds = 20_000;

    private static readonly HashSet<string> TopLevel = ReadTopLevelDomains();

    /// <summary>All links, hashtags and mentions, in order of place; they never overlap.</summary>
    public static IReadOnlyList<TextPart> Find(string text)
    {
        // Most networks get the same words, and each asks in turn.
        if (text != _lastText)
            (_lastText, _lastParts) = (text, Look(text));
        return _lastParts!;
    }

    [ThreadStatic]
    private static string? _lastText;

    [ThreadStatic]
    private static IReadOnlyList<TextPart>? _lastParts;

    private static List<TextPart> Look(string text)
    {
        List<TextPart> parts = [];
        FindLinks(text, parts);
        int links = parts.Count;
        Add(HashtagPattern(), WithoutAstralLetters(text), TextPartKind.Hashtag);
        Add(MentionPattern(), text, TextPartKind.Mention);
        parts.Sort((a, b) => a.Start.CompareTo(b.Start));
        return parts;

        void Add(Regex pattern, string searched, TextPartKind kind)
        {
            // Both come in order of place: each link is passed once.
            int link = 0;
            foreach (Match m in pattern.Matches(searched))
            {
                while (link < links && parts[link].End <= m.Index)
                    link++;
                if (link == links || parts[link].Start >= m.Index + m.Length)
                    parts.Add(new(kind, m.Index, m.Length));
            }
        }
    }

    private static void FindLinks(string text, List<TextPart> found)
    {
        int from = 0;
        foreach (Match m in DomainPattern().Matches(text))
        {
            if (m.Index < from)
                continue;
            bool hasScheme = m.Groups["scheme"].Success;
            Group host = m.Groups["host"];
            char? after = host.Index + host.Length < text.Length ? text[host.Index + host.Length] : null;
            int hostEnd = EndOfKnownDomain(host.Value, after, hasScheme);
            if (hostEnd == 0)
                continue;
            if (!hasScheme && m.Index > 0 && "-_./".Contains(text[m.Index - 1], StringComparison.Ordinal))
                continue;
            int end = host.Index + hostEnd;
            end += TailPattern().Match(text, end).Length;
            found.Add(new(TextPartKind.Link, m.Index, end - m.Index));
            from = end;
        }
    }

    /// <summary>Letters and digits outside the basic plane take two UTF-16 units, which a pattern sees as no letter: plain ones of the
    /// same length stand in for them.</summary>
    private static string WithoutAstralLetters(string text)
    {
        if (!text.Any(char.IsHighSurrogate))
            return text;
        char[] units = text.ToCharArray();
        for (int i = 0; i < units.Length - 1; i++)
        {
            if (!char.IsSurrogatePair(text, i))
                continue;
            Rune rune = new(text[i], text[i + 1]);
            char? stand =
                Rune.IsLetter(rune)
                || Rune.GetUnicodeCategory(rune) is UnicodeCategory.NonSpacingMark or UnicodeCategory.SpacingCombiningMark
                    ? 'x'
                : Rune.IsDigit(rune) ? '0'
                : null;
            if (stand is { } s)
                units[i] = units[i + 1] = s;
            i++;
        }
        return new(units);
    }

    /// <summary>Length of the longest start of <paramref name="host"/> that ends in a known top-level domain; 0 if none.</summary>
    /// <param name="after">The character after the host: one of an address (@, +) makes it no domain.</param>
    private static int EndOfKnownDomain(string host, char? after, bool hasScheme)
    {
        string[] labels = host.Split('.');
        int length = host.Length;
        for (int i = labels.Length - 1; i >= 1; length -= labels[i].Length + 1, i--)
        {
            string before = labels[i - 1];
            if (before.Length == 0 || before[0] is '-' or '_' || before[^1] is '-' or '_' || before.Contains('_', StringComparison.Ordinal))
                continue;
            int asciiEnd = 0;
            while (asciiEnd < labels[i].Length && char.IsAsciiLetterOrDigit(labels[i][asciiEnd]))
                asciiEnd++;
            if (
                asciiEnd < labels[i].Length
                && labels[i][asciiEnd] == '-'
                && !labels[i].StartsWith("xn--", StringComparison.OrdinalIgnoreCase)
            )
                continue;
            if (i == labels.Length - 1 && asciiEnd == labels[i].Length && after is ('@' or '+'))
                continue;
            if (labels[i].StartsWith("xn--", StringComparison.OrdinalIgnoreCase) && hasScheme)
                return length;
            if (TopLevel.Contains(labels[i][..asciiEnd]))
                return length - labels[i].Length + asciiEnd;
        }
        return 0;
    }

    private static HashSet<string> ReadTopLevelDomains()
    {
        using Stream stream = Assembly.GetExecutingAssembly().GetManifestResourceStream("AbleLark.Core.Text.top-level-domains.txt")!;
        using StreamReader reader = new(stream);
        HashSet<string> names = new(StringComparer.OrdinalIgnoreCase);
        while (reader.ReadLine() is { } line)
        {
            if (!line.StartsWith('#'))
                names.Add(line);
        }
        return names;
    }

    [GeneratedRegex(
        @"(?<![A-Za-z0-9@＠$#＃])(?:(?<scheme>[hH][tT][tT][pP][sS]?://)(?<host>[\p{L}\p{M}\p{Nd}_\-]+(?:\.[\p{L}\p{M}\p{Nd}_\-]+)+)"
            + @"|(?<![\u00C0-\u024F])(?<host>[a-zA-Z0-9\-\u00C0-\u024F_]+(?:\.[a-zA-Z0-9\-\u00C0-\u024F_]+)+))",
        RegexOptions.None,
        MostMilliseconds
    )]
    private static partial Regex DomainPattern();

    [GeneratedRegex(
        @"\G(?::[0-9]+)?(?:/(?:(?:["
            + PathChars
            + @"]|"
            + InBrackets
            + @")*(?:["
            + PathEnd
            + @"]|"
            + InBrackets
            + @"))?)?(?:\?[a-zA-Z0-9!?*'@();:&=+$/%#\[\]\-_.,~|]*[a-zA-Z0-9\-_&=#/])?",
        RegexOptions.None,
        MostMilliseconds
    )]
    private static partial Regex TailPattern();

    [GeneratedRegex(
        @"(?:(?<=[\uFE0E\uFE0F])|(?<!["
            + TagChars
            + @"&]))[#＃](?![\uFE0F\u20E3])(?>["
            + TagChars
            + @"]*[\p{L}\p{M}]["
            + TagChars
            + @"]*)(?![#＃]|://)",
        RegexOptions.None,
        MostMilliseconds
    )]
    private static partial Regex HashtagPattern();

    [GeneratedRegex(
        @"(?<![A-Za-z0-9_!#$%&*@＠])[@＠][A-Za-z0-9_]{1,20}(?![A-Za-z0-9_@＠\u00C0-\u024F]|://)",
        RegexOptions.None,
        MostMilliseconds
    )]
    private static partial Regex MentionPattern();
}
