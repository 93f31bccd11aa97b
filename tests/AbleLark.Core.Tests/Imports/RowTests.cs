using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Imports;
using AbleLark.Core.Media;
using NodaTime;

namespace AbleLark.Core.Tests.Imports;

public sealed class RowTests
{
    private static readonly Channel[] Channels = [Channel("jot", "Tern"), Channel("hearth", "Tern"), Channel("hearth", "Marsh")];
    private static readonly Category Sightings = Named("Sightings", Channels[0], Channels[1]);
    private static readonly Category Rides = Named("Rides", Channels[1]);
    private static readonly MediaFile Dawn = Repository.Picture("dawn.png");

    private static readonly ImportContext Context = new(
        [Sightings, Rides],
        Channels,
        Repository.Networks,
        new Dictionary<string, MediaFile>(StringComparer.OrdinalIgnoreCase) { ["dawn.png"] = Dawn },
        DateTimeZoneProviders.Tzdb["Europe/Dublin"],
        new LocalDateTime(2026, 3, 1, 12, 0)
    );

    [Fact]
    public void A_full_row_becomes_a_post_with_variants_picture_and_time()
    {
        ImportRow row = Assert.Single(
            Read(
                "Title,Text,Text for Jot,Jot wording 2,Category,Further categories,Link,Picture,Date,Time,Lifespan,"
                    + "Gap in days,Notes,Outside id"
                    + "\nWaxwing,One waxwing.,Waxwing!,Still here,sightings,Rides,https://marram.example.org,DAWN.PNG,2026-03-25,14:30,"
                    + "once,30,ask Wren,W-1"
            )
        );
        Assert.Empty(row.Findings);
        Assert.Equal(("Waxwing", Sightings.Id), (row.Title, row.CategoryId));
        Assert.Equal([Rides.Id], row.FurtherCategories);
        Assert.Equal(Dawn.Id, row.Content.Common.Get(ContentFields.Pictures)!.All[0].MediaId);
        Assert.Equal("Waxwing!", row.Content.Networks["jot"].Get(ContentFields.Text));
        Assert.Equal("Still here", row.Content.Wordings[0].Networks["jot"].Get(ContentFields.Text));
        Assert.Equal(new LocalDateTime(2026, 3, 25, 14, 30), row.When);
        Assert.Equal((Lifespan.Once, 30, "ask Wren", "W-1"), (row.Lifespan, row.GapDays, row.Notes, row.OutsideId));
    }

    [Theory]
    [InlineData("03/04/2026", FindingCode.RowDateUnclear)]
    [InlineData("31 Feb 2026", FindingCode.RowDateImpossible)]
    [InlineData("2026-02-01", FindingCode.RowDatePast)]
    [InlineData("2027-05-25", FindingCode.RowDateYearAway)]
    [InlineData("2062-03-25", FindingCode.RowValueRefused)]
    [InlineData("soon", FindingCode.RowDateImpossible)]
    [InlineData("25 March", FindingCode.RowDateNoYear)]
    [InlineData("Tue 25 Mar 2026", FindingCode.RowDateWeekday)]
    [InlineData("2026-03-29", FindingCode.RowClockForward, "01:30")]
    [InlineData("2026-10-25", FindingCode.RowClockBack, "01:30")]
    [InlineData("2026-03-25", FindingCode.RowTimeAtNight, "03:00")]
    [InlineData("2026-03-25", FindingCode.RowTimeUnclear, "9")]
    [InlineData("2026-03-25", FindingCode.RowTimeUnclear, "25:00")]
    [InlineData("2026-03-25", FindingCode.RowDateWithoutTime, "")]
    [InlineData("", FindingCode.RowTimeWithoutDate)]
    public void A_doubtful_date_or_time_is_found_and_never_guessed(string date, FindingCode expected, string time = "09:00")
    {
        Assert.Contains(Row(date, time).Findings, f => f.Code == expected);
    }

    [Theory]
    [InlineData("9am")]
    [InlineData("9:00")]
    [InlineData("0900")]
    [InlineData("09.00")]
    [InlineData("9h")]
    [InlineData("0.375")]
    [InlineData("09:00:30")]
    public void Times_are_read_as_people_write_them(string time)
    {
        Assert.Equal(new LocalTime(9, 0), Row("2026-03-25", time).Time);
    }

    [Fact]
    public void A_date_and_a_time_may_stand_in_one_cell_and_a_zone_beside()
    {
        Assert.Equal(
            new LocalDateTime(2026, 7, 1, 10, 0),
            Assert.Single(Read("text,category,date\nwords x,Sightings,2026-07-01T09:00:00Z")).When
        );
        Assert.Equal(
            new LocalDateTime(2026, 6, 30, 23, 0),
            Assert.Single(Read("text,category,date,time,zone\nwords x,Sightings,1 July 2026,09:00,Pacific/Auckland")).When?.PlusHours(1)
        );
    }

    [Theory]
    [InlineData("a,,Sightings,notalink,", FindingCode.RowLinkBroken)]
    [InlineData("a,,Sighting,,", FindingCode.RowCategoryUnknown)]
    [InlineData("a,,,,", FindingCode.RowCategoryMissing)]
    [InlineData(",,Sightings,,", FindingCode.RowTextMissing)]
    [InlineData("a,,Sightings,,dusk.png", FindingCode.RowPictureUnknown)]
    public void A_row_that_can_t_be_imported_says_why(string cells, FindingCode expected)
    {
        ImportRow row = Assert.Single(Read("text,title,category,link,picture\n" + cells));
        Assert.Contains(row.Findings, f => f.Code == expected && f.Blocks);
    }

    [Fact]
    public void A_mistyped_category_is_told_the_nearest()
    {
        Assert.Contains(
            "Sightings",
            Assert.Single(Assert.Single(Read("text,category\nwords a,Sigthings")).Findings).Values[1],
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Networks_and_channels_are_read_by_their_names()
    {
        ImportRow both = Assert.Single(Read("text,category,networks\nwords a,Sightings,\"Jot, Hearth\""));
        Assert.Equal([Channels[0].Id, Channels[1].Id], both.Channels!);
        ImportRow handle = Assert.Single(Read("text,category,channel\nwords a,Sightings,@marsh"));
        Assert.Equal([Channels[2].Id], handle.Channels!);
        ImportRow told = Assert.Single(Read("text,category,network,channel\nwords a,Sightings,Hearth,Tern"));
        Assert.Equal([Channels[1].Id], told.Channels!);
        Assert.Equal(
            FindingCode.RowChannelUnclear,
            Assert.Single(Assert.Single(Read("text,category,channel\nwords a,Sightings,Tern")).Findings).Code
        );
    }

    [Fact]
    public void A_group_stands_for_its_channels_and_a_channel_of_the_same_name_for_itself()
    {
        ChannelGroup coast = new()
        {
            WorkspaceId = default,
            Id = Id<ChannelGroup>.New(),
            Name = "The coast, all of it",
            Channels = [Channels[0].Id, Channels[2].Id],
        };
        ChannelGroup marsh = new()
        {
            WorkspaceId = default,
            Id = Id<ChannelGroup>.New(),
            Name = "Marsh",
            Channels = [Channels[0].Id, Channels[1].Id],
        };
        ImportContext context = Context with { Groups = [coast, marsh] };
        Assert.Equal(coast.Channels, Only("text,category,channels\nwords a,Sightings,\"the coast, ALL of it\"").Channels!);
        Assert.Equal([Channels[2].Id], Only("text,category,network,channels\nwords a,Sightings,Hearth,\"The coast, all of it\"").Channels!);
        Assert.Equal([Channels[2].Id], Only("text,category,channels\nwords a,Sightings,Marsh").Channels!);

        ImportRow Only(string csv) => Assert.Single(ReadSheet.Rows(csv, context));
    }

    [Fact]
    public void A_column_of_links_and_files_is_sorted_by_what_stands_in_it()
    {
        IReadOnlyList<ImportRow> rows = Read(
            "Text,Category,Media\nwords a,Sightings,https://marram.example.org/a\nwords b,Sightings,dawn.png\n"
                + "c,Sightings,https://marram.example.org dawn.png"
        );
        Assert.Equal("https://marram.example.org/a", rows[0].Content.Common.Get(ContentFields.Link));
        Assert.Equal(Dawn.Id, rows[1].Content.Common.Get(ContentFields.Pictures)!.All[0].MediaId);
        Assert.True(rows[2].Content.Common.Has(ContentFields.Link) && rows[2].Content.Common.Has(ContentFields.Pictures));
    }

    [Fact]
    public void Columns_are_found_by_what_stands_in_them_where_no_header_says_it()
    {
        string[][] rows =
        [
            ["Marsh plan", "", "", "", ""],
            [],
            ["Monday", "2 March 2026", "Sightings", "The first avocets are back on the scrape.", "dawn.png"],
            ["Tuesday", "3 March 2026", "Rides", "A ride along the sea wall, slow and flat.", "dawn.png"],
        ];
        ColumnMatching matching = new(Context);
        Assert.Equal(0, matching.HeaderRow(rows));
        Assert.Equal(
            ["post.weekday", "post.date", "post.category", "text", "pictures"],
            matching.Match([.. rows.Skip(2)], 0).Select(c => c.Target)
        );
    }

    [Fact]
    public void A_header_further_down_is_found_and_sums_below_are_told()
    {
        IReadOnlyList<ImportRow> rows = Read(
            "Plan for spring,,\n,,\nCategory,Copy,Publish date\nSightings,a,2026-03-25\nRides,b,2026-03-26\nTotal,2,"
        );
        Assert.Equal([4, 5, 6], rows.Select(r => r.Number));
        Assert.Equal([false, false, true], rows.Select(r => r.IsSummary));
    }

    [Fact]
    public void What_was_chosen_before_under_such_headers_is_remembered()
    {
        string[][] rows =
        [
            ["Thing", "Words"],
            ["Sightings", "a"],
        ];
        IReadOnlyList<ColumnMatch> found = new ColumnMatching(Context).Match(
            rows,
            1,
            new Dictionary<string, string?> { ["thing"] = null, ["words"] = "text" }
        );
        Assert.Equal([(null, MatchBasis.Remembered), ("text", MatchBasis.Remembered)], found.Select(c => (c.Target, c.Basis)));
    }

    [Fact]
    public void A_date_without_a_time_is_offered_that_day_s_place_or_the_best_hour()
    {
        ImportContext offers = Context with { TimeFor = (_, c, _) => new(new LocalTime(9, 30), c == Sightings) };
        IReadOnlyList<ImportRow> rows = ReadSheet.Rows(
            "text,category,date\nwords a,Sightings,2026-03-25\nwords b,Rides,2026-03-25",
            offers
        );
        Assert.Equal(
            [
                "There is no time. On 25 Mar 2026 Sightings has a place at 09:30.",
                "There is no time. Around 09:30 posts do best on its channels.",
            ],
            rows.Select(r => Assert.Single(r.Findings).Words)
        );
        Assert.All(rows, r => Assert.Null(r.When));
    }

    [Fact]
    public void A_year_far_from_the_others_is_worth_a_look()
    {
        IReadOnlyList<ImportRow> rows = Read(
            "text,category,date,time\nwords a,Rides,2026-03-25,9:00\nwords b,Rides,2026-03-26,9:00\n"
                + "words c,Rides,2026-03-27,9:00\nwords d,Rides,2027-03-28,9:00"
        );
        Assert.Equal(FindingCode.RowDateFar, Assert.Single(rows[3].Findings).Code);
    }

    internal static Channel Channel(string network, string name) =>
        new()
        {
            WorkspaceId = default,
            Id = Id<Channel>.New(),
            Network = network,
            Account = name,
            Name = name,
            Handle = name.ToLowerInvariant(),
        };

    internal static Category Named(string name, params Channel[] channels) =>
        new()
        {
            WorkspaceId = default,
            Id = Id<Category>.New(),
            Name = name,
            Colour = "tide",
            Monogram = "Ca",
            UsualChannels = [.. channels.Select(c => c.Id)],
        };

    private static IReadOnlyList<ImportRow> Read(string csv) => ReadSheet.Rows(csv, Context);

    private static ImportRow Row(string date, string time) =>
        Assert.Single(Read($"title,text,category,date,time\nt,x,Sightings,{date},{time}"));
}
