using System.Globalization;
using System.Text;
using AbleLark.Server.Links;
using AbleLark.Server.Media;
using AbleLark.Server.Problems;
using AbleLark.Tests.Shared;

namespace AbleLark.Server.Tests.Media;

/// <summary>Whatever page or document is brought, reading it takes a time that grows as it does, and no faster.</summary>
public sealed class HostileFilesTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("able-lark-hostile-").FullName;

    public void Dispose() => Directory.Delete(_folder, true);

    private static readonly Dictionary<string, (int Size, Func<int, string> Make)> Pages = new(StringComparer.Ordinal)
    {
        ["tags in each other"] = (6_000, n => Many("<div>", n)),
        ["attributes of one tag"] = (600, n => $"<meta {Many("a{0}=b ", n)}>"),
        ["one attribute again and again"] = (600, n => $"<meta {Many("content=b ", n)}>"),
        ["tags that never end"] = (6_000, n => Many("<a ", n)),
        ["comments that never end"] = (6_000, n => Many("<!--", n)),
        ["dashes"] = (20_000, n => "<!--" + new string('-', n)),
        ["declarations"] = (4_000, n => Many("<!DOCTYPE ", n)),
        ["references"] = (10_000, n => $"<title>{Many("&amp", n)}"),
        ["references that there are none of"] = (10_000, n => $"<title>{Many("&CounterClockwiseContourIntegra", n)}"),
        ["references by number"] = (6_000, n => $"<title>&#{new string('9', n)};"),
        ["a title of many pieces"] = (10_000, n => $"<title>{Many("<", n)}"),
        ["titles"] = (4_000, n => Many("<title>a</title>", n)),
        ["a script in a script"] = (4_000, n => $"<script>{Many("<!--<script>", n)}"),
        ["spaces"] = (30_000, n => $"<meta name=description content='{new string(' ', n)}x'>"),
        ["a beginning that says no letters"] = (30_000, n => Many("<meta ", n)),
        ["pictures"] = (4_000, n => Many("<meta property=og:image content=/a{0}.png>", n)),
    };

    public static TheoryData<string> PageNames => [.. Pages.Keys];

    [Theory]
    [MemberData(nameof(PageNames))]
    public void A_page_is_read_in_a_time_that_grows_as_it_does(string name)
    {
        (int size, Func<int, string> make) = Pages[name];
        Growth.IsEven(
            size,
            n => new ReadThing(new Uri("https://pier.example.org/"), "text/html", null, Encoding.UTF8.GetBytes(make(n)), true),
            page => PageReader.Read(page, TestContext.Current.CancellationToken)
        );
    }

    /// <summary>Objects from 1 on, the first of them the document's root; what is left out is made up.</summary>
    private static readonly Dictionary<string, (int Size, Func<int, string[]> Objects)> Documents = new(StringComparer.Ordinal)
    {
        ["pages of one list"] = (50, n => ["<</Type /Catalog /Pages 2 0 R>>", List(n, 3), .. Enumerable.Repeat(Page, n)]),
        ["lists in each other"] = (
            50,
            n =>
                [
                    "<</Type /Catalog /Pages 2 0 R>>",
                    .. Enumerable.Range(3, n).Select(i => $"<</Type /Pages /Count 1 /Kids [{i} 0 R]>>"),
                    Page,
                ]
        ),
        ["a list that is in itself"] = (50, n => ["<</Type /Catalog /Pages 2 0 R>>", "<</Type /Pages /Count 1 /Kids [2 0 R]>>"]),
        ["arrays in each other"] = (
            500,
            n => [$"<</Type /Catalog /Pages 2 0 R /A {new string('[', n)}{new string(']', n)}>>", List(1, 3), Page]
        ),
        ["arrays that never end"] = (500, n => [$"<</Type /Catalog /Pages 2 0 R /A {new string('[', n)}", List(1, 3), Page]),
        ["dictionaries in each other"] = (
            500,
            n => [$"<</Type /Catalog /Pages 2 0 R /A {Many("<</A ", n)}1{Many(">>", n)}>>", List(1, 3), Page]
        ),
        ["brackets in each other"] = (
            2_000,
            n => [$"<</Type /Catalog /Pages 2 0 R /A {new string('(', n)}{new string(')', n)}>>", List(1, 3), Page]
        ),
        ["a long name"] = (4_000, n => [$"<</Type /Catalog /Pages 2 0 R /A /{new string('x', n)}>>", List(1, 3), Page]),
        ["a long number"] = (4_000, n => [$"<</Type /Catalog /Pages 2 0 R /A {new string('9', n)}>>", List(1, 3), Page]),
        ["many keys"] = (500, n => [$"<</Type /Catalog /Pages 2 0 R {Many("/A{0} 1 ", n)}>>", List(1, 3), Page]),
        ["remarks"] = (2_000, n => [$"<</Type /Catalog /Pages 2 0 R {Many("%x\n", n)}>>", List(1, 3), Page]),
        ["things nobody asks for"] = (200, n => ["<</Type /Catalog /Pages 2 0 R>>", List(1, 3), Page, .. Enumerable.Repeat("<</A 1>>", n)]),
    };

    public static TheoryData<string> DocumentNames => [.. Documents.Keys];

    [Theory]
    [MemberData(nameof(DocumentNames))]
    public void A_document_is_read_in_a_time_that_grows_as_it_does(string name)
    {
        (int size, Func<int, string[]> objects) = Documents[name];
        Growth.IsEven(
            size,
            n =>
            {
                string path = Path.Combine(_folder, n.ToString(CultureInfo.InvariantCulture));
                File.WriteAllText(path, Document(objects(n)), Encoding.Latin1);
                return path;
            },
            Read
        );
    }

    /// <summary>A reader that calls itself for each step would end the process.</summary>
    [Theory]
    [InlineData("lists in each other")]
    [InlineData("a list that is in itself")]
    [InlineData("arrays in each other")]
    [InlineData("arrays that never end")]
    [InlineData("dictionaries in each other")]
    [InlineData("brackets in each other")]
    public void However_deep_things_lie_in_each_other_no_server_ends_by_it(string name)
    {
        string path = Path.Combine(_folder, "deep");
        File.WriteAllText(path, Document(Documents[name].Objects(200_000)), Encoding.Latin1);
        Read(path);
    }

    private static void Read(string path)
    {
        try
        {
            FileFactsReader.Read(path, "document", TestContext.Current.CancellationToken);
        }
        catch (ProblemException) { }
    }

    private const string Page = "<</Type /Page /Parent 2 0 R /MediaBox [0 0 9 9]>>";

    private static string List(int pages, int first) =>
        $"<</Type /Pages /Count {pages} /Kids [{string.Join(' ', Enumerable.Range(first, pages).Select(i => $"{i} 0 R"))}]>>";

    /// <summary>A whole file, with where everything stands at its end (ISO 32000-1, 7.5).</summary>
    private static string Document(string[] objects)
    {
        StringBuilder file = new("%PDF-1.4\n");
        StringBuilder places = new(FormattableString.Invariant($"xref\n0 {objects.Length + 1}\n0000000000 65535 f \n"));
        for (int i = 0; i < objects.Length; i++)
        {
            places.Append(CultureInfo.InvariantCulture, $"{file.Length:0000000000} 00000 n \n");
            file.Append(CultureInfo.InvariantCulture, $"{i + 1} 0 obj\n{objects[i]}\nendobj\n");
        }
        int end = file.Length;
        return file.Append(places)
            .Append(CultureInfo.InvariantCulture, $"trailer\n<</Size {objects.Length + 1} /Root 1 0 R>>\nstartxref\n{end}\n%%EOF\n")
            .ToString();
    }

    private static string Many(string what, int times) =>
        string.Concat(
            Enumerable.Range(0, times).Select(i => what.Replace("{0}", i.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal))
        );
}
