using System.Text;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Imports;
using AbleLark.Core.Media;
using AbleLark.Sheets;
using NodaTime;

namespace AbleLark.Core.Tests.Imports;

/// <summary>What sheets of real teams hold besides posts; each state is made here.</summary>
public sealed class MessySheetTests
{
    private static readonly Channel[] Channels =
    [
        RowTests.Channel("jot", "Tern"),
        RowTests.Channel("hearth", "Tern"),
        RowTests.Channel("hearth", "Marsh"),
    ];
    private static readonly Category Sightings = RowTests.Named("Sightings", Channels[0], Channels[1]);
    private static readonly Category Bare = RowTests.Named("Bare");

    private static readonly ImportContext Context = new(
        [Sightings, Bare],
        Channels,
        Repository.Networks,
        new Dictionary<string, MediaFile>(),
        DateTimeZoneProviders.Tzdb["Europe/Dublin"],
        new LocalDateTime(2026, 12, 1, 12, 0)
    );

    // ---- Times

    [Theory]
    [InlineData("09:00-10:00", 9, 0)]
    [InlineData("14:00 - 15:00", 14, 0)]
    [InlineData("14:00–15:30", 14, 0)]
    [InlineData("9:00 to 10:00", 9, 0)]
    [InlineData("0900-1000", 9, 0)]
    [InlineData("9:30-10:30 pm", 21, 30)]
    [InlineData("11 am - 1 pm", 11, 0)]
    public void A_stretch_of_time_counts_by_its_beginning_and_says_so(string time, int hour, int minute)
    {
        ImportRow row = Row("2027-01-11", time);
        Assert.Equal(new LocalDateTime(2027, 1, 11, hour, minute), row.When);
        Assert.Equal(FindingCode.RowTimeRange, Assert.Single(row.Findings).Code);
    }

    [Theory]
    [InlineData("09:00+02:00")]
    [InlineData("09:00 -0500")]
    [InlineData("09:00-")]
    [InlineData("9-10")]
    public void An_offset_without_a_date_or_a_zone_s_name_is_asked_about(string time) =>
        Assert.Contains(Row("2027-01-11", time).Findings, f => f.Code == FindingCode.RowTimeUnclear);

    [Theory]
    [InlineData("2027-01-11T09:00:00+02:00", "", 7)]
    [InlineData("2027-01-11T09:00-05:00", "", 14)]
    [InlineData("2027-01-11T09:00:00Z", "", 9)]
    [InlineData("2027-07-11T09:00:00Z", "", 10)]
    [InlineData("2027-01-11", "09:00 UTC+2", 7)]
    [InlineData("2027-01-11", "09:00 Europe/Berlin", 8)]
    [InlineData("2027-01-11T09:00+01:00[Europe/Berlin]", "", 8)]
    public void An_offset_in_a_whole_timestamp_or_beside_a_zone_is_shown_as_what_it_becomes(string date, string time, int hour)
    {
        ImportRow row = Row(date, time);
        Assert.Equal(hour, row.Time?.Hour);
        Assert.Equal(hour != 9, row.Findings.Any(f => f.Code == FindingCode.RowTimeMoved));
    }

    [Fact]
    public void A_date_of_a_program_then_two_times_might_be_either()
    {
        Assert.Contains(Row("2027-01-11 09:00-10:00", "").Findings, f => f.Code == FindingCode.RowDateBeside && f.Blocks);
        Assert.Equal(new LocalTime(9, 0), Row("11 January 2027 09:00-10:00", "").Time);
    }

    // ---- What stands beside a date

    [Theory]
    [InlineData("13/01/2027 10:00", "09:30")]
    [InlineData("15/01/2027 (TBC)", "09:30")]
    [InlineData("20/21 January 2027", "09:30")]
    [InlineData("14/01/2027 - 16/01/2027", "09:30")]
    public void What_stands_beside_a_date_is_asked_about_where_there_is_a_time_too(string date, string time) =>
        Assert.Contains(Row(date, time).Findings, f => f.Code == FindingCode.RowDateBesideTime && f.Blocks);

    [Theory]
    [InlineData("13/01/2027 09:30", "09:30")]
    [InlineData("2027-01-13 00:00:00", "09:30")]
    public void But_not_where_it_says_nothing_else(string date, string time) => Assert.Empty(Row(date, time).Findings);

    [Theory]
    [InlineData("2027-01-13 00:00:00")]
    [InlineData("2027-01-13T00:00:00.000Z")]
    [InlineData("13/01/2027 0:00")]
    public void A_date_with_its_clock_at_nought_has_no_time(string date) =>
        Assert.Equal([FindingCode.RowDateWithoutTime], Row(date, "").Findings.Select(f => f.Code));

    [Fact]
    public void A_first_or_last_date_with_more_in_its_cell_is_asked_about() =>
        Assert.Contains(
            Assert.Single(Read("text,category,from\nGood words,Sightings,14/01/2027 - 16/01/2027")).Findings,
            f => f.Code == FindingCode.RowDateBeside
        );

    // ---- Other languages

    [Theory]
    [InlineData("Datum,Uhrzeit,Kategorie,Beitrag,Kanäle", "post.date post.time post.category text post.channels")]
    [InlineData("Date de publication,Heure,Catégorie,Légende,Réseaux", "post.date post.time post.category text post.networks")]
    [InlineData("Fecha,Hora,Categoría,Texto,Imágenes", "post.date post.time post.category text pictures")]
    [InlineData("Data,Orario,Categoria,Didascalia,Rete", "post.date post.time post.category text post.networks")]
    [InlineData("Datum,Tijdstip,Categorie,Bericht,Afbeelding", "post.date post.time post.category text pictures")]
    [InlineData("Data,Horário,Categoria,Legenda,Título", "post.date post.time post.category text post.title")]
    public void Headers_in_six_other_languages_are_recognised(string header, string targets)
    {
        IReadOnlyList<string[]> rows = TextSheets.ReadText(header + "\n,,,,\n,,,,").Sheet.Rows;
        ColumnMatching matching = new(Context);
        Assert.Equal(1, matching.HeaderRow(rows));
        Assert.Equal(targets.Split(' '), matching.Match(rows, 1).Select(c => c.Target));
    }

    [Theory]
    [InlineData("Mo, 11. Januar 2027", DateOrder.German)]
    [InlineData("11. Jän. 2027", DateOrder.German)]
    [InlineData("lundi 11 janvier 2027", DateOrder.French)]
    [InlineData("lunes, 11 de enero de 2027", DateOrder.Spanish)]
    [InlineData("lunedì 11 gennaio 2027", DateOrder.Italian)]
    [InlineData("maandag 11 januari 2027", DateOrder.Dutch)]
    [InlineData("segunda-feira, 11 de janeiro de 2027", DateOrder.Portuguese)]
    public void Months_of_another_language_are_asked_about_once_for_the_column(string date, DateOrder language)
    {
        string csv = $"text,category,date,time\nGood words,Sightings,\"{date}\",09:30\nOther words,Sightings,\"{date}\",10:30";
        IReadOnlyList<string[]> rows = TextSheets.ReadText(csv).Sheet.Rows;
        ImportPlan plan = ReadSheet.Plan(rows, Context);
        RowReader reader = new(rows, plan, Context);
        DateQuestion question = Assert.Single(reader.Questions["post.date"]);
        Assert.Equal((DateQuestionKind.Language, DateDoubt.OtherLanguage), (question.Kind, question.Doubt));
        Assert.Contains(question.Readings, r => r.Order == language);
        Assert.All(ReadSheet.Rows(csv, Context), r => Assert.Contains(r.Findings, f => f.Code == FindingCode.RowDateLanguage));
        plan = plan with { Orders = new Dictionary<string, DateOrders> { ["post.date"] = new(Language: language) } };
        Assert.All(
            ReadSheet.Rows(csv, Context, plan),
            r =>
            {
                Assert.Empty(r.Findings);
                Assert.Equal(new LocalDate(2027, 1, 11), r.Date);
            }
        );
    }

    [Fact]
    public void A_weekday_in_another_language_is_held_against_its_date()
    {
        Assert.Empty(Row("Montag 11.01.2027", "09:30", "31.01.2027").Findings);
        Assert.Contains(Row("Dienstag 11.01.2027", "09:30", "31.01.2027").Findings, f => f.Code == FindingCode.RowDateWeekday);
    }

    // ---- Ticks

    [Theory]
    [InlineData("x", "")]
    [InlineData("✓", "")]
    [InlineData("yes", "no")]
    [InlineData("TRUE", "FALSE")]
    [InlineData("1", "0")]
    public void Columns_of_ticks_say_where_a_row_goes(string yes, string no)
    {
        string csv =
            $"text,category,Jot,Marsh\nGood words,Sightings,{yes},{no}\nOther words,Sightings,{no},{yes}\nMore words,Sightings,{yes},{yes}";
        IReadOnlyList<ImportRow> rows = ReadSheet.Rows(csv, Context);
        Assert.All(rows, r => Assert.Empty(r.Findings));
        Assert.Equal(
            [
                [Channels[0].Id],
                [Channels[2].Id],
                [Channels[2].Id, Channels[0].Id],
            ],
            rows.Select(r => r.Channels!.ToArray())
        );
        Assert.All(rows, r => Assert.Empty(r.Content.Networks));
    }

    [Fact]
    public void A_row_without_a_tick_and_a_value_that_is_none_are_asked_about()
    {
        string csv =
            "text,category,Jot,Hearth\na b c,Sightings,reel,reel\nd e f,Sightings,post,reel\n"
            + "g h i,Sightings,,\nj k l,Sightings,post,post\nm n o,Sightings,post,post";
        IReadOnlyList<ImportRow> rows = ReadSheet.Rows(csv, Context);
        Assert.Equal(FindingCode.RowTickUnclear, rows[0].Findings[0].Code);
        Assert.Equal(FindingCode.RowNothingTicked, Assert.Single(rows[2].Findings).Code);
    }

    [Fact]
    public void A_text_for_a_network_stays_one_and_a_letter_or_two_are_asked_about()
    {
        IReadOnlyList<ImportRow> rows = ReadSheet.Rows(
            "text,category,Jot\nGood words,Sightings,Short and sweet\nOther words,Sightings,x",
            Context
        );
        Assert.Equal("Short and sweet", rows[0].Content.Networks["jot"].Get(ContentFields.Text));
        Finding asked = Assert.Single(rows[1].Findings);
        Assert.Equal((FindingCode.RowTextShort, true), (asked.Code, asked.Blocks));
        IReadOnlyList<string[]> cells = TextSheets.ReadText("text,category\nOK,Sightings").Sheet.Rows;
        RowReader reader = new(cells, ReadSheet.Plan(cells, Context), Context);
        Assert.Empty(reader.Read(0, RowEdit.None with { Values = new Dictionary<string, string> { ["text"] = "OK" } }).Findings);
        Assert.Empty(Assert.Single(Read("text,category\n👋,Sightings")).Findings);
    }

    // ---- Networks among channels

    [Fact]
    public void Networks_and_lists_of_them_are_taken_in_a_column_of_channels()
    {
        ImportRow row = Assert.Single(Read("text,category,channels\nGood words,Sightings,Jot + Hearth"));
        Assert.Empty(row.Findings);
        Assert.Equal([Channels[0].Id, Channels[1].Id], row.Channels!);
        Assert.Equal(["jot", "hearth"], row.Networks);
    }

    [Fact]
    public void That_a_category_has_no_usual_channels_is_said_only_of_one_that_has_none()
    {
        ImportRow unknown = Assert.Single(Read("text,category,channels,date,time\nGood words,Sightings,Nowhere,2027-01-11,09:30"));
        Assert.Equal([FindingCode.RowChannelUnknown], unknown.Findings.Select(f => f.Code));
        ImportRow bare = Assert.Single(Read("text,category,date,time\nGood words,Bare,2027-01-11,09:30"));
        Assert.Equal([FindingCode.RowNoChannel], bare.Findings.Select(f => f.Code));
    }

    // ---- Rows of one post

    private const string Alike =
        "text,category,network,date,time\n"
        + "Waxwings at the car park this morning #birds #marsh #winter #coast,Sightings,Jot,2027-01-11,09:30\n"
        + "Waxwings at the car park this morning #wings #berries #dawn #walks,Sightings,Hearth,2027-01-11,10:30\n"
        + "Something else altogether for the evening,Sightings,Jot,2027-01-12,09:30\n";

    [Fact]
    public void Rows_that_differ_in_their_hashtags_are_proposed_as_one_post_and_each_names_the_other()
    {
        ImportBook book = Book(Alike);
        Assert.Equal(2, book.Entries.Count);
        BookEntry entry = book.Entries[0];
        Assert.True(entry.AsksToJoin);
        Assert.Contains("with row 3:", entry.Findings.Single(f => f.Code == FindingCode.RowBelongs).Words, StringComparison.Ordinal);
        Assert.Contains("with row 2:", entry.Belonging(3)!.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void Rows_are_joined_and_parted_by_hand()
    {
        ImportBook book = Book(Alike);
        book.Apply(new Dictionary<int, RowEdit> { [3] = RowEdit.None with { With = 3 } });
        Assert.Equal(
            [
                [2],
                [3],
                [4],
            ],
            Rows(book)
        );
        Assert.DoesNotContain(book.Entries, e => e.AsksToJoin);
        book.Apply(new Dictionary<int, RowEdit> { [3] = RowEdit.None with { With = 4 } });
        Assert.Equal(
            [
                [2],
                [3, 4],
            ],
            Rows(book)
        );
        Assert.Equal([Channels[1].Id, Channels[0].Id], book.Entries[1].Draft.Times.SelectMany(t => t.Channels));
        // Each said to be the other's: still one post.
        book.Apply(new Dictionary<int, RowEdit> { [4] = RowEdit.None with { With = 3 } });
        Assert.Equal(
            [
                [2],
                [3, 4],
            ],
            Rows(book)
        );
        book.Apply(new Dictionary<int, RowEdit> { [3] = RowEdit.None, [4] = RowEdit.None });
        Assert.Equal(
            [
                [2, 3],
                [4],
            ],
            Rows(book)
        );
    }

    [Fact]
    public void Rows_joined_by_hand_that_go_to_one_channel_are_told()
    {
        ImportBook book = Book(Alike);
        book.Apply(new Dictionary<int, RowEdit> { [4] = RowEdit.None with { With = 2 } });
        Assert.Contains(book.EntryOf(4)!.Findings, f => f.Code == FindingCode.RowSameChannel && f.Blocks);
    }

    // ---- Workbooks

    [Theory]
    [InlineData("1")]
    [InlineData("true")]
    public void Days_counted_from_1904_are_shifted_once(string mark)
    {
        // 44928 days after 1 January 1904 (ECMA-376 part 1, 18.17.4.1).
        LocalDate date = new LocalDate(1904, 1, 1).PlusDays(44_928);
        SheetReading read = HandMadeWorkbook.Read(
            $"<row r=\"1\"><c r=\"A1\" t=\"inlineStr\"><is><t>Date</t></is></c></row>"
                + "<row r=\"2\"><c r=\"A2\" s=\"1\"><v>44928</v></c></row>",
            head: $"<workbookPr date1904=\"{mark}\"/>"
        );
        Assert.Equal(date.ToString("uuuu-MM-dd", null), read.Sheet.Cell(1, 0));
    }

    [Fact]
    public void Hidden_rows_and_columns_are_told_and_left_out_on_demand()
    {
        const string rows =
            "<row r=\"1\"><c r=\"A1\" t=\"inlineStr\"><is><t>Text</t></is></c><c r=\"B1\" t=\"inlineStr\"><is><t>Secret</t></is></c></row>"
            + "<row r=\"2\" hidden=\"1\"><c r=\"A2\" t=\"inlineStr\"><is><t>unseen</t></is></c></row>"
            + "<row r=\"3\"><c r=\"A3\" t=\"inlineStr\"><is><t>seen</t></is></c></row>";
        const string columns = "<cols><col min=\"2\" max=\"2\" width=\"9\" hidden=\"1\"/></cols>";
        SheetReading all = HandMadeWorkbook.Read(rows, columns);
        Assert.Equal((1, true), (all.Unseen.Rows, all.Unseen.IsHidden));
        Assert.Equal(["B"], all.Unseen.Columns);
        Assert.Equal("unseen", all.Sheet.Cell(1, 0));
        Assert.Contains(2, all.Doubts.Keys);
        SheetReading seen = HandMadeWorkbook.Read(rows, columns, choice: new(WithHidden: false));
        Assert.Equal(
            ["Text", "", "", "", "seen"],
            new[] { (0, 0), (0, 1), (1, 0), (1, 1), (2, 0) }.Select(c => seen.Sheet.Cell(c.Item1, c.Item2))
        );
        Assert.True(seen.Unseen.IsHidden);
    }

    [Fact]
    public void A_formula_without_its_value_is_told()
    {
        SheetReading read = HandMadeWorkbook.Read(
            "<row r=\"1\"><c r=\"A1\" t=\"inlineStr\"><is><t>Text</t></is></c></row>"
                + "<row r=\"2\"><c r=\"B2\"><f>1+1</f></c></row><row r=\"3\"><c r=\"A3\"><f>1+1</f><v>2</v></c></row>"
        );
        Assert.Contains("column B", Assert.Single(read.Doubts).Value, StringComparison.Ordinal);
        Assert.Equal("2", read.Sheet.Cell(2, 0));
    }

    [Theory]
    [InlineData("text,b\nfew,letters\0")]
    [InlineData("t\0ext")]
    public void A_stray_nought_makes_no_utf_16(string text) =>
        Assert.Contains(
            "no text has",
            Assert.Throws<SheetException>(() => TextSheets.Read(Encoding.UTF8.GetBytes(text), new())).Message,
            StringComparison.Ordinal
        );

    [Fact]
    public void Rubbish_is_no_text_in_whichever_encoding()
    {
        foreach (int seed in Enumerable.Range(1, 40))
        {
            byte[] bytes = new byte[1_000];
            new Random(seed).NextBytes(bytes);
            Assert.Throws<SheetException>(() => TextSheets.Read(bytes, new()));
            // Without noughts, which would tell at once.
            for (int i = 0; i < bytes.Length; i++)
                bytes[i] = bytes[i] == 0 ? (byte)1 : bytes[i];
            Assert.Throws<SheetException>(() => TextSheets.Read(bytes, new()));
        }
    }

    [Fact]
    public void The_most_rows_are_posts_whatever_names_their_columns()
    {
        string rows = string.Concat(Enumerable.Repeat("a,b\n", SheetLimits.MostRows));
        Assert.Equal(SheetLimits.MostRows + 1, TextSheets.ReadText("text,category\n" + rows).Sheet.Rows.Count);
    }

    [Fact]
    public void A_line_end_of_old_within_a_cell_is_a_line_break() =>
        Assert.Equal("one\ntwo\nthree", TextSheets.ReadText("text,b\n\"one\rtwo\r\nthree\",x").Sheet.Cell(1, 0));

    private static ImportRow Row(string date, string time, string further = "2027-01-31") =>
        ReadSheet.Rows(
            $"text,category,date,time\nGood words,Sightings,\"{date}\",{time}\n"
                + $"Other words,Sightings,{(date.Contains('/') ? "31/01/2027" : further)},08:00",
            Context
        )[0];

    private static IReadOnlyList<ImportRow> Read(string csv) => ReadSheet.Rows(csv, Context);

    private static ImportBook Book(string csv)
    {
        IReadOnlyList<string[]> rows = TextSheets.ReadText(csv).Sheet.Rows;
        return new(rows, ReadSheet.Plan(rows, Context), Context);
    }

    private static IEnumerable<int[]> Rows(ImportBook book) => book.Entries.Select(e => e.Draft.Rows.Select(r => r.Number).ToArray());
}
