using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace AbleLark.Core.Content;

/// <summary>
/// A hash that stands for what one network would get: the same content always has the same hash, however it is stored. Only fields that
/// are set take part, in the order of their keys, so that a field that comes to be later changes nothing for content that hasn't got it.
/// </summary>
public static class ContentHash
{
    /// <summary>Version of the form below; a change of the form takes another, and approvals in the old one stay comparable by
    /// it.</summary>
    public const int FormVersion = 1;

    /// <param name="content">What is sent to one network.</param>
    public static string Of(ResolvedContent content, ContentSources sources) =>
        Of(content.Fields.Fields.Select(f => KeyValuePair.Create(f.HashKey, f.Form(content.Fields.ValueOf(f), sources))));

    /// <summary>Hash over fields by their stable keys; null and the empty text count as not set.</summary>
    /// <returns>The form's version, a colon, and SHA-256 in lower-case hexadecimal.</returns>
    public static string Of(IEnumerable<KeyValuePair<string, string?>> fields)
    {
        StringBuilder form = new();
        foreach (
            (string key, string? value) in fields.Where(f => !string.IsNullOrEmpty(f.Value)).OrderBy(f => f.Key, StringComparer.Ordinal)
        )
            form.Append(CultureInfo.InvariantCulture, $"{key.Length}:{key}{value!.Length}:{value}");
        // Half of a pair of surrogates is text that people can paste; it must not be taken for another.
        byte[] bytes = Encoding.BigEndianUnicode.GetBytes(form.ToString());
        return $"{FormVersion}:{Convert.ToHexStringLower(SHA256.HashData(bytes))}";
    }
}
