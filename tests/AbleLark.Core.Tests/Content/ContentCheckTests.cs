using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;

namespace AbleLark.Core.Tests.Content;

public sealed class ContentCheckTests
{
    private static readonly NetworkRules Jot = Repository.Networks["jot"];
    private static readonly NetworkRules Hearth = Repository.Networks["hearth"];
    private static readonly Id<MediaFile> Picture = Id<MediaFile>.New();
    private static readonly PostContent WithPicture = Common("x").With(ContentFields.Pictures, Pictures.Of(Picture));

    [Fact]
    public void A_text_too_long_for_one_network_says_by_how_much_and_fits_the_other()
    {
        PostContent content = Common(new string('a', 300));
        Finding finding = Assert.Single(ContentCheck.Check(content, Jot, ContentSources.None).Findings);
        Assert.Equal(
            (FindingCode.TextTooLong, true, "The text takes 300 of 280 on Jot: cut 20."),
            (finding.Code, finding.Blocks, finding.Words)
        );
        Assert.True(ContentCheck.Check(content, Hearth, ContentSources.None).Fits);
    }

    [Fact]
    public void A_variant_overrides_the_text_of_its_network_alone()
    {
        PostContent content = Common("common").With("jot", ContentFields.Text, "short");
        Assert.Equal(("short", "common"), (content.For(Jot).Text, content.For(Hearth).Text));
    }

    [Fact]
    public void A_variant_may_take_the_picture_away_or_bring_another()
    {
        Id<MediaFile> other = Id<MediaFile>.New();
        PostContent content = WithPicture
            .With("jot", ContentFields.Pictures, null)
            .With("hearth", ContentFields.Pictures, Pictures.Of(other));
        Assert.Empty(content.For(Jot).Pictures);
        Assert.Equal([other], content.For(Hearth).Pictures.Select(p => p.MediaId));
        Assert.Equal([Picture], WithPicture.For(Jot).Pictures.Select(p => p.MediaId));
    }

    [Fact]
    public void The_link_stands_in_the_text_where_the_network_has_no_cards()
    {
        PostContent content = Common("Walk with us").With(ContentFields.Link, "https://marram.example.org/walks");
        Assert.Equal(("Walk with us\nhttps://marram.example.org/walks", null), (content.For(Jot).Text, content.For(Jot).CardLink));
        Assert.Equal(("Walk with us", "https://marram.example.org/walks"), (content.For(Hearth).Text, content.For(Hearth).CardLink));
    }

    [Theory]
    [InlineData("See https://marram.example.org/walks", true)]
    [InlineData("See https://marram.example.org/?a=b", true)]
    [InlineData("See https://marram.example.org/.", false)]
    [InlineData("(https://marram.example.org/), at nine", false)]
    [InlineData("https://marram.example.org/walks, or https://marram.example.org/ alone", false)]
    public void A_longer_link_that_begins_alike_is_another(string text, bool isAdded)
    {
        string sent = Common(text).With(ContentFields.Link, "https://marram.example.org/").For(Jot).Text;
        Assert.Equal(isAdded ? text + "\nhttps://marram.example.org/" : text, sent);
    }

    [Fact]
    public void A_link_that_the_text_has_already_is_not_added_again()
    {
        PostContent content = Common("See https://marram.example.org/walks").With(ContentFields.Link, "https://marram.example.org/walks");
        Assert.Equal("See https://marram.example.org/walks", content.For(Jot).Text);
    }

    [Fact]
    public void Many_hashtags_are_advised_against_and_don_t_block()
    {
        CheckedContent check = ContentCheck.Check(Common("#a1 #b1 #c1 #d1"), Hearth, ContentSources.None);
        Assert.Equal(FindingCode.HashtagsAdvised, Assert.Single(check.Findings).Code);
        Assert.True(check.Fits);
    }

    [Fact]
    public void Nothing_at_all_blocks()
    {
        Assert.Equal(FindingCode.NothingToSend, Assert.Single(ContentCheck.Check(Common("  "), Jot, ContentSources.None).Findings).Code);
    }

    [Theory]
    [InlineData("image/tiff", 10, FindingCode.PictureKind)]
    [InlineData("image/png", 50_000_000, FindingCode.PictureTooHeavy)]
    public void A_picture_that_the_network_minds_is_found(string kind, long bytes, FindingCode expected)
    {
        Assert.Equal(expected, Assert.Single(ContentCheck.Check(WithPicture, Jot, File(kind, bytes)).Findings).Code);
    }

    [Fact]
    public void Rules_of_ratio_width_and_least_number_come_from_the_data_file()
    {
        NetworkRules square = Jot with
        {
            Formats = [new(PostFormat.Pictures, Pictures: new(1, 1, ["image/png"], MinWidth: 400, MinRatio: 0.8, MaxRatio: 1.2))],
        };
        Assert.Equal(FindingCode.PictureMissing, Assert.Single(ContentCheck.Check(Common("x"), square, ContentSources.None).Findings).Code);
        FindingCode[] found = [.. ContentCheck.Check(WithPicture, square, File("image/png", 10, 300, 100)).Findings.Select(f => f.Code)];
        Assert.Equal([FindingCode.PictureTooNarrow, FindingCode.PictureRatio], found);
    }

    [Fact]
    public void Every_finding_has_words()
    {
        string[] values = ["1", "2", "3", "4"];
        Assert.All(
            Enum.GetValues<FindingCode>(),
            code => Assert.DoesNotContain("{", new Finding(code, Severity.Advice, "text", values).Words, StringComparison.Ordinal)
        );
    }

    [Theory]
    [InlineData("https://marram.example.org/a?b=c#d", true)]
    [InlineData("ftp://marram.example.org", false)]
    [InlineData("javascript:alert(1)", false)]
    [InlineData("https://a b", false)]
    [InlineData("marram.example.org", false)]
    public void Only_web_addresses_are_links(string link, bool valid)
    {
        Assert.Equal(valid, WebAddress.IsValid(link));
    }

    private static PostContent Common(string text) => PostContent.Empty.With(ContentFields.Text, text);

    private static ContentSources File(string kind, long bytes, int width = 800, int height = 600) =>
        new(_ =>
            new()
            {
                WorkspaceId = default,
                Id = Picture,
                Hash = "",
                FileName = "p",
                Kind = kind,
                Bytes = bytes,
                Width = width,
                Height = height,
            }
        );
}
