using System.Text;
using System.Text.RegularExpressions;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Work;
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

/// <summary>Reads what a page says of itself for those who link to it: by the Open Graph protocol (ogp.me), and where it doesn't, from
/// its plain
/// HTML. Nothing of the page is run, and nothing else is fetched.</summary>
public sealed partial class LinkReader(SafeReading reading, HeavyReading heavy)
{
    /// <summary>What is said for cards stands at the beginning of a page.</summary>
    private const int MostBytes = 512 * 1024;

    private const int MostPictures = 6;
    private const int MostAddress = 2_000;
    private const int MostTitle = 300;
    private const int MostText = 1_000;

    /// <exception cref="ReadingException">It can't be read, or is no page.</exception>
    public async Task<PageSummary> ReadAsync(Id<Workspace> workspace, Uri address, CancellationToken cancellation)
    {
        ReadThing page = await reading.ReadAsync(address, MostBytes, "text/html,application/xhtml+xml", cancellation);
        if (page.Kind is not ("text/html" or "application/xhtml+xml"))
            throw new ReadingException($"is no page but {(page.Kind is { Length: > 0 and < 100 } kind ? kind : "something unnamed")}");
        Found found = await FoundAsync(workspace, page, cancellation);
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

    private async Task<Found> FoundAsync(Id<Workspace> workspace, ReadThing page, CancellationToken cancellation)
    {
        try
        {
            return await heavy.RunAsync(workspace, ended => Read(page, ended), cancellation);
        }
        catch (TooSlowException e)
        {
            throw new ReadingException(e.Message);
        }
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
    /// tree's
    /// builder busy for minutes.</summary>
    private static Found Read(ReadThing page, CancellationToken ended)
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
