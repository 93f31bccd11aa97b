using System.Security.Cryptography;
using System.Text;

namespace AbleLark.Core.Text;

/// <summary>Decides when a network takes two texts for the same.</summary>
public static class IdenticalText
{
    /// <summary>
    /// A short fingerprint of the text: equal for texts that differ only in Unicode form, in spaces, or in how a link is
    /// written (scheme, trailing slash, letter case of the host, query and fragment).
    /// </summary>
    public static string Fingerprint(string text)
    {
        // Most networks get the same words, and each asks in turn.
        if (text != _lastText)
            (_lastText, _lastFingerprint) = (text, WorkOut(text));
        return _lastFingerprint!;
    }

    [ThreadStatic]
    private static string? _lastText;

    [ThreadStatic]
    private static string? _lastFingerprint;

    private static string WorkOut(string text)
    {
        string normal = TextCounter.Normalise(text);
        StringBuilder folded = new(normal.Length);
        int at = 0;
        foreach (TextPart link in TextParts.Find(normal).Where(p => p.Kind == TextPartKind.Link))
        {
            folded.Append(normal, at, link.Start - at).Append(Target(normal.Substring(link.Start, link.Length)));
            at = link.End;
        }
        folded.Append(normal, at, normal.Length - at);
        string spaced = string.Join(' ', folded.ToString().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(spaced)).AsSpan(0, 16));
    }

    private static string Target(string link)
    {
        string full = link.Contains("://", StringComparison.Ordinal) ? link : "https://" + link;
        return Uri.TryCreate(full, UriKind.Absolute, out Uri? uri) ? uri.Host + uri.AbsolutePath.TrimEnd('/') : link;
    }
}
