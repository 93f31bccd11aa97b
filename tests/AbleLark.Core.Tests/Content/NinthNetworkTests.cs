using System.Text.Json;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Findings;
using AbleLark.Core.Imports;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Tests.Imports;
using NodaTime;

namespace AbleLark.Core.Tests.Content;

/// <summary>A network that nobody thought of, of long videos with a thumbnail and chapters: a data file, and a declaration for each field
/// that is new.</summary>
public sealed class NinthNetworkTests
{
    private const string Rules = """
        {
          "key": "lantern", "name": "Lantern", "kind": "long video", "holdsFrom": "2026-01-01", "mark": "M4 6 H20 V18 H4 Z",
          "text": { "measure": "codePoints", "limit": 5000, "foldAfter": 150 }, "link": "notClickable", "hashtags": { "most": 15 },
          "formats": [{ "format": "video", "video": { "kinds": ["video/mp4"], "mostBytes": 107374182400, "maxSeconds": 43200 } }],
          "fields": { "title": { "isNeeded": true, "limit": 100 }, "thumbnail": {}, "chapters": { "limit": 60 } },
          "sending": { "honoursKeys": true, "appearsWithinSeconds": 600, "readsBack": 50, "atOnce": 2 },
          "figures": ["videoViews", "likes", "comments"], "timesSeen": "videoViews"
        }
        """;

    private static readonly Field<ChosenFile> Thumbnail = new FileField("thumbnail", "Thumbnail");
    private static readonly Field<string> Chapters = new TextField("chapters", "Chapters", most: 5_000, FieldKind.Text);
    private static readonly IReadOnlyList<Field> Fields = [.. ContentFields.All, Thumbnail, Chapters];
    private static readonly NetworkRules Lantern = NetworkRules.Parse(Rules);

    private static readonly MediaFile[] Files = [File("video/mp4", 1920, 1080, 3600), File("image/png", 1280, 720, null)];
    private static readonly ContentSources Sources = new(id => Array.Find(Files, f => f.Id == id));

    private static readonly PostContent Whole = PostContent
        .Empty.With(ContentFields.Text, "A night at the nets")
        .With(ContentFields.Title, "Ringing by lantern")
        .With(ContentFields.Video, new ChosenFile(Files[0].Id))
        .With("lantern", Thumbnail, new ChosenFile(Files[1].Id))
        .With("lantern", Chapters, "0:00 Dusk\n12:30 The first tern");

    [Fact]
    public void Its_fields_are_checked_by_its_file()
    {
        FindingCode[] Codes(PostContent content) =>
            [.. ContentCheck.Check(content, Lantern, Sources, fields: Fields).Findings.Select(f => f.Code)];
        Assert.Empty(Codes(Whole));
        Assert.Equal([FindingCode.VideoMissing], Codes(Whole.With(ContentFields.Video, null)));
        Assert.Equal([FindingCode.FieldMissing], Codes(Whole.With(ContentFields.Title, null)));
        Assert.Equal([FindingCode.FieldTooLong], Codes(Whole.With("lantern", Chapters, new string('c', 61))));
        Assert.Equal([FindingCode.PictureKind], Codes(Whole.With("lantern", Thumbnail, new ChosenFile(Files[0].Id))));
    }

    [Fact]
    public void All_of_it_is_sent_its_files_uploaded_first_and_other_networks_get_none_of_it()
    {
        IReadOnlyList<SendingStep> steps = SendingSteps.Of(Whole.For(Lantern, fields: Fields), Lantern);
        Assert.Equal(["video", "thumbnail", "post"], steps.Select(s => s.Key));
        SendingStep.Publish post = (SendingStep.Publish)steps[^1];
        Assert.Equal(["video"], post.Uploads);
        Assert.Equal("thumbnail", post.Named!["thumbnail"]);
        Assert.Equal("0:00 Dusk\n12:30 The first tern", post.Fields.Get(Chapters));
        FieldValues hearth = Whole.For(Repository.Networks["hearth"], fields: Fields).Fields;
        Assert.DoesNotContain(hearth.Fields, f => f == Thumbnail || f == Chapters || f == ContentFields.Title);
    }

    [Fact]
    public void It_is_stored_compared_hashed_and_imported()
    {
        JsonSerializerOptions format = new(JsonSerializerDefaults.Web) { Converters = { new FieldValuesJson(Fields) } };
        Assert.True(Whole.Same(JsonSerializer.Deserialize<PostContent>(JsonSerializer.Serialize(Whole, format), format)!));
        PostContent other = Whole.With("lantern", Chapters, "0:00 Dusk");
        Assert.Equal(["Chapters"], Whole.DifferencesTo(other, Sources, Fields).Select(d => d.Field.Name));
        Assert.NotEqual(
            ContentHash.Of(Whole.For(Lantern, fields: Fields), Sources),
            ContentHash.Of(other.For(Lantern, fields: Fields), Sources)
        );
        Assert.Equal(Files.Select(f => f.Id).Order(), Whole.AllFiles().Order());
        NetworkBook networks = new([.. Repository.Networks.All, Lantern]);
        ImportContext context = new(
            [],
            [],
            networks,
            new Dictionary<string, MediaFile> { ["night.png"] = Files[1] },
            DateTimeZone.Utc,
            new(2026, 1, 1, 0, 0)
        )
        {
            Targets = new(networks, [], Fields),
        };
        ImportRow row = ReadSheet.Rows("title,text,chapters:lantern,thumbnail\nA,Night,0:00 Dusk,night.png", context).Single();
        Assert.Equal(
            ("0:00 Dusk", Files[1].Id),
            (row.Content.Networks["lantern"].Get(Chapters), row.Content.Common.Get(Thumbnail)!.MediaId)
        );
    }

    private static MediaFile File(string kind, int width, int height, double? seconds) =>
        new()
        {
            WorkspaceId = default,
            Id = Id<MediaFile>.New(),
            Hash = kind,
            FileName = "night",
            Kind = kind,
            Bytes = 9_000,
            Width = width,
            Height = height,
            Seconds = seconds,
        };
}
