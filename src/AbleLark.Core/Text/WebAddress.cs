namespace AbleLark.Core.Text;

/// <summary>A link that people may be sent to: http or https, with a host.</summary>
public static class WebAddress
{
    /// <summary>Longest link kept, in characters.</summary>
    public const int Longest = 2000;

    public static bool IsValid(string link) =>
        link.Length <= Longest
        && Uri.TryCreate(link, UriKind.Absolute, out Uri? uri)
        && uri.Scheme is "http" or "https"
        && uri.Host.Length > 0
        && !link.Any(c => char.IsWhiteSpace(c) || char.IsControl(c));
}
