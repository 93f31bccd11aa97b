using System.Text.Json.Serialization;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Text;

namespace AbleLark.Core.Posts;

/// <summary>
/// How a post stands with one network, or with one channel that has content of its own: worked out when it is saved, and anew when rules
/// change, so that nobody has to look at its texts.
/// </summary>
/// <param name="Findings">About its own wording.</param>
/// <param name="TextFingerprint">See <see cref="IdenticalText"/>.</param>
/// <param name="Wordings">How its other wordings stand, in their order; null: it has none.</param>
public sealed record Fit(IReadOnlyList<Finding> Findings, string TextFingerprint, IReadOnlyList<WordingFit>? Wordings = null)
{
    /// <summary>While the post waits for approval: wordings (0: the post's own) that have theirs; null: none, or the post doesn't
    /// wait.</summary>
    public IReadOnlyList<int>? Approved { get; init; }

    /// <summary>The first finding that keeps its own wording out; null: it fits.</summary>
    [JsonIgnore]
    public Finding? Block => Findings.FirstBlock();

    /// <summary>True when one of its wordings at least can go.</summary>
    [JsonIgnore]
    public bool Fits => FirstWording is not null;

    /// <summary>The first wording that can go (0: the post's own), which goes where a person gave the place; null when none
    /// can.</summary>
    [JsonIgnore]
    public int? FirstWording
    {
        get
        {
            for (int wording = 0; wording <= (Wordings?.Count ?? 0); wording++)
            {
                if (BlockOf(wording) is null)
                    return wording;
            }
            return null;
        }
    }

    /// <summary>What keeps a wording out; null: it can go. One that is no longer there counts as the post's own.</summary>
    public Finding? BlockOf(int wording) => Wordings?.ElementAtOrDefault(wording - 1) is { } other ? other.Block : Block;

    /// <summary>The text of a wording, whether it can go or not. One that is no longer there counts as the post's own.</summary>
    public string FingerprintOf(int wording) => Wordings?.ElementAtOrDefault(wording - 1)?.TextFingerprint ?? TextFingerprint;

    public static Fit Of(CheckedContent check) =>
        new(
            check.Findings,
            IdenticalText.Fingerprint(check.Content.Text),
            check.Wordings.Count == 0
                ? null
                : [.. check.Wordings.Select(w => new WordingFit(w.Findings, IdenticalText.Fingerprint(w.Content.Text)))]
        );
}

/// <summary>How one wording stands; see <see cref="Fit"/>.</summary>
public sealed record WordingFit(IReadOnlyList<Finding> Findings, string TextFingerprint)
{
    [JsonIgnore]
    public Finding? Block => Findings.FirstBlock();
}
