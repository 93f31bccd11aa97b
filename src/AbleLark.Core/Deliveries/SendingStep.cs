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

/// <summary>The steps of what content can hold today: its picture, and the post.</summary>
public static class SendingSteps
{
    private const string Picture = "picture";
    private const string Post = "post";

    /// <inheritdoc cref="StepsOf"/>
    public static IReadOnlyList<SendingStep> Of(ResolvedContent content, NetworkRules rules) =>
        content.PictureId is { } picture
            ? [new SendingStep.Upload(Picture, picture), new SendingStep.Publish(Post, content.Fields, [Picture])]
            : [new SendingStep.Publish(Post, content.Fields, [])];
}
