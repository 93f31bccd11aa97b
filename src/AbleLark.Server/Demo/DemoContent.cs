using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Media;

namespace AbleLark.Server.Demo;

/// <summary>The files that a post of the demo shows.</summary>
/// <param name="Film">Null: it shows none.</param>
internal sealed record DemoFiles(IReadOnlyList<Id<MediaFile>> Pictures, Id<MediaFile>? Film, Id<MediaFile> Document);

/// <summary>What the demo's posts say: in common, and what single networks take besides.</summary>
internal static class DemoContent
{
    private const int WithCommentEvery = 3;

    /// <param name="number">The post's, from 1.</param>
    public static PostContent Of(DemoScenario scenario, DemoPost written, int number, DemoFiles files)
    {
        PostContent content = PostContent.Empty.With(ContentFields.Text, written.X).With(ContentFields.Link, written.L);
        Picture[] pictures = [.. files.Pictures.Select(p => new Picture(p))];
        if (pictures.Length > 0)
            content = content.With(ContentFields.Pictures, new Pictures(pictures));
        content = WithMore(content, written, pictures, files);
        if (written.Jot is not null)
            content = content.With("jot", ContentFields.Text, written.Jot);
        return written.C switch
        {
            "Sightings" => Commented(content.With("glimmer", ContentFields.Location, "Marram Island"), number),
            "Ringing data" => content.With(
                "guildhall",
                ContentFields.FirstComment,
                "The figures behind it are in our yearbook: https://marram.example.org/yearbook"
            ),
            "Appeals" => content
                .With("hearth", ContentFields.CardTitle, $"Give to the island: {written.T.ToLowerInvariant()}")
                .With("hearth", ContentFields.CardText, "Every gift is written in the hut log, by hand."),
            "Walks & stays" => content
                .With("corkwall", ContentFields.Wall, "Days on Marram")
                .With("corkwall", ContentFields.Title, written.T)
                .With("doorstep", ContentFields.ButtonVerb, "Book a place")
                .With("doorstep", ContentFields.Text, written.X.Replace(" #WalksAndStays", "", StringComparison.Ordinal)),
            _ => content,
        };
    }

    /// <summary>What only a few of the posts have.</summary>
    private static PostContent WithMore(PostContent content, DemoPost written, Picture[] pictures, DemoFiles files)
    {
        if (files.Film is { } film)
            content = content.With(ContentFields.Video, new ChosenFile(film));
        if (written.Document)
            content = content
                .With("guildhall", ContentFields.Pictures, null)
                .With("guildhall", ContentFields.Document, new ChosenFile(files.Document));
        if (written.Story)
        {
            Crop upright = Crop.ToRatio(DemoPictures.Width, DemoPictures.Height, 9.0 / 16, FocalPoint.Centre);
            content = content
                .With("glimmer", ContentFields.Format, "story")
                .With("glimmer", ContentFields.Pictures, new Pictures(pictures[0] with { Crop = upright }));
        }
        if (written.Thread is { Count: > 1 } parts)
        {
            PostThread thread = new([.. parts.Skip(1).Select(p => new ThreadPart(p))], IsNumbered: true);
            foreach (string network in new[] { "jot", "meadow" })
                content = content.With(network, ContentFields.Text, parts[0]).With(network, ContentFields.Thread, thread);
        }
        return content;
    }

    private static PostContent Commented(PostContent content, int number) =>
        number % WithCommentEvery == 0
            ? content.With("glimmer", ContentFields.FirstComment, "#MarramIsland #SeaWatch #Migration")
            : content;
}
