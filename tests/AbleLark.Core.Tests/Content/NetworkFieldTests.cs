using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Tests.Content;

/// <summary>Fields that some networks take, by the networks' own files.</summary>
public sealed class NetworkFieldTests
{
    private static readonly NetworkRules Meadow = Repository.Networks["meadow"];
    private static readonly NetworkRules Corkwall = Repository.Networks["corkwall"];
    private static readonly NetworkRules Glimmer = Repository.Networks["glimmer"];
    private static readonly NetworkRules Hearth = Repository.Networks["hearth"];
    private static readonly Id<MediaFile> Picture = Id<MediaFile>.New();
    private static readonly PostContent Pictured = PostContent
        .Empty.With(ContentFields.Text, "Tide at nine")
        .With(ContentFields.Pictures, Pictures.Of(Picture));

    private static ContentSources File(string altText = "", int width = 800, int height = 1200) =>
        new(_ =>
            new()
            {
                WorkspaceId = default,
                Id = Picture,
                Hash = "",
                FileName = "p",
                Kind = "image/png",
                Bytes = 10,
                Width = width,
                Height = height,
                AltText = altText,
            }
        );

    private static FindingCode[] Codes(PostContent content, NetworkRules rules, ContentSources? sources = null) =>
        [.. ContentCheck.Check(content, rules, sources ?? File()).Findings.Select(f => f.Code)];

    [Fact]
    public void A_picture_needs_alt_text_where_the_network_wants_it_its_own_or_the_file_s()
    {
        Assert.Equal([FindingCode.AltTextMissing], Codes(Pictured, Meadow));
        Assert.Empty(Codes(Pictured.With(ContentFields.Pictures, new Pictures(new Picture(Picture, "A calm sea"))), Meadow));
        Assert.Empty(Codes(Pictured, Meadow, File("A calm sea")));
        Assert.Empty(Codes(PostContent.Empty.With(ContentFields.Text, "No picture"), Meadow));
        Assert.Equal(
            [FindingCode.FieldTooLong],
            Codes(Pictured.With(ContentFields.Pictures, new Pictures(new Picture(Picture, new string('a', 1501)))), Meadow)
        );
    }

    [Fact]
    public void Graphemes_are_what_counts_where_the_file_says_so()
    {
        string family = string.Concat(Enumerable.Repeat("👨‍👩‍👧‍👦", 500));
        Assert.Empty(Codes(PostContent.Empty.With(ContentFields.Text, family), Meadow));
        Assert.Equal([FindingCode.TextTooLong], Codes(PostContent.Empty.With(ContentFields.Text, family + "!"), Meadow));
    }

    [Fact]
    public void Only_the_values_that_the_network_lists_are_taken()
    {
        PostContent content = PostContent.Empty.With(ContentFields.Text, "x").With(ContentFields.Visibility, "everyone");
        Assert.Empty(Codes(content, Meadow));
        Assert.Equal([FindingCode.FieldValueUnknown], Codes(content.With("meadow", ContentFields.Visibility, "nobody"), Meadow));
        Assert.Empty(Codes(content.With("meadow", ContentFields.Visibility, "nobody"), Hearth));
    }

    [Fact]
    public void A_network_may_need_a_link_and_a_wall_and_like_one_shape_best()
    {
        Assert.Equal([FindingCode.LinkMissing, FindingCode.FieldMissing], Codes(Pictured, Corkwall));
        PostContent whole = Pictured.With(ContentFields.Link, "https://marram.example.org/").With(ContentFields.Wall, "Tides");
        Assert.Empty(Codes(whole, Corkwall));
        Assert.Equal([FindingCode.PictureRatioAdvised], Codes(whole, Corkwall, File(width: 800, height: 800)));
        Assert.Equal([FindingCode.PictureMissing], Codes(whole.With("corkwall", ContentFields.Pictures, null), Corkwall));
    }

    [Fact]
    public void Hashtags_of_the_first_comment_count_with_the_text_s()
    {
        string tags = string.Join(' ', Enumerable.Range(0, 20).Select(i => $"#tag{i}"));
        PostContent content = Pictured.With(ContentFields.Text, tags).With(ContentFields.FirstComment, tags);
        Assert.Contains(FindingCode.TooManyHashtags, Codes(content, Glimmer, File(width: 800, height: 800)));
        // A network without first comments never sees them.
        Assert.DoesNotContain(FindingCode.TooManyHashtags, Codes(content, Meadow, File("Sea")));
        Assert.Equal(20, ContentCheck.Check(content, Meadow, File("Sea")).Count.Hashtags);
    }

    [Fact]
    public void A_first_comment_is_a_step_of_its_own_under_the_post()
    {
        PostContent content = Pictured.With(ContentFields.FirstComment, "#tides");
        IReadOnlyList<SendingStep> steps = SendingSteps.Of(content.For(Glimmer), Glimmer);
        Assert.Equal(["picture", "post", "comment"], steps.Select(s => s.Key));
        SendingStep.Publish post = (SendingStep.Publish)steps[1];
        SendingStep.Publish comment = (SendingStep.Publish)steps[2];
        Assert.False(post.Fields.Has(ContentFields.FirstComment));
        Assert.Equal(("#tides", "post"), (comment.Fields.Get(ContentFields.Text), comment.Under));
        Assert.Equal(
            ["post"],
            SendingSteps.Of(content.With("meadow", ContentFields.Pictures, null).For(Meadow), Meadow).Select(s => s.Key)
        );
        Assert.Equal(
            ["picture", "post"],
            SendingSteps.Of(content.With("glimmer", ContentFields.FirstComment, "  ").For(Glimmer), Glimmer).Select(s => s.Key)
        );
    }
}
