using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Media;

namespace AbleLark.Server.Demo;

/// <summary>What the demo's posts say: in common, and what single networks take besides.</summary>
internal static class DemoContent
{
    /// <summary>So many posts, one has a picture without alt text: something is left to mend.</summary>
    private const int WithoutAltTextEvery = 9;

    private const int WithCommentEvery = 3;

    /// <param name="number">The post's, from 1.</param>
    public static PostContent Of(DemoScenario scenario, DemoPost written, int number, Id<MediaFile>? picture)
    {
        PostContent content = PostContent.Empty.With(ContentFields.Text, written.X).With(ContentFields.Link, written.L);
        if (picture is { } shown)
        {
            content = content.With(
                ContentFields.Pictures,
                new Pictures(new Picture(shown, number % WithoutAltTextEvery == 0 ? null : scenario.AltTexts[written.Pic!]))
            );
        }
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
            "Walks & stays" => content
                .With("corkwall", ContentFields.Wall, "Days on Marram")
                .With("corkwall", ContentFields.Title, written.T)
                .With("doorstep", ContentFields.ButtonVerb, "Book a place")
                .With("doorstep", ContentFields.Text, written.X.Replace(" #WalksAndStays", "", StringComparison.Ordinal)),
            _ => content,
        };
    }

    private static PostContent Commented(PostContent content, int number) =>
        number % WithCommentEvery == 0
            ? content.With("glimmer", ContentFields.FirstComment, "#MarramIsland #SeaWatch #Migration")
            : content;
}
