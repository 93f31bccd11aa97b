namespace AbleLark.Core.Imports;

/// <summary>A cell that says whether a row goes somewhere.</summary>
internal static class TickCell
{
    /// <summary>From everyday use (common practice, no source), in lower case and without marks.</summary>
    private static readonly HashSet<string> Yes =
    [
        "x",
        "×",
        "✓",
        "✔",
        "☑",
        "✅",
        "•",
        "*",
        "1",
        "y",
        "yes",
        "true",
        "on",
        "ok",
        "j",
        "ja",
        "wahr",
        "oui",
        "vrai",
        "si",
        "vero",
        "verdadero",
        "waar",
        "s",
        "sim",
        "verdadeiro",
    ];

    private static readonly HashSet<string> No =
    [
        "-",
        "–",
        "—",
        "☐",
        "✗",
        "✘",
        "❌",
        "0",
        "n",
        "no",
        "not",
        "false",
        "off",
        "nein",
        "falsch",
        "non",
        "faux",
        "falso",
        "nee",
        "onwaar",
        "nao",
    ];

    /// <summary>Most different values that are a choice rather than texts, and the most letters of one.</summary>
    private const int MostValues = 4,
        MostLetters = 12;

    /// <summary>Null: it is neither.</summary>
    public static bool? Read(string cell)
    {
        string plain = DateLanguages.Folded(cell.Trim().TrimEnd('\uFE0F'));
        return plain.Length == 0 || No.Contains(plain) ? false
            : Yes.Contains(plain) ? true
            : null;
    }

    /// <summary>True where filled cells of a column are ticks, or few, short values again and again: a choice, not texts.</summary>
    public static bool AreTicks(IReadOnlyCollection<string> cells)
    {
        if (cells.Count == 0)
            return false;
        string[] values = [.. cells.Distinct(StringComparer.OrdinalIgnoreCase).Take(MostValues + 1)];
        return values.Length <= MostValues
            && values.All(v => v.Length <= MostLetters)
            && (values.All(v => Read(v) is not null) || cells.Count >= 2 * values.Length);
    }
}
