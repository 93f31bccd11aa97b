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
    /// <param name="Chosen">Which, and what is said of it where it is a picture.</param>
    public sealed record Upload(string Key, Picture Chosen) : SendingStep(Key, Publishes: false)
    {
        public Id<MediaFile> MediaId => Chosen.MediaId;
    }

    /// <summary>Posts something that readers see: the post itself, a further part of it, a comment on it.</summary>
    /// <param name="Fields">What it says.</param>
    /// <param name="Uploads">Keys of the uploads that go with it, in order.</param>
    /// <param name="Under">Key of the step that it stands under; null: it stands by itself.</param>
    /// <param name="Named">Keys of the uploads that fields of their own name, by the fields' keys; null: none.</param>
    public sealed record Publish(
        string Key,
        FieldValues Fields,
        IReadOnlyList<string> Uploads,
        string? Under = null,
        IReadOnlyDictionary<string, string>? Named = null
    ) : SendingStep(Key, Publishes: true);
}

/// <summary>Makes the steps of a sending.</summary>
/// <param name="content">What goes to the network.</param>
/// <returns>In the order in which they are run; the first that publishes is the post itself.</returns>
public delegate IReadOnlyList<SendingStep> StepsOf(ResolvedContent content, NetworkRules rules);

/// <summary>The steps of what content can hold: files, the post, further parts of a thread each with its pictures, the first
/// comment.</summary>
public static class SendingSteps
{
    public const string Post = "post";
    public const string Comment = "comment";
    private const string Picture = "picture";

    /// <summary>The step that posts a further part of a thread.</summary>
    /// <param name="index">In <see cref="PostThread.Parts"/>, from 0.</param>
    public static string Part(int index) => $"part-{index + 2}";

    /// <summary>What readers are to see and don't yet, first things first; null: nothing.</summary>
    /// <param name="attempts">All attempts of the delivery, oldest first.</param>
    public static SendingStep.Publish? Lacking(IEnumerable<SendingStep> steps, IReadOnlyList<DeliveryAttempt> attempts) =>
        steps.OfType<SendingStep.Publish>().FirstOrDefault(s => SendingPlan.DoneOf(s.Key, attempts) is null);

    /// <summary>Content in which a comment, or a further part, says something else.</summary>
    /// <param name="step">The step that posts it.</param>
    internal static ResolvedContent Saying(ResolvedContent content, string step, string words)
    {
        if (step == Comment)
            return new(content.Fields.With(ContentFields.FirstComment, words));
        int index = PartOf(step) ?? throw new InvalidOperationException($"What {step} says can't be changed by itself.");
        ThreadPart[] parts = [.. content.Parts];
        parts[index] = parts[index] with { Text = words };
        return new(content.Fields.With(ContentFields.Thread, new PostThread(parts)));
    }

    /// <summary>Which further part a step posts; null: it posts none.</summary>
    private static int? PartOf(string step) =>
        step.StartsWith("part-", StringComparison.Ordinal) && int.TryParse(step.AsSpan("part-".Length), out int number) ? number - 2 : null;

    /// <inheritdoc cref="StepsOf"/>
    public static IReadOnlyList<SendingStep> Of(ResolvedContent content, NetworkRules rules)
    {
        List<SendingStep> steps = [];
        List<string> files = Pictures("", content.Pictures);
        if (content.Video is { } video)
            files.Add(Upload("video", new(video)));
        if (content.Document is { } document)
            files.Add(Upload("document", new(document)));
        FieldValues own = content.Fields.Without(ContentFields.FirstComment).Without(ContentFields.Thread);
        // Whatever else names a file by itself: the picture of a card.
        Dictionary<string, string> named = own
            .Fields.OfType<Field<ChosenFile>>()
            .Where(f => f != ContentFields.Video && f != ContentFields.Document)
            .OrderBy(f => f.Key, StringComparer.Ordinal)
            .ToDictionary(f => f.Key, f => Upload(f.Key, new(own.Get(f)!.MediaId)));
        steps.Add(new SendingStep.Publish(Post, own, files, Named: named));
        string above = Post;
        for (int i = 0; i < content.Parts.Count; i++)
        {
            ThreadPart part = content.Parts[i];
            List<string> with = Pictures($"{Part(i)}-", part.Pictures?.All ?? []);
            FieldValues says = FieldValues.Empty.With(ContentFields.Text, part.Text);
            steps.Add(new SendingStep.Publish(Part(i), says, with, Under: above));
            above = Part(i);
        }
        if (content.FirstComment is { } comment)
            steps.Add(new SendingStep.Publish(Comment, FieldValues.Empty.With(ContentFields.Text, comment), [], Under: Post));
        return steps;

        List<string> Pictures(string of, IReadOnlyList<Picture> pictures) =>
            [.. pictures.Select((p, i) => Upload(of + (i == 0 ? Picture : $"{Picture}-{i + 1}"), p))];

        string Upload(string key, Picture file)
        {
            steps.Add(new SendingStep.Upload(key, file));
            return key;
        }
    }
}
