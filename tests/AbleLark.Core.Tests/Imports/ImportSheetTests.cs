using System.Globalization;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Imports;
using AbleLark.Core.Media;
using CsCheck;
using CsvHelper;
using NodaTime;

namespace AbleLark.Core.Tests.Imports;

public sealed class ImportSheetTests
{
    private static readonly Channel[] Channels =
    [
        .. new[] { "jot", "hearth" }.Select(n => new Channel
        {
            WorkspaceId = default,
            Id = Id<Channel>.New(),
            Network = n,
            Account = n,
            Name = n,
            Handle = n,
        }),
    ];
    private static readonly Category Sightings = Named("Sightings");
    private static readonly MediaFile Dawn = new()
    {
        WorkspaceId = default,
        Id = Id<MediaFile>.New(),
        Hash = "",
        FileName = "dawn.png",
        Kind = "image/png",
        Bytes = 1,
        Width = 800,
        Height = 600,
    };

    private static readonly ImportContext Context = new(
        [Sightings],
        Channels,
        Repository.Networks,
        new Dictionary<string, MediaFile>(StringComparer.OrdinalIgnoreCase) { ["dawn.png"] = Dawn },
        new LocalDateTime(2026, 3, 1, 12, 0)
    );

    [Fact]
    public void A_full_row_becomes_a_post_with_variants_picture_and_time()
    {
        ImportRow row = Assert.Single(
            Read(
                "title,text,text:jot,category,link,picture,date,time\nWaxwing,One "
                    + "waxwing.,Waxwing!,sightings,https://marram.example.org,DAWN.PNG,2026-03-25,14:30"
            )
        );
        Assert.Empty(row.Findings);
        Assert.Equal(
            ("Waxwing", Sightings.Id, Dawn.Id),
            (row.Title, row.CategoryId, row.Content.Common.Get(ContentFields.Pictures)!.All[0].MediaId)
        );
        Assert.Equal("Waxwing!", row.Content.Networks["jot"].Get(ContentFields.Text));
        Assert.Equal(new LocalDateTime(2026, 3, 25, 14, 30), row.When);
    }

    [Theory]
    [InlineData("03/04/2026", FindingCode.RowDateUnclear)]
    [InlineData("31 Feb 2026", FindingCode.RowDateImpossible)]
    [InlineData("2026-02-01", FindingCode.RowDatePast)]
    [InlineData("2028-03-25", FindingCode.RowDateFar)]
    [InlineData("soon", FindingCode.RowDateImpossible)]
    public void A_doubtful_date_is_found_and_never_guessed(string date, FindingCode expected)
    {
        Assert.Equal(expected, Assert.Single(Row(date, "09:00").Findings).Code);
    }

    [Theory]
    [InlineData("25/03/2026")]
    [InlineData("03/25/2026")]
    [InlineData("25 Mar 2026")]
    [InlineData("Wed 25 Mar 2026")]
    [InlineData("March 25, 2026")]
    [InlineData("25.3.2026")]
    public void A_date_that_can_be_read_in_one_way_only_is_read(string date)
    {
        Assert.Equal(new LocalDate(2026, 3, 25), Row($"\"{date}\"", "9:00").When?.Date);
    }

    // Source: calendar. 14 Mar 2022 was a Monday, 25 Mar 2026 a Wednesday: a weekday that says otherwise shows a mistyped year.
    [Fact]
    public void A_weekday_that_contradicts_the_date_is_found()
    {
        Assert.Equal(FindingCode.RowDateImpossible, Assert.Single(Row("Tue 25 Mar 2026", "9:00").Findings).Code);
    }

    [Theory]
    [InlineData("9", FindingCode.RowTimeUnclear)]
    [InlineData("", FindingCode.RowDateWithoutTime)]
    [InlineData("25:00", FindingCode.RowTimeUnclear)]
    public void A_doubtful_time_is_found(string time, FindingCode expected)
    {
        Assert.Equal(expected, Assert.Single(Row("2026-03-25", time).Findings).Code);
    }

    [Fact]
    public void A_time_without_a_date_is_found()
    {
        Assert.Equal(FindingCode.RowTimeWithoutDate, Assert.Single(Row("", "9:00").Findings).Code);
    }

    [Theory]
    [InlineData("a,,Sightings,notalink,", FindingCode.RowLinkBroken)]
    [InlineData("a,,Sighting,,", FindingCode.RowCategoryUnknown)]
    [InlineData("a,,,,", FindingCode.RowCategoryMissing)]
    [InlineData(",,Sightings,,", FindingCode.RowTextMissing)]
    [InlineData("a,,Sightings,,dusk.png", FindingCode.RowPictureUnknown)]
    [InlineData("a,,Sightings,,,more, cells", FindingCode.RowCellsTooMany)]
    public void A_row_that_can_t_be_imported_says_why(string cells, FindingCode expected)
    {
        ImportRow row = Assert.Single(Read("text,title,category,link,picture\n" + cells));
        Assert.False(row.CanImport);
        Assert.Contains(row.Findings, f => f.Code == expected && f.Blocks);
    }

    [Fact]
    public void What_is_too_long_for_a_network_is_said_by_network_and_doesn_t_stop_the_row()
    {
        ImportRow row = Assert.Single(Read("text,category\n" + new string('a', 300) + ",Sightings"));
        Assert.True(row.CanImport);
        Assert.Equal(FindingCode.TextTooLong, Assert.Single(row.NetworkFindings["jot"]).Code);
        Assert.DoesNotContain("hearth", row.NetworkFindings.Keys);
    }

    [Fact]
    public void The_same_row_twice_is_told()
    {
        IReadOnlyList<ImportRow> rows = Read("title,text,category\nA,b,Sightings\nA,b,Sightings");
        Assert.Equal("The same title and text stand in row 2 too.", Assert.Single(rows[1].Findings).Words);
    }

    [Theory]
    [InlineData("", "empty")]
    [InlineData("name,age\nx,1", "Unknown headers: name, age")]
    [InlineData("title,category\nx,y", "a column `text`")]
    [InlineData("text,text\nx,y", "stands twice")]
    public void A_file_that_is_no_sheet_of_posts_says_what_to_do(string csv, string words)
    {
        Assert.Contains(words, Assert.Throws<ImportSheetException>(() => Read(csv)).Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(';')]
    [InlineData('\t')]
    public void Semicolons_and_tabs_divide_as_well(char delimiter)
    {
        Assert.Equal("x", Assert.Single(Read($"text{delimiter}category\nx{delimiter}Sightings")).Content.Common.Get(ContentFields.Text));
    }

    [Fact]
    public void Blank_lines_are_passed_over_and_rows_keep_their_numbers()
    {
        Assert.Equal([2, 4], Read("\uFEFFtext,category\r\na,Sightings\r\n,\r\nb,Sightings\r\n").Select(r => r.Number));
    }

    // Source: RFC 4180, written by CsvHelper (NuGet): quotes, commas and line breaks inside cells come back as they were.
    [Fact]
    public void What_CsvHelper_writes_is_read_as_it_was()
    {
        Gen.String[Gen.Char["ab ,;\"'\n\té鳥"], 1, 40]
            .Where(s => s.Trim().Length > 0)
            .Array[1, 8]
            .Sample(texts =>
            {
                using StringWriter text = new();
                using (CsvWriter csv = new(text, CultureInfo.InvariantCulture))
                {
                    foreach (string name in new[] { "title", "text", "category" })
                        csv.WriteField(name);
                    foreach (string t in texts)
                    {
                        csv.NextRecord();
                        foreach (string cell in new[] { "t", t, "Sightings" })
                            csv.WriteField(cell);
                    }
                }
                return Read(text.ToString())
                    .Select(r => r.Content.Common.Get(ContentFields.Text))
                    .SequenceEqual(texts.Select(t => t.Trim()));
            });
    }

    [Fact]
    public void The_sheet_that_the_README_hands_out_has_just_the_two_slips_it_speaks_of()
    {
        string csv = File.ReadAllText(Path.Combine(Repository.Root, "docs/guide/first-week.csv"));
        IReadOnlyList<ImportRow> rows = ImportSheet.Read(csv, Context with { Categories = [Named("Workshop"), Named("Rides")] });
        Assert.Equal([FindingCode.RowCategoryUnknown, FindingCode.RowDateUnclear], rows.SelectMany(r => r.Findings).Select(f => f.Code));
        Assert.Equal(9, rows.Count(r => r.CanImport && r.NetworkFindings.Values.All(f => !f.Any(x => x.Blocks))));
    }

    [Fact]
    public void A_row_is_checked_against_the_networks_that_its_category_goes_to()
    {
        Category jotOnly = Named("Sightings");
        jotOnly.UsualChannels = [Channels[0].Id];
        ImportRow row = Assert.Single(
            ImportSheet.Read("text,category\n#a1 #b1 #c1 #d1,Sightings", Context with { Categories = [jotOnly] })
        );
        Assert.Equal(["jot"], row.NetworkFindings.Keys);
    }

    private static Category Named(string name) =>
        new()
        {
            WorkspaceId = default,
            Id = Id<Category>.New(),
            Name = name,
            Colour = "tide",
            Monogram = "Ca",
            UsualChannels = [.. Channels.Select(c => c.Id)],
        };

    private static IReadOnlyList<ImportRow> Read(string csv) => ImportSheet.Read(csv, Context);

    private static ImportRow Row(string date, string time) =>
        Assert.Single(Read($"title,text,category,date,time\nt,x,Sightings,{date},{time}"));
}
