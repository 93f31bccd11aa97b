using System.Text;

namespace AbleLark.Core.Tests.Imports;

/// <summary>A sheet as people really have it, and what is to come of it.</summary>
/// <param name="Refused">Words of the refusal; null: it is read.</param>
/// <param name="Rows">How many rows it has then, the header and blank ones between too.</param>
/// <param name="Last">What stands in the last cell of the last row.</param>
/// <param name="Doubt">Words of a doubt that is told; null: none is.</param>
internal sealed record NastySheet(
    string Name,
    byte[] Bytes,
    string? Refused = null,
    int Rows = 0,
    string Last = "",
    string? Encoding = null,
    string? Delimiter = null,
    string? Doubt = null
);

/// <summary>Files of text that have each something wrong with them; invented.</summary>
internal static class NastySheets
{
    private static readonly Encoding Western = CodePagesEncodingProvider.Instance.GetEncoding(1252)!;

    public static IReadOnlyList<NastySheet> All { get; } =
    [
        // Encodings.
        new("UTF-8", Utf8("text,category\nWörter,Vögel"), Rows: 2, Last: "Vögel", Encoding: "UTF-8"),
        new("UTF-8 with a mark", [0xEF, 0xBB, 0xBF, .. Utf8("text\nWörter")], Rows: 2, Last: "Wörter", Encoding: "UTF-8"),
        new("UTF-16 with a mark", [0xFF, 0xFE, .. Encoding.Unicode.GetBytes("text,b\nWörter,鳥")], Rows: 2, Last: "鳥", Encoding: "UTF-16"),
        new(
            "UTF-16, big end first",
            [0xFE, 0xFF, .. Encoding.BigEndianUnicode.GetBytes("text\nWörter")],
            Rows: 2,
            Last: "Wörter",
            Encoding: "UTF-16, big end first"
        ),
        new("UTF-16 without a mark", Encoding.Unicode.GetBytes("text,category\nplain,words"), Rows: 2, Last: "words", Encoding: "UTF-16"),
        new("UTF-16, big, without a mark", Encoding.BigEndianUnicode.GetBytes("text,category\nplain,words"), Rows: 2, Last: "words"),
        new("half a UTF-16", [0xFF, 0xFE, .. Encoding.Unicode.GetBytes("text"), 0x41], Refused: "isn't whole"),
        new("Windows-1252", Western.GetBytes("text;b\nStörche – “da”;€"), Rows: 2, Last: "€", Encoding: "Windows-1252", Delimiter: ";"),
        new(
            "two encodings",
            [.. Utf8("text\nStörche\n"), .. Western.GetBytes("Möwen\n"), .. Utf8("Kräne")],
            Rows: 4,
            Last: "Kräne",
            Encoding: "UTF-8",
            Doubt: "Row 3 isn't written in UTF-8"
        ),
        new(
            "two encodings in a quoted cell",
            [.. Utf8("text\n\"Störche\nund "), .. Western.GetBytes("Möwen\"\n"), .. Utf8("Kräne")],
            Rows: 3,
            Last: "Kräne",
            Doubt: "Row 2 isn't"
        ),
        new("plain letters alone", Utf8("text\nplain"), Rows: 2, Last: "plain", Encoding: "UTF-8"),
        // Nothing, or no sheet.
        new("no bytes", [], Refused: "empty"),
        new("spaces alone", Utf8(" \n\t\n "), Refused: "empty"),
        new("a mark alone", [0xEF, 0xBB, 0xBF], Refused: "empty"),
        new("commas alone", Utf8(",,,\n,,,\n"), Refused: "no cells"),
        new("binary", [.. Enumerable.Range(0, 4_000).Select(i => (byte)(i * 7 % 256))], Refused: "no text has"),
        new("a picture", [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A, 0, 0, 0, 0x0D], Refused: "no text has"),
        new("noughts", new byte[2_000], Refused: "no text has"),
        new("one nought in a text", Utf8("text\n" + new string('a', 500) + "\0b"), Refused: "no text has"),
        // Delimiters.
        new("semicolons", Utf8("text;category\na;b"), Rows: 2, Last: "b", Delimiter: ";"),
        new("tabs", Utf8("text\tcategory\na\tb"), Rows: 2, Last: "b", Delimiter: "\t"),
        new("bars", Utf8("text|category\na|b"), Rows: 2, Last: "b", Delimiter: "|"),
        new("semicolons with commas within", Utf8("text;b\na, b, c;d\ne, f, g;h"), Rows: 3, Last: "h", Delimiter: ";"),
        new("commas with semicolons within", Utf8("text,b\n\"a; b; c\",d\n\"e; f\",h"), Rows: 3, Last: "h", Delimiter: ","),
        new(
            "commas in a title above semicolons",
            Utf8("Plan, spring, summer, autumn\ntext;b;c\na;b;c\nd;e;f"),
            Rows: 4,
            Last: "f",
            Delimiter: ";"
        ),
        new("one column", Utf8("text\na\nb"), Rows: 3, Last: "b"),
        new("tabs with everything within", Utf8("text\tb\na,b;c|d\te\nf,g;h|i\tj"), Rows: 3, Last: "j", Delimiter: "\t"),
        // Quotes and line ends.
        new("line ends within cells", Utf8("text,b\n\"one\ntwo\r\nthree\",x"), Rows: 2, Last: "x"),
        new("quotes within quotes", Utf8("text\n\"she said \"\"tern\"\"\""), Rows: 2, Last: "she said \"tern\""),
        new("a quote within a cell", Utf8("text,b\n5\" nails,x"), Rows: 2, Last: "x"),
        new(
            "a quote that isn't closed",
            Utf8("text,b\n\"open,x\n" + string.Concat(Enumerable.Repeat("more,rows to come here\n", 20))),
            Rows: 2,
            Doubt: "not closed"
        ),
        new("an empty pair of quotes", Utf8("text,b\n\"\",x"), Rows: 2, Last: "x"),
        new("delimiters within quotes", Utf8("text,b\n\"a,b,c\",x"), Rows: 2, Last: "x"),
        new("line ends of old Macs", Utf8("text,b\ra,x\rb,y"), Rows: 3, Last: "y"),
        new("line ends of Windows", Utf8("text,b\r\na,x\r\n"), Rows: 2, Last: "x"),
        new("line ends of each kind", Utf8("text,b\r\na,x\nb,y\rc,z"), Rows: 4, Last: "z"),
        new("no line end at the end", Utf8("text,b\na,x"), Rows: 2, Last: "x"),
        new("many line ends at the end", Utf8("text,b\na,x\n\n\n\n"), Rows: 2, Last: "x"),
        new("blank lines between", Utf8("text,b\n\na,x\n\n\nb,y"), Rows: 6, Last: "y"),
        new("spaces round cells", Utf8("text , b\n a , x "), Rows: 2, Last: "x"),
        new("spaces before a quote", Utf8("text,b\n \"a\",x"), Rows: 2, Last: "x"),
        // Rows and columns.
        new("ragged rows", Utf8("a,b,c\n1\n1,2,3,4,5\n1,2"), Rows: 4, Last: "2"),
        new("forty columns", Utf8(Line(40, i => $"h{i}") + "\n" + Line(40, i => $"v{i}")), Rows: 2, Last: "v39"),
        new("201 columns", Utf8(Line(201, i => "h") + "\n" + Line(201, i => "v")), Refused: "Row 1 has 201 cells"),
        new("empty columns", Utf8("a,,,b,,\n1,,,2,,"), Rows: 2, Last: "2"),
        new("a thousand empty columns", Utf8("a" + new string(',', 1_000) + "\n1"), Rows: 2, Last: "1"),
        new("doubled headers", Utf8("text,text\na,b"), Rows: 2, Last: "b"),
        new("a header in row 3", Utf8("Plan\n\ntext,category\na,b"), Rows: 4, Last: "b"),
        new("sums at the end", Utf8("text,n\na,1\nTotal,1"), Rows: 3, Last: "1"),
        new("the header alone", Utf8("text,category"), Rows: 1, Last: "category"),
        new("25,021 rows", Utf8(string.Concat(Enumerable.Repeat("a,b\n", 25_021))), Refused: "more than 25,000 rows"),
        new("30,000 blank rows below", Utf8("a,b\n1,2\n" + new string('\n', 30_000)), Rows: 2, Last: "2"),
        new("a cell of 200,000 letters", Utf8("text\n" + new string('a', 200_000)), Refused: "Row 2, column A: 200,000 characters"),
        new("33 MB", new byte[33 * 1024 * 1024], Refused: "33 MB; 16 is the most"),
        // Letters.
        new("emoji", Utf8("text,b\n🐦‍⬛ 👩‍🔬,🇮🇪"), Rows: 2, Last: "🇮🇪"),
        new("from right to left", Utf8("text,b\nטיול ליד הים,مرحبا"), Rows: 2, Last: "مرحبا"),
        new("marks of direction", Utf8("text,b\na,\u200Fx\u200E"), Rows: 2, Last: "\u200Fx\u200E"),
        new("letters put together", Utf8("text\ne\u0301"), Rows: 2, Last: "e\u0301"),
        new("no-break spaces", Utf8("text\na\u00A0b"), Rows: 2, Last: "a\u00A0b"),
        new("what looks like a formula", Utf8("text\n=1+1"), Rows: 2, Last: "=1+1"),
        new("what looks like markup", Utf8("text\n<script>alert(1)</script>"), Rows: 2, Last: "<script>alert(1)</script>"),
        new("a line that says its delimiter", Utf8("sep=;\ntext;b\na;x"), Rows: 3, Last: "x", Delimiter: ";"),
        new("control characters", Utf8("text\na\u0007b"), Rows: 2, Last: "a\u0007b"),
    ];

    private static byte[] Utf8(string text) => Encoding.UTF8.GetBytes(text);

    private static string Line(int columns, Func<int, string> cell) => string.Join(',', Enumerable.Range(0, columns).Select(cell));
}
