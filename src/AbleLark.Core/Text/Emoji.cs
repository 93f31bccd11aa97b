using System.Text;

namespace AbleLark.Core.Text;

/// <summary>Tells whether a grapheme cluster is an emoji made of several code points (Unicode UTS #51).</summary>
internal static class Emoji
{
    private const int KeycapMark = 0x20E3;
    private const int EmojiStyle = 0xFE0F;

    // Extended_Pictographic below U+1F000, Unicode 17.
    private static readonly (int First, int Last)[] Pictographs =
    [
        (0xA9, 0xA9),
        (0xAE, 0xAE),
        (0x203C, 0x203C),
        (0x2049, 0x2049),
        (0x2122, 0x2122),
        (0x2139, 0x2139),
        (0x2194, 0x2199),
        (0x21A9, 0x21AA),
        (0x231A, 0x231B),
        (0x2328, 0x2328),
        (0x23CF, 0x23CF),
        (0x23E9, 0x23F3),
        (0x23F8, 0x23FA),
        (0x24C2, 0x24C2),
        (0x25AA, 0x25AB),
        (0x25B6, 0x25B6),
        (0x25C0, 0x25C0),
        (0x25FB, 0x25FE),
        (0x2600, 0x2604),
        (0x260E, 0x260E),
        (0x2611, 0x2611),
        (0x2614, 0x2615),
        (0x2618, 0x2618),
        (0x261D, 0x261D),
        (0x2620, 0x2620),
        (0x2622, 0x2623),
        (0x2626, 0x2626),
        (0x262A, 0x262A),
        (0x262E, 0x262F),
        (0x2638, 0x263A),
        (0x2640, 0x2640),
        (0x2642, 0x2642),
        (0x2648, 0x2653),
        (0x265F, 0x2660),
        (0x2663, 0x2663),
        (0x2665, 0x2666),
        (0x2668, 0x2668),
        (0x267B, 0x267B),
        (0x267E, 0x267F),
        (0x2692, 0x2697),
        (0x2699, 0x2699),
        (0x269B, 0x269C),
        (0x26A0, 0x26A1),
        (0x26A7, 0x26A7),
        (0x26AA, 0x26AB),
        (0x26B0, 0x26B1),
        (0x26BD, 0x26BE),
        (0x26C4, 0x26C5),
        (0x26C8, 0x26C8),
        (0x26CE, 0x26CF),
        (0x26D1, 0x26D1),
        (0x26D3, 0x26D4),
        (0x26E9, 0x26EA),
        (0x26F0, 0x26F5),
        (0x26F7, 0x26FA),
        (0x26FD, 0x26FD),
        (0x2702, 0x2702),
        (0x2705, 0x2705),
        (0x2708, 0x270D),
        (0x270F, 0x270F),
        (0x2712, 0x2712),
        (0x2714, 0x2714),
        (0x2716, 0x2716),
        (0x271D, 0x271D),
        (0x2721, 0x2721),
        (0x2728, 0x2728),
        (0x2733, 0x2734),
        (0x2744, 0x2744),
        (0x2747, 0x2747),
        (0x274C, 0x274C),
        (0x274E, 0x274E),
        (0x2753, 0x2755),
        (0x2757, 0x2757),
        (0x2763, 0x2764),
        (0x2795, 0x2797),
        (0x27A1, 0x27A1),
        (0x27B0, 0x27B0),
        (0x27BF, 0x27BF),
        (0x2934, 0x2935),
        (0x2B05, 0x2B07),
        (0x2B1B, 0x2B1C),
        (0x2B50, 0x2B50),
        (0x2B55, 0x2B55),
        (0x3030, 0x3030),
        (0x303D, 0x303D),
        (0x3297, 0x3297),
        (0x3299, 0x3299),
    ];

    /// <summary>True for a cluster of two or more code points that is shown as one emoji.</summary>
    public static bool IsSequence(ReadOnlySpan<char> cluster)
    {
        Rune.DecodeFromUtf16(cluster, out Rune first, out int used);
        ReadOnlySpan<char> rest = cluster[used..];
        if (rest.IsEmpty)
            return false;
        if (IsKeycapBase(first.Value))
            return rest[^1] == KeycapMark;
        if (IsFlagLetter(first.Value))
        {
            Rune.DecodeFromUtf16(rest, out Rune second, out _);
            return IsFlagLetter(second.Value);
        }
        // A pictograph with combining marks other than the emoji's own joiners is a letter-like cluster, not an emoji.
        return IsPictograph(first.Value) && OnlyEmojiParts(rest);
    }

    private static bool OnlyEmojiParts(ReadOnlySpan<char> rest)
    {
        foreach (Rune rune in rest.EnumerateRunes())
        {
            int c = rune.Value;
            bool part = c is EmojiStyle or 0x200D or (>= 0x1F3FB and <= 0x1F3FF) or (>= 0xE0020 and <= 0xE007F) || IsPictograph(c);
            if (!part)
                return false;
        }
        return true;
    }

    private static bool IsKeycapBase(int c) => c is '#' or '*' or (>= '0' and <= '9');

    private static bool IsFlagLetter(int c) => c is >= 0x1F1E6 and <= 0x1F1FF;

    private static bool IsPictograph(int c)
    {
        if (c >= 0x1F000)
            return c is <= 0x1FAFF or (>= 0x1FC00 and <= 0x1FFFD);
        foreach ((int firstOf, int lastOf) in Pictographs)
        {
            if (c < firstOf)
                return false;
            if (c <= lastOf)
                return true;
        }
        return false;
    }
}
