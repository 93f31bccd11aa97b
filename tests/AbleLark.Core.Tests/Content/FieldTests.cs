using System.Text.Json;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Imports;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Tests.Imports;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Content;

/// <summary>"One more content field", as CONTRIBUTING.md shows it: one declaration and a line in a network's file, and everything that
/// deals with content deals with it.</summary>
public sealed class FieldTests
{
    private static readonly Field<string> Mood = new TextField("mood", "Mood", most: 40);
    private static readonly IReadOnlyList<Field> Fields = [.. ContentFields.All, Mood];
    private static readonly JsonSerializerOptions Format = new(JsonSerializerDefaults.Web) { Converters = { new FieldValuesJson(Fields) } };
    private static readonly NetworkRules Hearth = Repository.Networks["hearth"];
    private static readonly NetworkRules Moody = Repository.Networks["jot"] with
    {
        Fields = new Dictionary<string, FieldRules> { ["mood"] = new(IsNeeded: true, Limit: 8) },
    };

    private static PostContent Content(string? mood) =>
        PostContent.Empty.With(ContentFields.Text, "Tide at nine") is var content && mood is null ? content : content.With(Mood, mood);

    [Fact]
    public void It_is_written_and_read_back_in_every_layer()
    {
        PostContent content = Content("calm").With("jot", Mood, null) with { Wordings = [new(FieldValues.Empty.With(Mood, "wild"))] };
        string json = JsonSerializer.Serialize(content, Format);
        Assert.Contains("\"mood\":\"calm\"", json, StringComparison.Ordinal);
        Assert.True(content.Same(JsonSerializer.Deserialize<PostContent>(json, Format)!));
    }

    [Fact]
    public void It_goes_to_networks_that_take_it_alone()
    {
        Assert.Equal("calm", Content("calm").For(Moody, fields: Fields).Fields.Get(Mood));
        Assert.False(Content("calm").For(Hearth, fields: Fields).Fields.Has(Mood));
    }

    [Theory]
    [InlineData("calm", null)]
    [InlineData(null, "Jot needs this: Mood.")]
    [InlineData("very stormy", "Mood: 11 of 8 on Jot. Shorten it.")]
    public void It_is_checked_by_the_network_s_file(string? mood, string? words) =>
        Assert.Equal(words, ContentCheck.Check(Content(mood), Moody, ContentSources.None, fields: Fields).Block?.Words);

    [Fact]
    public void Content_that_has_not_got_it_keeps_its_hash_and_other_content_has_another()
    {
        static string Hash(string? mood, IReadOnlyList<Field> fields) =>
            ContentHash.Of(Content(mood).For(Moody, fields: fields), ContentSources.None);
        Assert.Equal(Hash(null, ContentFields.All), Hash(null, Fields));
        Assert.NotEqual(Hash("calm", Fields), Hash(null, Fields));
    }

    [Fact]
    public void It_is_a_difference_in_words()
    {
        ContentDifference difference = Assert.Single(Content("calm").DifferencesTo(Content("wild"), ContentSources.None, Fields));
        Assert.Equal(("Mood", "calm", "wild"), (difference.Field.Name, difference.Before, difference.After));
    }

    [Fact]
    public void What_an_edit_changed_is_said_in_a_few_words()
    {
        PostContent before = Content(null);
        PostContent after = before.With(ContentFields.Text, "Tide at ten").With("jot", ContentFields.Text, "Ten!") with
        {
            Wordings =
            [
                new(FieldValues.Empty.With(ContentFields.Text, "High water")),
                new(FieldValues.Empty.With(ContentFields.Text, "Ebb")),
            ],
        };
        string Summary(PostContent to) => ContentDifference.Summary(before.DifferencesTo(to, ContentSources.None), Repository.Networks);
        Assert.Equal("text, text for Jot, text of wording 2 and 1 more", Summary(after));
        Assert.Equal("", Summary(before));
    }

    [Fact]
    public void It_is_a_column_of_a_sheet()
    {
        ImportContext context = new(
            [],
            [],
            Repository.Networks,
            new Dictionary<string, MediaFile>(),
            DateTimeZone.Utc,
            new(2026, 1, 1, 0, 0)
        )
        {
            Targets = new(Repository.Networks, [], Fields),
        };
        ImportRow row = ReadSheet.Rows("title,text,mood,mood:jot\nA,Tide at nine,calm,wild", context).Single();
        Assert.Equal(("calm", "wild"), (row.Content.Common.Get(Mood), row.Content.Networks["jot"].Get(Mood)));
    }

    [Fact]
    public void What_is_longer_than_it_may_be_is_refused_in_words()
    {
        FormatException e = Assert.Throws<FormatException>(() => Content(new string('m', 41)).Tidied());
        Assert.StartsWith("Mood: longer than 40", e.Message, StringComparison.Ordinal);
    }

    /// <summary>Channel, network, in common; in the wording first, then in the post: whatever is said nearest goes.</summary>
    [Fact]
    public void The_nearest_layer_that_says_something_of_a_field_goes()
    {
        Id<Channel> channel = Id<Channel>.New();
        Gen.Bool.Array[6]
            .Sample(said =>
            {
                FieldValues At(int place) => said[place] ? FieldValues.Empty.With(ContentFields.Text, $"{place}") : FieldValues.Empty;
                PostContent content = new(
                    At(5),
                    new Dictionary<string, FieldValues> { ["jot"] = At(4) },
                    new Dictionary<Id<Channel>, FieldValues> { [channel] = At(3) },
                    [
                        new(
                            At(2),
                            new Dictionary<string, FieldValues> { ["jot"] = At(1) },
                            new Dictionary<Id<Channel>, FieldValues> { [channel] = At(0) }
                        ),
                    ]
                );
                int nearest = Array.IndexOf(said, true);
                return content.For(new(Repository.Networks["jot"], channel), wording: 1).Text == (nearest < 0 ? "" : $"{nearest}");
            });
    }

    [Fact]
    public void Channels_without_content_of_their_own_share_their_network_s_check()
    {
        Channel Of(string account) =>
            new()
            {
                WorkspaceId = default,
                Id = Id<Channel>.New(),
                Network = "jot",
                Account = account,
                Name = account,
                Handle = account,
            };
        (Channel own, Channel shared) = (Of("own"), Of("shared"));
        PostContent content = Content(null) with
        {
            Channels = new Dictionary<Id<Channel>, FieldValues>
            {
                [own.Id] = FieldValues.Empty.With(ContentFields.Text, new string('x', 300)),
            },
        };
        Core.Posts.Post post = new()
        {
            WorkspaceId = default,
            Id = default,
            Title = "A",
            CategoryId = default,
        };
        post.Take(Core.Posts.PostChecks.Of(content, Repository.Networks, [own, shared], ContentSources.None));
        Assert.Equal((false, true), (post.FitOn(own)!.Fits, post.FitOn(shared)!.Fits));
        Assert.Equal([own.FitKey, "jot"], [post.FitKeyOf(own), post.FitKeyOf(shared)]);
    }
}
