using System.Text;

namespace AbleLark.Core.Tests.Text;

/// <summary>A few thousand texts: picked by hand for what is hard, and generated from pieces of many scripts with a fixed seed.</summary>
internal static class Corpus
{
    private static readonly string[] Picked =
    [
        "",
        " ",
        "plain words",
        "Ünïcödé é (NFC) e\u0301 (NFD)",
        "日本語の短い文",
        "한국어 문장",
        "ﷺ عربي نص",
        "עברית",
        "हिन्दी में क्षत्रिय",
        "ไทย ข้อความ",
        "👍",
        "👍🏽 thumbs",
        "👩‍👩‍👧‍👦 family",
        "🏳️‍🌈",
        "🇮🇪🇫🇷🇯🇵",
        "1️⃣ 2️⃣ #️⃣",
        "☀️ sun, ☀ sun",
        "©️ ©",
        "🏴󠁧󠁢󠁳󠁣󠁴󠁿",
        "See https://marram.example.org/walks/dawn",
        "bare example.org domain",
        "see example.org/path?a=b&c=d#e.",
        "(https://example.org/a_(b))",
        "https://example.org:8080/port",
        "http://example.org/a,b;c!",
        "mail me at wren@example.org",
        "not.a.domain.zzz",
        "EXAMPLE.ORG",
        "xn--mnchen-3ya.example.org",
        "https://example.org/ünïcode/straße",
        "日本語example.org",
        "example.orgですよ",
        "https://example.org/日本",
        "example.org…",
        "“example.org”",
        "#birds #Vögel #鳥 #1234 #a1 # #_ ##twice a#b",
        "#tag1#tag2",
        "&#tag",
        "/#tag",
        "#tag.",
        "#a-b",
        "#ünïcode_ok",
        "@wren and @a_b @@twice me@here",
        "line one\nline two\r\nline three",
        "tabs\tand  spaces",
        "…—–‘’“”",
        "\u2060\u200B\u200D",
        "𝒳 𝓎 mathematical",
        "🐦 bird https://example.org 🐦",
        "https://example.org https://example.com https://example.net",
        "https://example.org?x=1",
        "http://a.b.c.example.org/",
        "https://example",
        "ftp://example.org",
        "a.example.org. b",
        "example.org, example.com; example.net",
        "@example.org",
        "#example.org",
        "$example.org",
        "-example.org",
        "_example.org",
        "e.example.org-",
    ];

    private static readonly string[] Pieces =
    [
        "bird",
        "sea",
        "fog ",
        "Wren",
        " ",
        "  ",
        "\n",
        ".",
        ",",
        "!",
        "?",
        "…",
        "–",
        "(",
        ")",
        "“",
        "”",
        "'",
        "#",
        "@",
        "&",
        "/",
        "-",
        "_",
        "1",
        "23",
        "é",
        "e\u0301",
        "ß",
        "ø",
        "Ж",
        "ю",
        "λ",
        "א",
        "ب",
        "ह",
        "ก",
        "鳥",
        "と",
        "カ",
        "한",
        "가",
        "𝒳",
        "\u200B",
        "👍",
        "👍🏽",
        "🐦",
        "👩‍🔬",
        "👨‍👩‍👧",
        "🏳️‍🌈",
        "🇮🇪",
        "🇫🇷",
        "1️⃣",
        "☀️",
        "❤️",
        "⚓",
        " https://example.org",
        " https://example.org/a/b?c=d",
        " http://marram.example.org/walks",
        " example.org",
        " example.com/x",
        " #sightings",
        " #鳥",
        " #2day",
        " @wren",
    ];

    public static IReadOnlyList<string> Texts { get; } = Make();

    private static List<string> Make()
    {
        Random chance = new(20260325);
        List<string> texts = [.. Picked];
        while (texts.Count < 3000)
        {
            StringBuilder text = new();
            int pieces = 1 + chance.Next(24);
            for (int i = 0; i < pieces; i++)
                text.Append(Pieces[chance.Next(Pieces.Length)]);
            texts.Add(text.ToString());
        }
        return texts;
    }
}
