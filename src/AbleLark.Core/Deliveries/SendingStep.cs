using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Deliveries;

/// <summary>One call of a sending.</summary>
/// <param name="Key">Names it within its delivery, for good: attempts and the network's idempotency key rest on it.</param>
/// <param name="Publishes">True for steps that readers see; the others may be run again without harm.</param>
public abstract record SendingStep(string Key, bool Publishes)
{
    /// <summary>Gives the network a file.</summary>
    public sealed record Upload(string Key, Id<MediaFile> MediaId) : SendingStep(Key, Publishes: false);

    /// <summary>Posts something that readers see: the post itself, a further part of it, a comment on it.</summary>
    /// <param name="Fields">What it says.</param>
    /// <param name="Uploads">Keys of the uploads that go with it, in order.</param>
    /// <param name="Under">Key of the step that it stands under; null: it stands by itself.</param>
    public sealed record Publish(string Key, FieldValues Fields, IReadOnlyList<string> Uploads, string? Under = null)
        : SendingStep(Key, Publishes: true);
}

/// <summary>Makes the steps of a sending.</summary>
/// <param name="content">What goes to the network.</param>
/// <returns>In the order in which they are run; the first that publishes is the post itself.</returns>
public delegate IReadOnlyList<SendingStep> StepsOf(ResolvedContent content, NetworkRules rules);

/// <summary>The steps of what content can hold today: its picture, the post, the first comment.</summary>
public static class SendingSteps
{
    private const string Picture = "picture";
    private const string Post = "post";
    private const string Comment = "comment";

    /// <inheritdoc cref="StepsOf"/>
    public static IReadOnlyList<SendingStep> Of(ResolvedContent content, NetworkRules rules)
    {
        List<SendingStep> steps = [];
        if (content.PictureId is { } picture)
            steps.Add(new SendingStep.Upload(Picture, picture));
        steps.Add(
            new SendingStep.Publish(Post, content.Fields.Without(ContentFields.FirstComment), content.PictureId is null ? [] : [Picture])
        );
        if (content.FirstComment is { } comment)
            steps.Add(new SendingStep.Publish(Comment, FieldValues.Empty.With(ContentFields.Text, comment), [], Under: Post));
        return steps;
    }
}
