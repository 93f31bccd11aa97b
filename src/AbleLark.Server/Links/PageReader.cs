using System.Text;
using System.Text.RegularExpressions;
using AngleSharp.Html;
using AngleSharp.Html.Parser;
using AngleSharp.Html.Parser.Tokens;
using AngleSharp.Text;

namespace AbleLark.Server.Links;

/// <summary>What a page says of itself.</summary>
/// <param name="Title">Empty: nothing.</param>
/// <param name="Text">Empty: nothing.</param>
/// <param name="Pictures">Addresses, the page's own choice first.</param>
public sealed record PageSummary(string Title, string Text, IReadOnlyList<string> Pictures);

/// <summary>Reads what a page says of itself: by the Open Graph protocol (ogp.me), and where it doesn't, from its plain HTML.</summary>
public static partial class PageReader
{
    private const int MostPictures = 6;
    private const int MostAddress = 2_000;
    private const int MostTitle = 300;
    private const int MostText = 1_000;

    /// <summary>Old pages are written in letters that a server doesn't know by itself.</summary>
    static PageReader() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <param name="ended">Nobody waits for it any longer.</param>
    public static PageSummary Read(ReadThing page, CancellationToken ended)
    {
        Found found = Tags(page, ended);
        return new(
            Tidy(found.Title.Length > 0 ? found.Title : found.PlainTitle, MostTitle),
            Tidy(found.Text.Length > 0 ? found.Text : found.PlainText, MostText),
            [
                .. found
                    .Pictures.Concat(found.Shown)
                    .Select(p => Uri.TryCreate(page.Address, p.Trim(), out Uri? picture) ? picture : null)
                    .OfType<Uri>()
                    .Where(p => p.Scheme == Uri.UriSchemeHttp || p.Scheme == Uri.UriSchemeHttps)
                    .Select(p => p.AbsoluteUri)
                    .Where(p => p.Length <= MostAddress)
                    .Distinct()
                    .Take(MostPictures),
            ]
        );
    }

    /// <summary>What stands in a page's tags.</summary>
    private sealed class Found
    {
        public string Title { get; set; } = "";
        public string Text { get; set; } = "";
        public string PlainTitle { get; set; } = "";
        public string PlainText { get; set; } = "";
        public List<string> Pictures { get; } = [];
        public List<string> Shown { get; } = [];
    }

    /// <summary>Goes through the page tag by tag. No tree is made of it: a page that opens ten thousand tags in each other would keep the
    /// tree's builder busy for minutes.</summary>
    private static Found Tags(ReadThing page, CancellationToken ended)
    {
        using MemoryStream bytes = new(page.Bytes);
        using TextSource source = new(bytes, EncodingOf(page));
        using HtmlTokenizer tokens = new(source, HtmlEntityProvider.Resolver);
        Found found = new();
        bool isInTitle = false;
        while (true)
        {
            ended.ThrowIfCancellationRequested();
            HtmlToken token = tokens.Get();
            switch (token.Type)
            {
                case HtmlTokenType.EndOfFile:
                    return found;
                case HtmlTokenType.Character when isInTitle && found.PlainTitle.Length < MostAddress:
                    found.PlainTitle += token.Data;
                    break;
                case HtmlTokenType.EndTag when token.Name == "title":
                    isInTitle = false;
                    break;
                case HtmlTokenType.StartTag:
                    HtmlTagToken tag = token.AsTag();
                    // The text of these is no HTML, which only whoever builds the tree would say.
                    if (tag.Name is "title" or "textarea")
                        tokens.State = HtmlParseMode.RCData;
                    else if (tag.Name is "script")
                        tokens.State = HtmlParseMode.Script;
                    else if (tag.Name is "style" or "xmp" or "iframe" or "noembed" or "noframes")
                        tokens.State = HtmlParseMode.Rawtext;
                    isInTitle = tag.Name == "title" && found.PlainTitle.Length == 0;
                    if (tag.Name == "meta")
                        Note(found, tag);
                    else if (tag.Name == "img" && found.Shown.Count < MostPictures)
                        found.Shown.Add(tag.GetAttribute("src"));
                    break;
            }
        }
    }

    private static void Note(Found found, HtmlTagToken meta)
    {
        string name = (meta.GetAttribute("property") is { Length: > 0 } property ? property : meta.GetAttribute("name")).Trim();
        string said = meta.GetAttribute("content");
        if (string.IsNullOrWhiteSpace(said))
            return;
        switch (name.ToLowerInvariant())
        {
            case "og:title" when found.Title.Length == 0:
                found.Title = said;
                break;
            case "og:description" when found.Text.Length == 0:
                found.Text = said;
                break;
            case "description" when found.PlainText.Length == 0:
                found.PlainText = said;
                break;
            case "og:image" or "og:image:url" or "og:image:secure_url" when found.Pictures.Count < MostPictures:
                found.Pictures.Add(said);
                break;
        }
    }

    /// <summary>As the answer says, or the page at its beginning; else UTF-8.</summary>
    private static Encoding EncodingOf(ReadThing page)
    {
        string beginning = Encoding.Latin1.GetString(page.Bytes.AsSpan(0, Math.Min(page.Bytes.Length, 1024)));
        return TextEncoding.IsSupported(page.Charset ?? "") ? TextEncoding.Resolve(page.Charset!)
            : CharsetPattern().Match(beginning) is { Success: true } said && TextEncoding.IsSupported(said.Groups[1].Value)
                ? TextEncoding.Resolve(said.Groups[1].Value)
            : Encoding.UTF8;
    }

    [GeneratedRegex("""<meta[^>]*charset\s*=\s*["']?([\w-]+)""", RegexOptions.IgnoreCase)]
    private static partial Regex CharsetPattern();

    /// <summary>On one line, without what can't be kept, and not in the middle of a character.</summary>
    private static string Tidy(string text, int most)
    {
        string line = string.Join(
            ' ',
            text.Replace("\0", "", StringComparison.Ordinal).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
        );
        if (line.Length <= most)
            return line;
        int end = most - 1;
        return (char.IsHighSurrogate(line[end - 1]) ? line[..(end - 1)] : line[..end]) + "…";
    }
}
