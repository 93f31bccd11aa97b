using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;
using CsCheck;

namespace AbleLark.Core.Tests.Content;

public sealed class FittingTests
{
    private static readonly NetworkRules Jot = Repository.Networks["jot"];
    private static readonly NetworkRules[] Networks = [.. Repository.Networks.All];
    private static readonly Id<MediaFile> Picture = Id<MediaFile>.New();
    private static readonly ContentSources Narrow = new(_ =>
        new()
        {
            WorkspaceId = default,
            Id = Picture,
            Hash = "",
            FileName = "p",
            Kind = "image/gif",
            Bytes = 30_000_000,
            Width = 100,
            Height = 900,
        }
    );

    private static PostContent Common(string text) => PostContent.Empty.With(ContentFields.Text, text);

    private static string Words(int count) => string.Join(' ', Enumerable.Range(1, count).Select(i => $"word{i}"));

    [Fact]
    public void A_text_is_cut_at_a_word_for_that_network_alone_and_keeps_its_link()
    {
        PostContent content = Common(Words(60)).With(ContentFields.Link, "https://marram.example.org/walks");
        FittedContent fitted = Fitting.Fit(content, Jot, ContentSources.None);
        string text = fitted.Content.For(Jot).Text;
        Assert.EndsWith("…\nhttps://marram.example.org/walks", text, StringComparison.Ordinal);
        Assert.StartsWith("word1 word2 ", text, StringComparison.Ordinal);
        int units = ContentCheck.Check(fitted.Content, Jot, ContentSources.None).Count.Units;
        Assert.InRange(units, 280 - 7, 280);
        FixDone done = Assert.Single(fitted.Done);
        Assert.Equal((Fix.CutAtAWord, "text", Words(60)), (done.Fix, done.Field, done.Before));
        Assert.Equal(Words(60), fitted.Content.Common.Get(ContentFields.Text));
    }

    [Fact]
    public void A_single_word_too_long_is_cut_between_graphemes()
    {
        string family = string.Concat(Enumerable.Repeat("👨‍👩‍👧‍👦", 200));
        string text = Fitting.Fit(Common(family), Jot, ContentSources.None).Content.For(Jot).Text;
        // Each weighs two, and so does the ellipsis' place: 139 of them and "…".
        Assert.Equal(string.Concat(Enumerable.Repeat("👨‍👩‍👧‍👦", 139)) + "…", text);
    }

    [Fact]
    public void Surplus_hashtags_go_the_comment_s_first_and_the_last_before_the_first()
    {
        NetworkRules two = Repository.Networks["glimmer"] with { Hashtags = new(Most: 2), Pictures = Jot.Pictures };
        PostContent content = Common("Tide #one at #two nine\n#three #four").With(ContentFields.FirstComment, "See also #five and #six");
        FittedContent fitted = Fitting.Fit(content, two, ContentSources.None);
        ResolvedContent sent = fitted.Content.For(two);
        Assert.Equal(("Tide #one at #two nine", "See also and"), (sent.Text, sent.FirstComment));
        Assert.Equal([Fix.DropHashtags, Fix.DropHashtags], fitted.Done.Select(d => d.Fix));
    }

    [Fact]
    public void A_link_that_nobody_can_click_is_taken_out_unless_nothing_would_be_left()
    {
        NetworkRules glimmer = Repository.Networks["glimmer"] with { Pictures = Jot.Pictures };
        PostContent content = Common("Walk with us: https://marram.example.org/a at nine");
        Assert.Equal("Walk with us: at nine", Fitting.Fit(content, glimmer, ContentSources.None).Content.For(glimmer).Text);
        PostContent alone = Common("https://marram.example.org/a");
        Assert.Empty(Fitting.Fit(alone, glimmer, ContentSources.None).Done);
    }

    [Fact]
    public void A_picture_that_is_refused_is_left_out_where_the_post_can_do_without()
    {
        PostContent content = Common("Tide at nine").With(ContentFields.Picture, new Picture(Picture));
        FittedContent fitted = Fitting.Fit(content, Jot, Narrow);
        Assert.Null(fitted.Content.For(Jot).PictureId);
        Assert.Equal(Picture, fitted.Content.For(Repository.Networks["meadow"]).PictureId);
        NetworkRules glimmer = Repository.Networks["glimmer"];
        Assert.Empty(Fitting.Fit(content, glimmer, Narrow).Done);
    }

    [Fact]
    public void Every_wording_is_mended_by_itself()
    {
        PostContent content = Common("Short") with { Wordings = [new(FieldValues.Empty.With(ContentFields.Text, Words(60)))] };
        FittedContent fitted = Fitting.Fit(content, Jot, ContentSources.None);
        Assert.Equal(1, Assert.Single(fitted.Done).Wording);
        Assert.Equal("Short", fitted.Content.For(Jot).Text);
        Assert.True(ContentCheck.Check(fitted.Content, Jot, ContentSources.None, wording: 1).Fits);
    }

    private static readonly string[] Pieces =
    [
        "tide ",
        "é",
        "鳥",
        "👍🏽",
        "🇮🇪 ",
        "\n",
        " https://marram.example.org/walks/dawn?from=ferry ",
        " example.org ",
        " #birds ",
        "#ringing",
        " @wren ",
        "… ",
        "slow-and-steady ",
    ];

    /// <summary>None of the mendable findings left, no new block, a second run changes nothing; no link, hashtag, mention is cut.</summary>
    [Fact]
    public void What_was_fitted_fits_as_far_as_it_can_be_mended_and_stays_as_it_is()
    {
        Gen<string> text = Gen.Int[0, Pieces.Length - 1].Array[1, 120].Select(p => "Note " + string.Concat(p.Select(i => Pieces[i])));
        Gen.Select(text, text, Gen.Bool, Gen.Bool, Gen.Int[0, Networks.Length - 1])
            .Sample(
                (words, comment, hasLink, hasPicture, network) =>
                {
                    NetworkRules rules = Networks[network];
                    PostContent content = Common(words).With(ContentFields.FirstComment, comment);
                    if (hasLink)
                        content = content.With(ContentFields.Link, "https://marram.example.org/");
                    if (hasPicture)
                        content = content.With(ContentFields.Picture, new Picture(Picture));
                    FindingCode[] before = [.. ContentCheck.Check(content, rules, Narrow).Findings.Select(f => f.Code)];
                    FittedContent fitted = Fitting.Fit(content, rules, Narrow);
                    CheckedContent after = ContentCheck.Check(fitted.Content, rules, Narrow);
                    bool needsPicture = rules.Pictures.Fewest > 0;
                    foreach (Finding finding in after.Findings)
                    {
                        Assert.True(
                            Fitting.FixOf(finding.Code) is not { } fix || (fix == Fix.LeavePictureOut && needsPicture),
                            $"{rules.Name} {finding.Code}: {words}"
                        );
                        Assert.True(!finding.Blocks || before.Contains(finding.Code), $"{rules.Name}: new {finding.Code}");
                    }
                    Assert.Empty(Fitting.Fit(fitted.Content, rules, Narrow).Done);
                    HashSet<string> had = [.. PartsOf(content.For(rules).Text)];
                    Assert.All(PartsOf(after.Content.Text), p => Assert.Contains(p, had));
                },
                iter: Effort.Of(600)
            );
    }

    private static IEnumerable<string> PartsOf(string text)
    {
        string normal = TextCounter.Normalise(text);
        return TextParts.Find(normal).Select(p => normal.Substring(p.Start, p.Length));
    }
}
