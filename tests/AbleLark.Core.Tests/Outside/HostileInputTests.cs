using System.Diagnostics;
using System.IO.Compression;
using System.Text;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Media;
using AbleLark.Sheets;
using AbleLark.Tests.Shared;
using NodaTime;

namespace AbleLark.Core.Tests.Outside;

/// <summary>Whatever is brought, reading it takes a time that grows as it does, and no faster: eight times as much is not 64 times as
/// slow. Each was the slow one of its kind that could be thought of.</summary>
public sealed class HostileInputTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private static readonly LocalDate Today = new(2026, 12, 2);

    private static readonly Dictionary<string, (int Size, Func<int, string> Make)> Calendars = new(StringComparer.Ordinal)
    {
        ["a zone of many parts"] = (8_000, n => Event($"DTSTART;TZID={Many("A/", n)}:20261205T100000")),
        ["many dates in a long zone"] = (
            3_000,
            n => Event($"DTSTART:20261205T100000\nEXDATE;TZID={Many("A", n)}:{Many("20261205T100000,", n)}20261206T100000")
        ),
        ["rules that never come"] = (
            20,
            n => Many("BEGIN:VEVENT\nUID:{0}\nDTSTART;VALUE=DATE:19000101\nRRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30\nEND:VEVENT\n", n)
        ),
        ["rules of many days that hardly come"] = (
            20,
            n =>
                Many(
                    "BEGIN:VEVENT\nUID:{0}\nDTSTART;VALUE=DATE:19000101\nRRULE:FREQ=YEARLY;BYDAY="
                        + string.Join(',', Enumerable.Range(1, 53).SelectMany(i => new[] { $"{i}MO", $"-{i}MO" }))
                        + ";BYSETPOS=366\nEND:VEVENT\n",
                    n
                )
        ),
        ["dates left out"] = (4_000, n => Event($"DTSTART;VALUE=DATE:20261205\nRRULE:FREQ=DAILY\nEXDATE:{Many("20261206,", n)}20261207")),
        ["single ones called off"] = (
            // Fewer than are kept: what is refused one by one takes longer each, if no longer in all.
            240,
            n =>
                Event("DTSTART;VALUE=DATE:20261205\nRRULE:FREQ=DAILY")
                + Many("BEGIN:VEVENT\nUID:x\nRECURRENCE-ID;VALUE=DATE:20261206\nSTATUS:CANCELLED\nEND:VEVENT\n", n)
        ),
        ["a line folded again and again"] = (40_000, n => Event($"DTSTART;VALUE=DATE:20261205\nSUMMARY:{Many("x\n ", n)}")),
        ["parameters"] = (20_000, n => Event($"DTSTART{Many(";A=B", n)}:20261205T100000")),
        ["quotes"] = (40_000, n => Event($"DTSTART;A={Many("\"\"", n)}:20261205T100000")),
        ["what was escaped"] = (40_000, n => Event($"DTSTART;VALUE=DATE:20261205\nDESCRIPTION:{Many("\\n", n)}")),
        ["lines of one event"] = (20_000, n => Event($"DTSTART;VALUE=DATE:20261205\n{Many("X-A:b\n", n)}")),
        ["zones of its own"] = (
            6,
            n => Many(Zones("TZID:z{0}", "RRULE:FREQ=YEARLY") + "BEGIN:VEVENT\nUID:{0}\nDTSTART;TZID=z{0}:20261210T190000\nEND:VEVENT\n", n)
        ),
        ["changes of a zone"] = (
            3_000,
            n => Zones("TZID:z", $"RDATE:{Many("20260101T010000,", n)}20260701T010000") + Event("DTSTART;TZID=z:20261210T190000")
        ),
        ["parts of a zone"] = (
            6,
            n => Zones("TZID:z", Many("END:STANDARD\nBEGIN:STANDARD\n", n)) + Event("DTSTART;TZID=z:20261210T190000")
        ),
        ["comings of their own"] = (
            240,
            n =>
                Event("DTSTART;VALUE=DATE:20261205\nRRULE:FREQ=DAILY")
                + Many("BEGIN:VEVENT\nUID:x\nRECURRENCE-ID;VALUE=DATE:20261206\nSUMMARY:{0}\nDTSTART;VALUE=DATE:20261206\nEND:VEVENT\n", n)
        ),
        ["things in each other"] = (20_000, n => Many("BEGIN:VEVENT\n", n)),
    };

    public static TheoryData<string> CalendarNames => [.. Calendars.Keys];

    [Theory]
    [MemberData(nameof(CalendarNames))]
    public void A_calendar_is_read_in_a_time_that_grows_as_it_does(string name)
    {
        (int size, Func<int, string> make) = Calendars[name];
        Growth.IsEven(
            size,
            n => $"BEGIN:VCALENDAR\n{make(n)}END:VCALENDAR\n",
            file =>
            {
                try
                {
                    CalendarReading.Read(file, Zone, Today);
                }
                catch (CalendarException) { }
            }
        );
    }

    private static readonly Dictionary<string, (int Size, Func<int, string> Make)> Texts = new(StringComparer.Ordinal)
    {
        ["line breaks"] = (40_000, n => "title,text\n" + Many("\n", n)),
        ["carriage returns"] = (40_000, n => "title,text\n" + Many("\r", n)),
        ["quotation marks"] = (40_000, n => "title,text\n" + Many("\"", n)),
        ["pairs of quotation marks"] = (40_000, n => "title,text\n\"" + Many("\"\"", n)),
        ["cells of one row"] = (16_000, n => Many(",", n)),
        ["cells of one row over many lines"] = (16_000, n => Many("\"\n\",", n)),
        ["cells"] = (4_000, n => Many("a,b,c,d,e\n", n)),
        ["one cell"] = (100_000, n => "title\n" + Many("x", n)),
        ["spaces"] = (100_000, n => "title\n" + Many(" ", n) + "x"),
        ["lines in another encoding"] = (4_000, n => "title,text\né,é\n" + Many("\u0091,b\n", n)),
    };

    public static TheoryData<string> TextNames => [.. Texts.Keys];

    [Theory]
    [MemberData(nameof(TextNames))]
    public void A_sheet_of_text_is_read_in_a_time_that_grows_as_it_does(string name)
    {
        (int size, Func<int, string> make) = Texts[name];
        Growth.IsEven(size, n => Encoding.UTF8.GetBytes(make(n)), bytes => Refused(() => TextSheets.Read(bytes, new())));
    }

    private static readonly Dictionary<string, (int Size, Func<int, string> Make)> Workbooks = new(StringComparer.Ordinal)
    {
        ["empty rows"] = (4_000, n => Many("<row r=\"{0}\"/>", n) + $"<row r=\"{n + 1}\"><c><v>1</v></c></row>"),
        ["cells"] = (4_000, n => Many("<row><c><v>1</v></c><c><v>2</v></c></row>", n)),
        ["long marks"] = (40_000, n => $"<row r=\"1\" spans=\"{Many("1 ", n)}\"><c><v>1</v></c></row>"),
        ["a long cell"] = (100_000, n => $"<row><c t=\"inlineStr\"><is><t>{Many("x", n)}</t></is></c></row>"),
        ["runs of one cell"] = (4_000, n => $"<row><c t=\"inlineStr\"><is>{Many("<r><t>x</t></r>", n)}</is></c></row>"),
    };

    public static TheoryData<string> WorkbookNames => [.. Workbooks.Keys];

    [Theory]
    [MemberData(nameof(WorkbookNames))]
    public void A_workbook_is_read_in_a_time_that_grows_as_it_does(string name)
    {
        (int size, Func<int, string> make) = Workbooks[name];
        Growth.IsEven(
            size,
            n => Packed($"<sheetData>{make(n)}</sheetData>"),
            bytes =>
            {
                using MemoryStream stream = new(bytes);
                Refused(() => Sheets.Workbooks.Read(stream, new()));
            }
        );
    }

    [Fact]
    public void Merged_cells_that_lie_on_each_other_are_refused_before_they_fill_the_memory()
    {
        string rows = "<row r=\"1\"><c><v>1</v></c></row><row r=\"20000\"><c><v>1</v></c></row>";
        using MemoryStream stream = new(
            Packed($"<sheetData>{rows}</sheetData><mergeCells>{Many("<mergeCell ref=\"A1:A20000\"/>", 1_000)}</mergeCells>")
        );
        Assert.Throws<SheetException>(() => Sheets.Workbooks.Read(stream, new()));
    }

    [Theory]
    [InlineData("<row r=\"2147483647\"><c><v>1</v></c></row>", "damaged")]
    [InlineData("<row r=\"1048577\"/>", "damaged")]
    [InlineData("<row r=\"-1\"/>", "damaged")]
    [InlineData("<row r=\"1\"><c><v>1</v></c></row><row r=\"1048576\"><c><v>1</v></c></row>", "more than 25,000 rows")]
    public void A_row_s_number_is_no_number_of_rows(string rows, string words)
    {
        using MemoryStream stream = new(Packed($"<sheetData>{rows}</sheetData>"));
        Assert.Contains(words, Assert.Throws<SheetException>(() => Sheets.Workbooks.Read(stream, new())).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Rows_that_hold_nothing_below_the_last_with_something_are_not_looked_at()
    {
        using MemoryStream stream = new(Packed("<sheetData><row r=\"2\"><c r=\"B2\"><v>7</v></c></row><row r=\"1048576\"/></sheetData>"));
        SheetReading read = Sheets.Workbooks.Read(stream, new());
        Assert.Equal("7", read.Sheet.Cell(1, 1));
        Assert.Equal(2, read.Sheet.Rows.Count);
    }

    [Theory]
    [InlineData(40, "million characters")]
    [InlineData(1, "A cell of the workbook holds far more than")]
    public void A_cell_is_refused_before_it_is_held_whole(int pieces, string words)
    {
        // In pieces, so that no single one of them is too long.
        string cell = Many($"<r><t>{new string('x', pieces == 1 ? 2_000_000 : 900_000)}</t></r>", pieces);
        using MemoryStream stream = new(Packed($"<sheetData><row><c t=\"inlineStr\"><is>{cell}</is></c></row></sheetData>"));
        Assert.Contains(words, Assert.Throws<SheetException>(() => Sheets.Workbooks.Read(stream, new())).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Rules_that_would_take_too_long_are_left_out_by_name_and_the_rest_is_read()
    {
        ReadCalendar read = CalendarReading.Read(
            "BEGIN:VCALENDAR\n"
                + Many(
                    "BEGIN:VEVENT\nUID:{0}\nSUMMARY:Never {0}\nDTSTART;VALUE=DATE:19000101\n"
                        + "RRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30\nEND:VEVENT\n",
                    400
                )
                + "BEGIN:VEVENT\nUID:once\nSUMMARY:Once\nDTSTART;VALUE=DATE:20261205\nEND:VEVENT\nEND:VCALENDAR\n",
            Zone,
            Today
        );
        Assert.Equal("Once", Assert.Single(read.KeyDates).Title);
        Assert.Contains("“Never 1”: By that rule it never comes. Change the rule, or the date that it begins on.", read.LeftOut);
        Assert.Contains(
            "“Never 400”: Working out when it comes takes more steps than one calendar gets. Take out rules that hardly ever come.",
            read.LeftOut
        );
    }

    [Fact]
    public void What_nobody_waits_for_any_longer_is_ended()
    {
        CancellationToken gone = new(canceled: true);
        Assert.Throws<OperationCanceledException>(() => CalendarReading.Read("BEGIN:VCALENDAR\nEND:VCALENDAR\n", Zone, Today, gone));
        Assert.Throws<OperationCanceledException>(() => TextSheets.Read("title\nx"u8, new(), gone));
        using MemoryStream stream = new(Packed("<sheetData><row><c><v>1</v></c></row></sheetData>"));
        Assert.Throws<OperationCanceledException>(() => Sheets.Workbooks.Read(stream, new(), gone));
    }

    private static readonly Dictionary<string, (int Size, Func<int, byte[]> Make)> Films = new(StringComparer.Ordinal)
    {
        ["boxes side by side"] = (
            20_000,
            n => Join([Mp4File.Box("ftyp", "isom\0\0\0\0isom"u8.ToArray()), .. Same(Mp4File.Box("free"), n)])
        ),
        ["boxes in each other"] = (
            2_000,
            n =>
                Join(
                    Mp4File.Box("ftyp", "isom\0\0\0\0isom"u8.ToArray()),
                    Enumerable.Range(0, n).Aggregate(Array.Empty<byte>(), (inner, _) => Mp4File.Box("moov", inner))
                )
        ),
        ["tracks"] = (
            2_000,
            n =>
                Join(
                    Mp4File.Box("ftyp", "isom\0\0\0\0isom"u8.ToArray()),
                    Mp4File.Box("moov", [.. Same(Mp4File.Box("trak", Mp4File.Box("mdia", Mp4File.Box("minf"))), n)])
                )
        ),
    };

    public static TheoryData<string> FilmNames => [.. Films.Keys];

    [Theory]
    [MemberData(nameof(FilmNames))]
    public void A_film_is_read_in_a_time_that_grows_as_it_does(string name)
    {
        (int size, Func<int, byte[]> make) = Films[name];
        Growth.IsEven(
            size,
            make,
            bytes =>
            {
                using MemoryStream stream = new(bytes);
                try
                {
                    Mp4Reader.Read(stream);
                }
                catch (FormatException) { }
                stream.Position = 0;
                try
                {
                    Mp4Privacy.Ranges(stream);
                }
                catch (FormatException) { }
            }
        );
    }

    private static readonly Dictionary<string, (string Kind, int Size, Func<int, byte[]> Make)> Pictures = new(StringComparer.Ordinal)
    {
        ["parts of a PNG"] = (
            FileKinds.Png,
            20_000,
            n =>
                Join([
                    [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A],
                    .. Same([0, 0, 0, 0, (byte)'t', (byte)'E', (byte)'X', (byte)'t', 0, 0, 0, 0], n),
                ])
        ),
        ["marks of a JPEG"] = (
            FileKinds.Jpeg,
            40_000,
            n =>
                Join([
                    [0xFF, 0xD8],
                    .. Same([0xFF, 0xE1, 0, 2], n),
                ])
        ),
        ["marks within a JPEG's pixels"] = (
            FileKinds.Jpeg,
            40_000,
            n =>
                Join([
                    [0xFF, 0xD8, 0xFF, 0xDA, 0, 2],
                    .. Same([0xFF, 0x00], n),
                ])
        ),
        ["parts of a GIF"] = (
            FileKinds.Gif,
            40_000,
            n =>
                Join([
                    [.. "GIF89a"u8, 1, 0, 1, 0, 0, 0, 0],
                    .. Same([0x21, 0xFE, 1, 0, 0], n),
                ])
        ),
        ["parts of a WebP"] = (
            FileKinds.WebP,
            20_000,
            n =>
                Join([
                    [.. "RIFF"u8, 0xFF, 0xFF, 0xFF, 0x7F, .. "WEBP"u8],
                    .. Same([.. "EXIF"u8, 0, 0, 0, 0], n),
                ])
        ),
    };

    public static TheoryData<string> PictureNames => [.. Pictures.Keys];

    [Theory]
    [MemberData(nameof(PictureNames))]
    public void The_end_of_a_picture_is_found_in_a_time_that_grows_as_it_does(string name)
    {
        (string kind, int size, Func<int, byte[]> make) = Pictures[name];
        Growth.IsEven(
            size,
            make,
            bytes =>
            {
                using MemoryStream stream = new(bytes);
                PictureEnd.Of(stream, kind);
            }
        );
    }

    private static IEnumerable<byte[]> Same(byte[] part, int times) => Enumerable.Repeat(part, times);

    private static byte[] Join(params IEnumerable<byte[]> parts) => [.. parts.SelectMany(p => p)];

    private static string Zones(string id, string changes) =>
        $"BEGIN:VTIMEZONE\n{id}\nBEGIN:STANDARD\nDTSTART:20000110T000000\nTZOFFSETFROM:+0130\nTZOFFSETTO:+0315\n{changes}\nEND:STANDARD\n"
        + $"BEGIN:DAYLIGHT\nDTSTART:20000710T000000\nTZOFFSETFROM:+0315\nTZOFFSETTO:+0130\n{changes}\nEND:DAYLIGHT\nEND:VTIMEZONE\n";

    private static string Event(string lines) => $"BEGIN:VEVENT\nUID:x\n{lines}\nEND:VEVENT\n";

    private static string Many(string text, int times)
    {
        StringBuilder all = new();
        for (int i = 1; i <= times; i++)
            all.Append(text.Replace("{0}", i.ToString(System.Globalization.CultureInfo.InvariantCulture), StringComparison.Ordinal));
        return all.ToString();
    }

    private static byte[] Packed(string sheet)
    {
        const string Main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
        const string Relations = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
        using MemoryStream bytes = new();
        using (ZipArchive zip = new(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            Add("xl/worksheets/sheet1.xml", $"<worksheet xmlns=\"{Main}\">{sheet}</worksheet>");
            Add(
                "xl/workbook.xml",
                $"<workbook xmlns=\"{Main}\" xmlns:r=\"{Relations}\"><sheets>"
                    + "<sheet name=\"Posts\" sheetId=\"1\" r:id=\"rId1\"/></sheets></workbook>"
            );
            Add(
                "xl/_rels/workbook.xml.rels",
                "<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\">"
                    + $"<Relationship Id=\"rId1\" Type=\"{Relations}/worksheet\" Target=\"worksheets/sheet1.xml\"/></Relationships>"
            );

            void Add(string name, string text)
            {
                using StreamWriter entry = new(zip.CreateEntry(name, CompressionLevel.Fastest).Open());
                entry.Write(text);
            }
        }
        return bytes.ToArray();
    }

    private static void Refused(Action read)
    {
        try
        {
            read();
        }
        catch (SheetException) { }
    }
}
