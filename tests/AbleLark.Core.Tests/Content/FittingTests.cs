using AbleLark.Core.Contacts;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;
using CsCheck;
using NodaTime;

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
            Kind = "image/tiff",
            Bytes = 30_000_000,
            Width = 100,
            Height = 900,
        }
    );

    private static PostContent Common(string text) => PostContent.Empty.With(ContentFields.Text, text);

    private static string Words(int count) => string.Join(' ', Enumerable.Range(1, count).Select(i => $"word{i}"));

    /// <summary>As short as Jot, but without threads.</summary>
    private static readonly NetworkRules Short = Jot with { Fields = null };

    [Fact]
    public void A_text_is_cut_at_a_word_for_that_network_alone_and_keeps_its_link()
    {
        PostContent content = Common(Words(60)).With(ContentFields.Link, "https://marram.example.org/walks");
        FittedContent fitted = Fitting.Fit(content, Short, ContentSources.None);
        string text = fitted.Content.For(Short).Text;
        Assert.EndsWith("…\nhttps://marram.example.org/walks", text, StringComparison.Ordinal);
        Assert.StartsWith("word1 word2 ", text, StringComparison.Ordinal);
        int units = ContentCheck.Check(fitted.Content, Short, ContentSources.None).Count.Units;
        Assert.InRange(units, 280 - 7, 280);
        FixDone done = Assert.Single(fitted.Done);
        Assert.Equal((Fix.CutAtAWord, "text", Words(60)), (done.Fix, done.Field, done.Before));
        Assert.Equal(Words(60), fitted.Content.Common.Get(ContentFields.Text));
    }

    [Fact]
    public void A_single_word_too_long_is_cut_between_graphemes()
    {
        string family = string.Concat(Enumerable.Repeat("👨‍👩‍👧‍👦", 200));
        string text = Fitting.Fit(Common(family), Short, ContentSources.None).Content.For(Short).Text;
        // Each weighs two, and so does the ellipsis' place: 139 of them and "…".
        Assert.Equal(string.Concat(Enumerable.Repeat("👨‍👩‍👧‍👦", 139)) + "…", text);
    }

    [Fact]
    public void A_text_too_long_becomes_a_thread_where_there_are_threads()
    {
        string paragraph = "The tide turned at nine. " + Words(20) + ".";
        PostContent content = Common($"{paragraph}\n\n{paragraph}\n\n{paragraph}")
            .With(ContentFields.Link, "https://marram.example.org/walks");
        FittedContent fitted = Fitting.Fit(content, Jot, ContentSources.None);
        ResolvedContent sent = fitted.Content.For(Jot);
        Assert.Equal(
            [paragraph, paragraph, $"{paragraph}\nhttps://marram.example.org/walks"],
            sent.Parts.Select(p => p.Text).Prepend(sent.Text)
        );
        Assert.Equal(["text", "thread", "link"], fitted.Done.Select(d => d.Field));
        Assert.DoesNotContain(ContentFields.Link, sent.Fields.Fields);
    }

    [Fact]
    public void A_numbered_thread_counts_its_numbers_and_has_no_more_parts_than_the_network_takes()
    {
        PostContent content = Common(string.Join(". ", Enumerable.Repeat(Words(20), 60)))
            .With(ContentFields.Thread, new PostThread([new("The end.")], IsNumbered: true));
        CheckedContent check = ContentCheck.Check(Fitting.Fit(content, Jot, ContentSources.None).Content, Jot, ContentSources.None);
        Assert.True(check.Fits);
        Assert.Equal(24, check.Content.Parts.Count);
        Assert.EndsWith("… 25/25", check.Content.Parts[^1].Text, StringComparison.Ordinal);
        Assert.EndsWith(" 1/25", check.Content.Text, StringComparison.Ordinal);
    }

    /// <summary>Joined at the white space where they were cut, the parts give the text; no link, hashtag, mention or grapheme is
    /// broken.</summary>
    [Fact]
    public void The_parts_of_a_split_give_the_text_and_break_nothing()
    {
        Gen.Select(Gen.Int[0, Pieces.Length - 1].Array[1, 150], Gen.Int[8, 60])
            .Sample(
                (pieces, limit) =>
                {
                    string text = TextCounter.Normalise(string.Concat(pieces.Select(i => Pieces[i])));
                    IReadOnlyList<Range> parts = ThreadSplit.Split(text, (_, part) => part.Length <= limit);
                    int at = 0;
                    IReadOnlyList<TextPart> found = TextParts.Find(text);
                    HashSet<int> starts = [.. System.Globalization.StringInfo.ParseCombiningCharacters(text), text.Length];
                    foreach (Range part in parts)
                    {
                        (int start, int end) = (part.Start.Value, part.End.Value);
                        Assert.True(string.IsNullOrWhiteSpace(text[at..start]), "Something fell away that isn't white space.");
                        Assert.Contains(start, starts);
                        Assert.DoesNotContain(found, p => p.Start < start && start < p.End);
                        bool isOne = found.Any(p => p.Start == start && p.End == end) || !starts.Any(s => start < s && s < end);
                        Assert.True(end - start <= limit || isOne, $"“{text[part]}” is longer than {limit}.");
                        at = end;
                    }
                    Assert.True(string.IsNullOrWhiteSpace(text[at..]));
                },
                iter: Effort.Of(800)
            );
    }

    [Fact]
    public void Surplus_hashtags_go_the_comment_s_first_and_the_last_before_the_first()
    {
        NetworkRules two = Repository.Networks["glimmer"] with { Hashtags = new(Most: 2), Formats = Jot.Formats };
        PostContent content = Common("Tide #one at #two nine\n#three #four").With(ContentFields.FirstComment, "See also #five and #six");
        FittedContent fitted = Fitting.Fit(content, two, ContentSources.None);
        ResolvedContent sent = fitted.Content.For(two);
        Assert.Equal(("Tide #one at #two nine", "See also and"), (sent.Text, sent.FirstComment));
        Assert.Equal([Fix.DropHashtags, Fix.DropHashtags], fitted.Done.Select(d => d.Fix));
    }

    [Fact]
    public void A_link_that_nobody_can_click_goes_to_the_first_comment_or_out_unless_nothing_would_be_left()
    {
        NetworkRules glimmer = Repository.Networks["glimmer"] with { Formats = Jot.Formats };
        PostContent content = Common("Walk with us: https://marram.example.org/a at nine");
        ResolvedContent sent = Fitting.Fit(content, glimmer, ContentSources.None).Content.For(glimmer);
        Assert.Equal(("Walk with us: at nine", "https://marram.example.org/a"), (sent.Text, sent.FirstComment));
        NetworkRules silent = glimmer with { Fields = null };
        sent = Fitting.Fit(content, silent, ContentSources.None).Content.For(silent);
        Assert.Equal(("Walk with us: at nine", null), (sent.Text, sent.FirstComment));
        PostContent alone = Common("https://marram.example.org/a");
        Assert.Empty(Fitting.Fit(alone, glimmer, ContentSources.None).Done);
    }

    [Fact]
    public void A_picture_that_is_refused_is_left_out_where_the_post_can_do_without()
    {
        PostContent content = Common("Tide at nine").With(ContentFields.Pictures, Pictures.Of(Picture));
        FittedContent fitted = Fitting.Fit(content, Jot, Narrow);
        Assert.Empty(fitted.Content.For(Jot).Pictures);
        Assert.Equal([Picture], fitted.Content.For(Repository.Networks["meadow"]).Pictures.Select(p => p.MediaId));
        NetworkRules glimmer = Repository.Networks["glimmer"];
        Assert.Empty(Fitting.Fit(content, glimmer, Narrow).Done);
    }

    [Theory]
    [InlineData(1200, 800, 0.5, "200,0,800,800")]
    [InlineData(1200, 800, 0.9, "400,0,800,800")]
    [InlineData(800, 1200, 0.5, "0,200,800,800")]
    public void A_picture_is_cropped_to_the_shape_that_is_taken_round_what_matters(int width, int height, double focus, string expected)
    {
        NetworkRules square = Jot with
        {
            Formats = [new(PostFormat.Pictures, Pictures: new(1, 1, ["image/png"], MinWidth: 400, MinRatio: 1, MaxRatio: 1))],
        };
        PostContent content = Common("x").With(ContentFields.Pictures, new Pictures(new Picture(Picture, Focus: new(focus, 0.5))));
        ContentSources sources = new(_ => File("image/png", 1000, width, height));
        FittedContent fitted = Fitting.Fit(content, square, sources);
        Crop crop = Assert.Single(fitted.Content.For(square).Pictures).Crop!;
        Assert.Equal((Fix.CropToRatio, expected), (Assert.Single(fitted.Done).Fix, $"{crop.X},{crop.Y},{crop.Width},{crop.Height}"));
        Assert.True(ContentCheck.Check(fitted.Content, square, sources).Fits);
    }

    [Fact]
    public void Hashtags_move_to_the_first_comment_where_that_is_enough()
    {
        NetworkRules guildhall = Repository.Networks["guildhall"] with { Text = new(TextMeasure.Utf16Units, 30) };
        FittedContent fitted = Fitting.Fit(Common("Spring tides at the slip #tides #boats"), guildhall, ContentSources.None);
        ResolvedContent sent = fitted.Content.For(guildhall);
        Assert.Equal(("Spring tides at the slip", "#tides #boats"), (sent.Text, sent.FirstComment));
    }

    [Fact]
    public void A_mention_is_the_handle_of_its_network_and_one_of_another_is_put_right()
    {
        Contact ferry = new()
        {
            WorkspaceId = default,
            Id = default,
            Key = "ferry",
            Name = "Skerry Ferries",
            Kind = ContactKind.Person,
            Handles = new Dictionary<string, ContactHandle>
            {
                ["jot"] = new("skerry"),
                ["meadow"] = new("ferries"),
                ["glimmer"] = new("old", Instant.MinValue),
            },
        };
        ContentSources sources = ContentSources.None with { Contacts = [ferry] };
        PostContent content = Common("With @{Ferry} at nine");
        string On(string network) => content.For(Repository.Networks[network], sources: sources).Text;
        Assert.Equal(
            ["With @skerry at nine", "With @ferries at nine", "With Skerry Ferries at nine", "With Skerry Ferries at nine"],
            new[] { "jot", "meadow", "hearth", "glimmer" }.Select(On)
        );
        FindingCode[] Codes(PostContent said, string network) =>
            [.. ContentCheck.Check(said, Repository.Networks[network], sources).Findings.Select(f => f.Code)];
        Assert.Equal([FindingCode.PeopleNotMentioned], Codes(content, "hearth"));
        Assert.Equal([FindingCode.MentionWithoutHandle], Codes(content, "guildhall"));
        Assert.Equal([FindingCode.HandleGone, FindingCode.PictureMissing], Codes(content, "glimmer"));
        Assert.Equal([FindingCode.MentionUnknown], Codes(Common("With @{nobody}"), "jot"));
        PostContent typed = Common("With @skerry at nine");
        Assert.Equal([FindingCode.HandleOfAnotherNetwork], Codes(typed, "meadow"));
        FittedContent fitted = Fitting.Fit(typed, Repository.Networks["meadow"], sources);
        Assert.Equal("With @ferries at nine", fitted.Content.For(Repository.Networks["meadow"], sources: sources).Text);
    }

    [Fact]
    public void Every_wording_is_mended_by_itself()
    {
        PostContent content = Common("Short") with { Wordings = [new(FieldValues.Empty.With(ContentFields.Text, Words(60)))] };
        FittedContent fitted = Fitting.Fit(content, Short, ContentSources.None);
        Assert.Equal(1, Assert.Single(fitted.Done).Wording);
        Assert.Equal("Short", fitted.Content.For(Short).Text);
        Assert.True(ContentCheck.Check(fitted.Content, Short, ContentSources.None, wording: 1).Fits);
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

    private static readonly MediaFile[] Files =
    [
        File("image/png", 1000, 1000, 800),
        File("image/gif", 30_000_000, 100, 900),
        File("image/jpeg", 5000, 3000, 500),
        File("video/mp4", 9_000_000, 720, 1280, seconds: 40),
        File("video/mp4", 9_000_000, 1280, 720, seconds: 200),
        File("application/pdf", 9_000, 0, 0, pages: 12),
        File("application/pdf", 9_000, 0, 0, pages: 2000),
    ];

    private static MediaFile File(string kind, long bytes, int width, int height, double? seconds = null, int? pages = null) =>
        new()
        {
            WorkspaceId = default,
            Id = Id<MediaFile>.New(),
            Hash = "",
            FileName = "f",
            Kind = kind,
            Bytes = bytes,
            Width = width,
            Height = height,
            Seconds = seconds,
            Pages = pages,
        };

    private static readonly Gen<PostContent> Everything =
        from words in Gen.Int[0, Pieces.Length - 1].Array[1, 120].Select(p => "Note " + string.Concat(p.Select(i => Pieces[i])))
        from comment in Gen.Int[0, Pieces.Length - 1].Array[0, 60].Select(p => string.Concat(p.Select(i => Pieces[i])))
        from parts in Gen.Int[0, Pieces.Length - 1].Array[1, 60].Select(p => string.Concat(p.Select(i => Pieces[i]))).Array[0, 3]
        from pictures in Gen.Int[0, 2].Array[0, 11]
        from chosen in Gen.Int[0, 6]
        from has in Gen.Bool.Array[5]
        select Content(words, comment, parts, pictures, chosen, has);

    private static PostContent Content(string words, string comment, string[] parts, int[] pictures, int chosen, bool[] has)
    {
        Pictures? all =
            pictures.Length == 0 ? null : new([.. pictures.Take(10).Select(i => new Picture(Files[i].Id, has[4] ? "a sea" : null))]);
        return Common(words)
            .With(ContentFields.FirstComment, comment)
            .With(ContentFields.Link, has[0] ? "https://marram.example.org/" : null)
            .With(ContentFields.Pictures, all)
            .With(ContentFields.Video, has[1] ? new ChosenFile(Files[3 + (chosen % 2)].Id) : null)
            .With(ContentFields.Document, has[2] ? new ChosenFile(Files[5 + (chosen % 2)].Id) : null)
            .With(
                ContentFields.Thread,
                parts.Length == 0
                    ? null
                    : new PostThread([.. parts.Select((p, i) => new ThreadPart(p, i == 0 ? all : null))], IsNumbered: has[3])
            )
            .Tidied();
    }

    private static readonly ContentSources All = new(id => Array.Find(Files, f => f.Id == id));

    /// <summary>None of the mendable findings left, no new block, a second run changes nothing; no link, hashtag, mention is cut.</summary>
    [Fact]
    public void What_was_fitted_fits_as_far_as_it_can_be_mended_and_stays_as_it_is()
    {
        Gen.Select(Everything, Gen.Int[0, Networks.Length - 1])
            .Sample(
                (content, network) =>
                {
                    NetworkRules rules = Networks[network];
                    CheckedContent before = ContentCheck.Check(content, rules, All);
                    FittedContent fitted = Fitting.Fit(content, rules, All);
                    CheckedContent after = ContentCheck.Check(fitted.Content, rules, All);
                    foreach (Finding finding in after.Findings)
                    {
                        IReadOnlyList<Fix> fixes = Fitting.FixesOf(finding.Code, rules);
                        // What nothing would be left without stays, and so does advice on a shape that can't be had.
                        Assert.True(fixes.Count == 0 || IsNeeded(finding, after, rules), $"{rules.Name} {finding.Code}: {finding.Words}");
                        Assert.True(
                            !finding.Blocks || before.Findings.Any(f => f.Code == finding.Code),
                            $"{rules.Name}: new {finding.Code}, {finding.Words}"
                        );
                    }
                    Assert.Empty(Fitting.Fit(fitted.Content, rules, All).Done);
                    HashSet<string> had = [.. PartsOf(before.Content.Text).Concat(before.Content.Parts.SelectMany(p => PartsOf(p.Text)))];
                    Assert.All(PartsOf(after.Content.Text), p => Assert.Contains(p, had));
                },
                iter: Effort.Of(700)
            );
    }

    private static bool IsNeeded(Finding finding, CheckedContent after, NetworkRules rules) =>
        finding.Field is "pictures" or "video" or "document"
        && (!rules.Formats.Any(f => f.Format == PostFormat.Text) || after.Content.Text.Trim().Length == 0);

    private static IEnumerable<string> PartsOf(string text)
    {
        string normal = TextCounter.Normalise(text);
        return TextParts.Find(normal).Select(p => normal.Substring(p.Start, p.Length));
    }
}
