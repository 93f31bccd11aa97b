using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Data;
using AbleLark.Server.Networks;
using NodaTime;

namespace AbleLark.Server.Tests.Networks;

/// <param name="Disagreements">Each with the content, in words.</param>
/// <param name="Taken">How many each network took.</param>
public sealed record AgreementResult(
    IReadOnlyList<string> Disagreements,
    IReadOnlyDictionary<string, int> Taken,
    IReadOnlyDictionary<string, int> Refused
);

/// <summary>Random posts of every field, checked by the application and by the stand-in networks.</summary>
public static class Agreement
{
    private const int AtOnce = 250;

    private static readonly string[] Pieces =
    [
        "tide ",
        "Ebb ",
        "é",
        "鳥",
        "Ж",
        "🐦",
        "👍🏽",
        "🇮🇪 ",
        "\n",
        " https://marram.example.org/walks/dawn?from=ferry ",
        " example.org ",
        " #birds ",
        "… ",
        "“ringing” ",
    ];

    private static readonly MediaFile[] Pictures =
    [
        Of("image/png", 1000, 600, 400),
        Of("image/jpeg", 4_000_000, 1000, 1000),
        Of("image/gif", 3000, 800, 700),
        Of("image/webp", 7_000_000, 390, 390),
        Of("image/png", 30_000_000, 2000, 700),
    ];

    private static readonly MediaFile[] Videos =
    [
        Of("video/mp4", 9_000_000, 720, 1280, seconds: 42),
        Of("video/mp4", 9_000_000, 1280, 720, seconds: 2),
        Of("video/mp4", 300_000_000, 1080, 1920, seconds: 200),
    ];

    private static readonly MediaFile[] Documents =
    [
        Of("application/pdf", 90_000, 0, 0, pages: 12),
        Of("application/pdf", 90_000, 0, 0, pages: 301),
    ];

    private static readonly ContentSources Sources = new(id => Pictures.Concat(Videos).Concat(Documents).FirstOrDefault(f => f.Id == id));

    /// <summary>What a stand-in says when it refuses, as a part of its words, and the findings that are the same to us.</summary>
    private static readonly (string Words, FindingCode[] Codes)[] Same =
    [
        ("post is empty", [FindingCode.NothingToSend]),
        ("comment has", [FindingCode.FieldTooLong]),
        ("The text", [FindingCode.TextTooLong, FindingCode.PartTooLong]),
        ("alt text", [FindingCode.AltTextMissing, FindingCode.FieldTooLong]),
        ("hashtags", [FindingCode.TooManyHashtags]),
        ("parts at most", [FindingCode.TooManyParts]),
        (
            "or one video",
            [FindingCode.OneKindOfMedia, FindingCode.PicturesNotTaken, FindingCode.VideoNotTaken, FindingCode.DocumentNotTaken]
        ),
        ("pictures, ", [FindingCode.TooManyPictures, FindingCode.PicturesNotTaken]),
        ("No videos", [FindingCode.VideoNotTaken]),
        ("No documents", [FindingCode.DocumentNotTaken, FindingCode.OneKindOfMedia]),
        ("such a picture", [FindingCode.PictureKind]),
        ("too small", [FindingCode.PictureTooNarrow, FindingCode.PictureTooLow]),
        ("not the shape", [FindingCode.PictureRatio]),
        ("such a video", [FindingCode.FileTooHeavy]),
        ("seconds", [FindingCode.VideoTooShort, FindingCode.VideoTooLong]),
        ("Upright", [FindingCode.VideoRatio]),
        ("pages, ", [FindingCode.TooManyPages]),
        ("picture is needed", [FindingCode.PictureMissing]),
        ("video is needed", [FindingCode.VideoMissing]),
        ("document is needed", [FindingCode.DocumentMissing]),
        ("link is needed", [FindingCode.LinkMissing]),
        ("no target", [FindingCode.ButtonLeadsNowhere]),
        ("no verb", [FindingCode.ButtonWithoutVerb]),
        ("Both dates", [FindingCode.DatesHalf]),
        ("ends before", [FindingCode.DatesBackwards]),
        ("A year at most", [FindingCode.DatesFarApart]),
        ("is one of", [FindingCode.FieldValueUnknown]),
        ("is needed", [FindingCode.FieldMissing]),
        ("” has", [FindingCode.FieldTooLong]),
    ];

    /// <param name="http">Of the stand-in networks.</param>
    public static async Task<AgreementResult> AskAsync(HttpClient http, NetworkBook networks, int posts, int seed)
    {
        Random chance = new(seed);
        List<string> disagreements = [];
        Dictionary<string, int> taken = networks.All.ToDictionary(n => n.Key, _ => 0);
        Dictionary<string, int> refused = networks.All.ToDictionary(n => n.Key, _ => 0);
        NetworkRules[] all = [.. networks.All];
        for (int done = 0; done < posts; done += AtOnce)
        {
            var asked = Enumerable
                .Range(0, Math.Min(AtOnce, posts - done))
                .Select(i =>
                {
                    NetworkRules rules = all[(done + i) % all.Length];
                    PostContent content = Content(chance, rules);
                    CheckedContent check = ContentCheck.Check(content, rules, Sources);
                    return (Rules: rules, Content: content, Check: check, Orders: Orders(rules, check.Content));
                })
                .ToList();
            string?[] answers = await AnswersAsync(http, [.. asked.SelectMany(a => a.Orders)]);
            int next = 0;
            foreach (var one in asked)
            {
                string[] words = [.. answers[next..(next += one.Orders.Count)].OfType<string>()];
                (words.Length == 0 ? taken : refused)[one.Rules.Key]++;
                if (Disagreement(one.Check, words) is { } why)
                    disagreements.Add($"{one.Rules.Name}: {why} {JsonSerializer.Serialize(one.Content, LarkJson.Options)}");
            }
        }
        return new(disagreements, taken, refused);
    }

    private static string? Disagreement(CheckedContent check, IReadOnlyList<string> refusals)
    {
        FindingCode[] blocks = [.. check.Findings.Where(f => f.Blocks).Select(f => f.Code)];
        if (blocks.Length == 0)
            return refusals.Count == 0 ? null : $"we say it fits, the network “{refusals[0]}”";
        if (refusals.Count == 0)
            return $"we say {string.Join(", ", blocks)}, the network takes it";
        FindingCode[] theirs = [.. refusals.SelectMany(r => Same.First(s => r.Contains(s.Words, StringComparison.Ordinal)).Codes)];
        return theirs.Intersect(blocks).Any() ? null : $"we say {string.Join(", ", blocks)}, the network “{refusals[0]}”";
    }

    private static async Task<string?[]> AnswersAsync(HttpClient http, IReadOnlyList<object> orders)
    {
        using HttpResponseMessage response = await http.PostAsJsonAsync("/control/check", orders);
        response.EnsureSuccessStatusCode();
        return (await response.Content.ReadFromJsonAsync<string?[]>())!;
    }

    /// <summary>What the network would be asked, call by call.</summary>
    private static List<object> Orders(NetworkRules rules, ResolvedContent content)
    {
        IReadOnlyList<SendingStep> steps = SendingSteps.Of(content, rules);
        Dictionary<string, SendingStep.Publish> published = steps.OfType<SendingStep.Publish>().ToDictionary(s => s.Key);
        return
        [
            .. published.Values.Select(step => new
            {
                network = rules.Key,
                post = PlainProtocol.BodyOf(Publication.Of(step, steps, Sources.Media, key => key)),
                files = step
                    .Uploads.Select(u => steps.OfType<SendingStep.Upload>().Single(s => s.Key == u).Chosen)
                    .Select(chosen => (File: Sources.Media(chosen.MediaId)!, chosen.Crop))
                    .Select(f => new
                    {
                        f.File.Kind,
                        // As they go out: cut, and pictures no heavier than what is taken.
                        Bytes = f.File.Seconds is null && f.File.Pages is null
                            ? Math.Min(f.File.Bytes, Formats.PicturesOf(content.Fields, rules)?.MostBytes ?? long.MaxValue)
                            : f.File.Bytes,
                        Width = f.Crop?.Width ?? f.File.Width,
                        Height = f.Crop?.Height ?? f.File.Height,
                        seconds = f.File.Seconds ?? 0,
                        pages = f.File.Pages ?? 0,
                    }),
                above = Above(step).ToArray(),
            }),
        ];

        IEnumerable<string> Above(SendingStep.Publish step)
        {
            for (string? under = step.Under; under is not null; under = published[under].Under)
                yield return published[under].Fields.Get(ContentFields.Text) ?? "";
        }
    }

    /// <summary>Content of every field that the network takes, each of them now and then missing, too long, or not of its values.</summary>
    private static PostContent Content(Random chance, NetworkRules rules)
    {
        PostContent content = PostContent.Empty.With(ContentFields.Text, chance.Next(12) == 0 ? "" : Text(chance, rules));
        if (chance.Next(3) > 0)
            content = content.With(ContentFields.Link, "https://marram.example.org/walks");
        bool wantsVideo = !rules.Formats.Any(f => f.Format == PostFormat.Pictures);
        if (chance.Next(4) > (wantsVideo ? 2 : 0))
            content = content.With(ContentFields.Pictures, Some(chance, chance.Next(3) > 0 ? 1 : chance.Next(1, 11)));
        if (chance.Next(4) == 0 || (wantsVideo && chance.Next(5) > 0))
            content = content.With(ContentFields.Video, new ChosenFile(Videos[chance.Next(3) > 0 ? 0 : chance.Next(Videos.Length)].Id));
        if (chance.Next(6) == 0)
            content = content.With(ContentFields.Document, new ChosenFile(Documents[chance.Next(Documents.Length)].Id));
        FormatRules[] asked = [.. rules.Formats.Where(f => !f.IsAskedFor)];
        if (chance.Next(3) == 0)
            content = content.With(ContentFields.Format, Formats.WordOf(asked[chance.Next(asked.Length)].Format));
        if (rules.RulesOf(ContentFields.Thread.Key) is not null && chance.Next(3) == 0)
            content = content.With(ContentFields.Thread, Thread(chance, rules));
        return OtherFields(chance, rules, content).Tidied();
    }

    private static PostThread Thread(Random chance, NetworkRules rules) =>
        new(
            [
                .. Enumerable
                    .Range(0, chance.Next(5) == 0 ? chance.Next(18, 27) : chance.Next(1, 3))
                    .Select(_ => new ThreadPart(
                        chance.Next(4) == 0 ? Text(chance, rules) : "And then ",
                        chance.Next(5) == 0 ? Some(chance, chance.Next(1, 6)) : null
                    )),
            ],
            IsNumbered: chance.Next(2) == 0
        );

    private static Pictures Some(Random chance, int count) =>
        new([
            .. Enumerable
                .Range(0, count)
                .Select(_ => Pictures[chance.Next(2) > 0 ? 0 : chance.Next(Pictures.Length)])
                .Select(file => new Picture(
                    file.Id,
                    chance.Next(5) == 0 ? null : string.Concat(Enumerable.Repeat("é", chance.Next(8) == 0 ? 1501 : 20)),
                    Crop: chance.Next(4) > 0 ? null : Crop.ToRatio(file.Width, file.Height, 1, FocalPoint.Centre)
                )),
        ]);

    private static PostContent OtherFields(Random chance, NetworkRules rules, PostContent content)
    {
        foreach (Field<string> field in ContentFields.All.OfType<Field<string>>().Where(f => !f.IsEverywhere))
        {
            if (rules.RulesOf(field.Key) is not { } wanted || chance.Next(6) == 0)
                continue;
            string value =
                field.Kind == FieldKind.Date
                    ? new LocalDate(2026, 11, 1)
                        .PlusDays(chance.Next(field == ContentFields.OfferedFrom ? 60 : 400))
                        .ToString("uuuu-MM-dd", null)
                : field == ContentFields.ButtonTarget ? "+353 1 555 0100"
                : wanted.Values is { } values ? (chance.Next(8) == 0 ? "somebody" : values[chance.Next(values.Count)])
                : string.Concat(Enumerable.Repeat("é#", (wanted.Limit ?? 100) / 2)) + (chance.Next(10) == 0 ? "!!" : "");
            content = content.With(field, value);
        }
        return content;
    }

    /// <summary>Half of the texts fall close to the limit, where two ways of counting would part.</summary>
    private static string Text(Random chance, NetworkRules rules)
    {
        int limit = rules.Text.Limit;
        bool close = chance.Next(2) == 0;
        if (limit > 1000)
            return close && limit < 10_000
                ? new string('a', limit - 32 + chance.Next(34))
                : string.Concat(Enumerable.Range(0, 30).Select(_ => Pieces[chance.Next(Pieces.Length)]));
        System.Text.StringBuilder text = new("Note ");
        int wanted = close ? limit - 50 + chance.Next(45) : chance.Next(limit * 5 / 4);
        while (
            ContentCheck.Check(PostContent.Empty.With(ContentFields.Text, text.ToString()), rules, ContentSources.None).Count.Units < wanted
        )
            text.Append(Pieces[chance.Next(Pieces.Length)]);
        return text.ToString();
    }

    private static MediaFile Of(string kind, long bytes, int width, int height, double? seconds = null, int? pages = null) =>
        new()
        {
            WorkspaceId = default,
            Id = Id<MediaFile>.New(),
            Hash = "",
            FileName = "file",
            Kind = kind,
            Bytes = bytes,
            Width = width,
            Height = height,
            Seconds = seconds,
            Pages = pages,
        };
}
