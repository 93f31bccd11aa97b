using AbleLark.Core.Text;

namespace AbleLark.Core.Imports;

/// <summary>
/// A small sample of a text's runs of letters, by which two texts can be compared: the smallest hashes of all runs of five letters
/// (bottom-k sketch, Broder 1997). Texts with no more runs than the sample holds are compared exactly.
/// </summary>
public sealed class TextSketch
{
    /// <summary>Letters of one run.</summary>
    private const int Run = 5;

    /// <summary>Runs that are kept.</summary>
    private const int Kept = 64;

    private readonly uint[] _smallest;

    private TextSketch(uint[] smallest) => _smallest = smallest;

    /// <summary>Those by which a text is looked up: two texts that are alike share one of them, but for bad luck.</summary>
    public ReadOnlySpan<uint> Marks => _smallest.AsSpan(0, Math.Min(8, _smallest.Length));

    public static TextSketch Of(string text)
    {
        string plain = Plain(text);
        SortedSet<uint> smallest = [];
        for (int i = 0; i + Run <= plain.Length || i == 0; i++)
        {
            if (plain.Length == 0)
                break;
            uint hash = Hash(plain.AsSpan(i, Math.Min(Run, plain.Length)));
            if (smallest.Count < Kept)
                smallest.Add(hash);
            else if (hash < smallest.Max && smallest.Add(hash))
                smallest.Remove(smallest.Max);
        }
        return new([.. smallest]);
    }

    /// <summary>How alike two texts are: shared runs ÷ all runs, 0 to 1.</summary>
    public double LikenessTo(TextSketch other)
    {
        (int i, int j, int both, int all) = (0, 0, 0, 0);
        (uint[] a, uint[] b) = (_smallest, other._smallest);
        if (a.Length == 0 || b.Length == 0)
            return 0;
        // Where both are whole, all runs count; else the smallest of both together.
        int most = a.Length < Kept && b.Length < Kept ? int.MaxValue : Kept;
        while (all < most && (i < a.Length || j < b.Length))
        {
            all++;
            if (j >= b.Length || (i < a.Length && a[i] < b[j]))
                i++;
            else if (i >= a.Length || b[j] < a[i])
                j++;
            else
            {
                both++;
                i++;
                j++;
            }
        }
        return (double)both / all;
    }

    /// <summary>Letters, figures and signs of mood alone, in lower case, with single spaces: how words are set apart makes no
    /// difference.</summary>
    private static string Plain(string text)
    {
        string normal = TextCounter.Normalise(text);
        Span<char> plain = normal.Length <= 2_000 ? stackalloc char[normal.Length] : new char[normal.Length];
        int length = 0;
        foreach (char c in normal)
        {
            if (char.IsWhiteSpace(c) || char.IsPunctuation(c))
            {
                if (length > 0 && plain[length - 1] != ' ')
                    plain[length++] = ' ';
            }
            else
            {
                plain[length++] = char.ToLowerInvariant(c);
            }
        }
        return plain[..length].Trim(' ').ToString();
    }

    /// <summary>FNV-1a, stirred once more, since its low values cluster for short runs.</summary>
    private static uint Hash(ReadOnlySpan<char> run)
    {
        uint hash = 2166136261;
        foreach (char c in run)
            hash = (hash ^ c) * 16777619;
        hash ^= hash >> 16;
        hash *= 0x85EBCA6B;
        return hash ^ (hash >> 13);
    }
}
