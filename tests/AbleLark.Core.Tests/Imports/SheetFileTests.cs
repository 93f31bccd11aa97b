using System.Globalization;
using System.IO.Compression;
using System.Text;
using AbleLark.Sheets;
using CsCheck;
using CsvHelper;

namespace AbleLark.Core.Tests.Imports;

public sealed class SheetFileTests
{
    public static TheoryData<string> Names => [.. NastySheets.All.Select(s => s.Name)];

    [Theory]
    [MemberData(nameof(Names))]
    public void A_nasty_file_is_read_or_refused_with_what_to_do(string name)
    {
        NastySheet nasty = NastySheets.All.Single(s => s.Name == name);
        if (nasty.Refused is { } words)
        {
            Assert.Contains(
                words,
                Assert.Throws<SheetException>(() => TextSheets.Read(nasty.Bytes, new())).Message,
                StringComparison.Ordinal
            );
            return;
        }
        SheetReading read = TextSheets.Read(nasty.Bytes, new());
        Assert.Equal(nasty.Rows, read.Sheet.Rows.Count);
        if (nasty.Last.Length > 0)
            Assert.Equal(nasty.Last, read.Sheet.Rows[^1][^1].Trim());
        Assert.Equal(nasty.Encoding ?? read.Encoding, read.Encoding);
        Assert.Equal(nasty.Delimiter ?? read.Delimiter, read.Delimiter);
        if (nasty.Doubt is { } doubt)
            Assert.Contains(read.Doubts.Values, d => d.Contains(doubt, StringComparison.Ordinal));
        else
            Assert.Empty(read.Doubts);
    }

    [Fact]
    public void There_are_sixty_of_them_at_least() => Assert.True(NastySheets.All.Count >= 60);

    [Fact]
    public void An_encoding_and_a_delimiter_can_be_chosen()
    {
        byte[] bytes = Encoding.UTF8.GetBytes("text;b\nWörter,x;y");
        SheetReading read = TextSheets.Read(bytes, new("Windows-1252", ","));
        Assert.Equal("WÃ¶rter", read.Sheet.Cell(1, 0));
        Assert.Equal("x;y", read.Sheet.Cell(1, 1));
        Assert.Contains(
            "There is no encoding",
            Assert.Throws<SheetException>(() => TextSheets.Read(bytes, new("Klingon"))).Message,
            StringComparison.Ordinal
        );
        Assert.Throws<SheetException>(() => TextSheets.Read(bytes, new(null, "x")));
    }

    // Source: RFC 4180, by CsvHelper (NuGet): it reads what we write, we read what it writes.
    [Fact]
    public void What_CsvHelper_writes_we_read_and_the_other_way_round()
    {
        Gen<string> cell = Gen.String[Gen.Char["ab ,;\"'\n\té鳥="], 0, 30].Select(s => "x" + s.Trim());
        cell.Array[3]
            .Array[1, 8]
            .Sample(
                rows =>
                {
                    using StringWriter text = new();
                    using (CsvWriter csv = new(text, CultureInfo.InvariantCulture))
                    {
                        foreach (string[] row in rows)
                        {
                            foreach (string c in row)
                                csv.WriteField(c);
                            csv.NextRecord();
                        }
                    }
                    IReadOnlyList<string[]> ours = TextSheets.ReadText(text.ToString(), ",").Sheet.Rows;
                    using StreamReader written = new(new MemoryStream(TextSheets.Write(rows)));
                    using CsvParser parser = new(written, CultureInfo.InvariantCulture);
                    List<string[]> theirs = [];
                    while (parser.Read())
                        theirs.Add(parser.Record!);
                    return Same(ours, rows) && Same(theirs, rows);
                },
                iter: Effort.Of(200)
            );

        static bool Same(IReadOnlyList<string[]> one, string[][] other) =>
            one.Count == other.Length && one.Zip(other).All(r => r.First.SequenceEqual(r.Second));
    }

    // Written by the Open XML SDK (NuGet), read by ExcelDataReader (NuGet).
    [Fact]
    public void What_one_library_writes_as_a_workbook_another_reads()
    {
        IReadOnlyList<SheetColumn> columns =
        [
            new("Text", 40, []),
            new("Date", 12, [], IsDate: true),
            new("Time", 8, ["09:00", "09:30"]),
            new("Category", 12, ["Sightings", "Ro & Co <x>"]),
        ];
        IReadOnlyList<IReadOnlyList<string>> rows =
        [
            ["Line\nbreak, \"quotes\" & <signs> 🐦 _x0041_", "2027-01-08", "09:30", "Ro & Co <x>"],
            ["=1+1", "", "", ""],
            ["0012", "2024-02-29", "", "Sightings"],
        ];
        SheetReading read = Read(WorkbookWriter.Write("Posts", columns, rows));
        Assert.Equal(["Posts", "Choices"], read.Names);
        Assert.Equal("Posts", read.Name);
        Assert.Equal(["Text", "Date", "Time", "Category"], read.Sheet.Rows[0]);
        Assert.Equal(rows[0], read.Sheet.Rows[1]);
        Assert.Equal(["=1+1"], read.Sheet.Rows[2]);
        Assert.Equal(["0012", "2024-02-29", "", "Sightings"], read.Sheet.Rows[3]);
        Assert.Equal("Sightings", Read(WorkbookWriter.Write("Posts", columns, rows), "Choices").Sheet.Cell(0, 3));
    }

    /// <summary>See tests/AbleLark.Core.Tests/Imports/Files/README.md for how it was made.</summary>
    [Theory]
    [InlineData("office-1900.xlsx")]
    [InlineData("office-1904.xlsx")]
    public void A_workbook_made_by_an_office_program_is_read_with_its_dates_formulas_and_merged_cells(string file)
    {
        SheetReading read = Read(File.ReadAllBytes(Path.Combine(Repository.Root, "tests/AbleLark.Core.Tests/Imports/Files", file)));
        Assert.Equal(
            [
                ["Date", "Time", "When", "Text", "Category", "Sum"],
                ["2027-01-08", "09:30", "2027-01-08 14:30", "Waxwings at the car park", "Sightings", "3"],
                ["2024-02-29", "18:00", "2024-02-29 00:15", "Joined: Waxwings at the car park", "Sightings", "7"],
            ],
            read.Sheet.Rows
        );
    }

    [Fact]
    public void What_is_no_workbook_or_leans_on_others_is_refused()
    {
        byte[] good = WorkbookWriter.Write(
            "Posts",
            [new("Text", 10, [])],
            [
                ["a"],
            ]
        );
        Refused("damaged", good[..(good.Length / 2)]);
        Refused("no .xlsx workbook", Zip(("readme.txt", "hello")));
        Refused("other files", With(good, "xl/externalLinks/externalLink1.xml", "<x/>"));
        Refused("no sheet “Other”", good, "Other");
        Refused("empty", WorkbookWriter.Write("Posts", [new("", 10, [])], []), "Posts");
    }

    [Fact]
    public void A_workbook_that_unpacks_to_gigabytes_is_refused_before_it_has()
    {
        using MemoryStream bytes = new();
        using (ZipArchive zip = new(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            using Stream sheet = zip.CreateEntry("xl/worksheets/sheet1.xml", CompressionLevel.Fastest).Open();
            byte[] rows = Encoding.UTF8.GetBytes(string.Concat(Enumerable.Repeat("<pad/>", 200_000)));
            sheet.Write("<worksheet><sheetData>"u8);
            for (int i = 0; i < 100; i++)
                sheet.Write(rows);
        }
        Refused("unpacks to more than 100 MB", bytes.ToArray());
    }

    private static void Refused(string words, byte[] workbook, string? sheet = null) =>
        Assert.Contains(words, Assert.Throws<SheetException>(() => Read(workbook, sheet)).Message, StringComparison.Ordinal);

    private static SheetReading Read(byte[] bytes, string? sheet = null)
    {
        using MemoryStream stream = new(bytes);
        return Workbooks.Read(stream, new(SheetName: sheet));
    }

    private static byte[] Zip(params (string Name, string Text)[] entries)
    {
        using MemoryStream bytes = new();
        using (ZipArchive zip = new(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach ((string name, string text) in entries)
            {
                using Stream entry = zip.CreateEntry(name).Open();
                entry.Write(Encoding.UTF8.GetBytes(text));
            }
        }
        return bytes.ToArray();
    }

    private static byte[] With(byte[] archive, string name, string text)
    {
        using MemoryStream bytes = new();
        bytes.Write(archive);
        using (ZipArchive zip = new(bytes, ZipArchiveMode.Update, leaveOpen: true))
        {
            using Stream entry = zip.CreateEntry(name).Open();
            entry.Write(Encoding.UTF8.GetBytes(text));
        }
        return bytes.ToArray();
    }
}
