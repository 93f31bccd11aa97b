using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;

namespace AbleLark.Bench;

/// <summary>How long it takes to say how one post stands everywhere, as on every pause in typing.</summary>
internal static class Checking
{
    private const int Channels = 20;

    public static void Run(string root, double loop)
    {
        NetworkBook networks = new([
            .. Directory.GetFiles(Path.Combine(root, "networks"), "*.json").Select(f => NetworkRules.Parse(File.ReadAllText(f))),
        ]);
        NetworkRules[] all = [.. networks.All];
        Channel[] channels = [.. Enumerable.Range(0, Channels).Select(i => NewChannel(i, all[i % all.Length].Key))];
        MediaFile[] files = [.. Enumerable.Range(0, 4).Select(_ => NewPicture())];
        string text = string.Concat(Enumerable.Repeat("The tide turned at nine, and 🐦 the slip was dry by ten. #tides ", 8));
        PostContent content = PostContent
            .Empty.With(ContentFields.Text, text)
            .With(ContentFields.Link, "https://marram.example.org/tides")
            .With(ContentFields.FirstComment, "Wellingtons advised. #slip")
            .With(ContentFields.Pictures, new Pictures([.. files.Select(f => new Picture(f.Id, "The slip at low water"))]))
            .With(ContentFields.Thread, new PostThread([new(text[..200]), new(text[..240])], IsNumbered: true)) with
        {
            // Every channel says something of its own, so that none shares what was found for its network.
            Channels = channels.ToDictionary(c => c.Id, c => FieldValues.Empty.With(ContentFields.Text, $"{c.Name}: {text}")),
        };
        ContentSources sources = new(id => Array.Find(files, f => f.Id == id));
        Figure.Print(
            $"checking one post for {Channels} channels and {all.Length} networks",
            Timing.Median(() => PostChecks.Of(content, networks, channels, sources), warmMilliseconds: 2000),
            "ms",
            loop,
            5
        );
    }

    private static Channel NewChannel(int number, string network) =>
        new()
        {
            WorkspaceId = default,
            Id = Id<Channel>.New(),
            Network = network,
            Account = $"{number}",
            Name = $"Channel {number}",
            Handle = $"channel{number}",
        };

    private static MediaFile NewPicture() =>
        new()
        {
            WorkspaceId = default,
            Id = Id<MediaFile>.New(),
            Hash = "",
            FileName = "slip.png",
            Kind = "image/png",
            Bytes = 300_000,
            Width = 1200,
            Height = 900,
        };
}
