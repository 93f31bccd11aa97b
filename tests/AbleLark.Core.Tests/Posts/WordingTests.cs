using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;

namespace AbleLark.Core.Tests.Posts;

/// <summary>Other wordings of a post, and what a network makes of each.</summary>
public sealed class WordingTests
{
    private static readonly NetworkRules Jot = Repository.Networks["jot"];
    private static readonly Id<MediaFile> Picture = new(new Guid(1, 0, 0, new byte[8]));
    private static readonly PostContent Content = PostContent.Empty with
    {
        Text = "Common",
        PictureId = Picture,
        Variants = new Dictionary<string, Variant> { ["jot"] = new("For Jot") },
        Wordings = [new("Another"), new(null, new(null)), new(new string('w', 300))],
    };

    [Fact]
    public void A_wording_goes_before_the_variant_and_what_it_leaves_open_is_as_in_the_post()
    {
        Assert.Equal(["For Jot", "Another", "For Jot", "For Jot"], new[] { 0, 1, 2, 9 }.Select(i => Content.For(Jot, i).Text));
        Assert.Equal([Picture, Picture, null], new[] { 0, 1, 2 }.Select(i => Content.For(Jot, i).PictureId));
    }

    [Fact]
    public void Each_wording_is_checked_by_itself_and_the_first_that_fits_goes_where_a_person_gives_the_place()
    {
        CheckedContent check = ContentCheck.CheckAll(
            Content,
            Jot,
            _ =>
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
        );
        Assert.Equal([true, true, false], check.Wordings.Select(a => a.Fits));
        Assert.True(check.Fits);
        NetworkFit fit = new("Too long.", "a", [new("Too long.", "b"), new(null, "c")]);
        Assert.Equal((2, true), (fit.FirstWording, fit.Fits));
        Assert.Equal(["Too long.", "Too long.", null, "Too long."], new[] { 0, 1, 2, 3 }.Select(fit.BlockOf));
        Assert.False(new NetworkFit("Too long.", "a", [new("Too long.", "b")]).Fits);
    }

    [Fact]
    public void Contents_with_other_wordings_differ()
    {
        Assert.True(Content.Same(Content with { Wordings = [.. Content.Wordings] }));
        Assert.False(Content.Same(Content with { Wordings = [] }));
        Assert.Contains(Picture, (PostContent.Empty with { Wordings = [new(null, new(Picture))] }).AllPictures());
    }
}
