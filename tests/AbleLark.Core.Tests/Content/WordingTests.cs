using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;

namespace AbleLark.Core.Tests.Content;

/// <summary>Other wordings of a post, and what a network makes of each.</summary>
public sealed class WordingTests
{
    private static readonly NetworkRules Jot = Repository.Networks["jot"];
    private static readonly Id<MediaFile> Picture = new(new Guid(1, 0, 0, new byte[8]));
    private static readonly PostContent Content = PostContent
        .Empty.With(ContentFields.Text, "Common")
        .With(ContentFields.Pictures, Pictures.Of(Picture))
        .With("jot", ContentFields.Text, "For Jot") with
    {
        Wordings = [Says("Another"), new(FieldValues.Empty.With(ContentFields.Pictures, null)), Says(new string('w', 300))],
    };

    private static ContentLayers Says(string text) => new(FieldValues.Empty.With(ContentFields.Text, text));

    [Fact]
    public void A_wording_goes_before_the_variant_and_what_it_leaves_open_is_as_in_the_post()
    {
        Assert.Equal(["For Jot", "Another", "For Jot", "For Jot"], new[] { 0, 1, 2, 9 }.Select(i => Content.For(Jot, i).Text));
        Assert.Equal([1, 1, 0], new[] { 0, 1, 2 }.Select(i => Content.For(Jot, i).Pictures.Count));
    }

    [Fact]
    public void Each_wording_is_checked_by_itself_and_the_first_that_fits_goes_where_a_person_gives_the_place()
    {
        CheckedContent check = ContentCheck.CheckAll(
            Content,
            Jot,
            new(_ =>
                new()
                {
                    WorkspaceId = default,
                    Id = Picture,
                    FileName = "p",
                    Kind = "image/png",
                    Bytes = 10,
                    Width = 100,
                    Height = 100,
                    Hash = "h",
                }
            )
        );
        Assert.Equal([true, true, false], check.Wordings.Select(a => a.Fits));
        Assert.True(check.Fits);
        Finding tooLong = new(FindingCode.TextTooLong, Severity.Blocks, "text");
        Fit fit = new([tooLong], "a", [new([tooLong], "b"), new([], "c")]);
        Assert.Equal((2, true), (fit.FirstWording, fit.Fits));
        Assert.Equal([tooLong, tooLong, null, tooLong], new[] { 0, 1, 2, 3 }.Select(fit.BlockOf));
        Assert.False(new Fit([tooLong], "a", [new([tooLong], "b")]).Fits);
    }

    [Fact]
    public void Contents_with_other_wordings_differ()
    {
        Assert.True(Content.Same(Content with { Wordings = [.. Content.Wordings] }));
        Assert.False(Content.Same(Content with { Wordings = [] }));
        Assert.Contains(
            Picture,
            (PostContent.Empty with { Wordings = [new(FieldValues.Empty.With(ContentFields.Pictures, Pictures.Of(Picture)))] }).AllFiles()
        );
    }
}
