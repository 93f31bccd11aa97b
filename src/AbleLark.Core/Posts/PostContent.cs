using AbleLark.Core.Media;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Posts;

/// <summary>A chosen picture; <see cref="MediaId"/> null means "no picture here", on purpose.</summary>
public sealed record PictureChoice(Id<MediaFile>? MediaId);

/// <summary>What one network gets instead of the common content; a null field inherits.</summary>
public sealed record Variant(string? Text = null, PictureChoice? Picture = null)
{
    public bool IsEmpty => Text is null && Picture is null;
}

/// <summary>Another wording or picture of the same post, used in turn when it comes round again; a null field is as in the post.</summary>
public sealed record Wording(string? Text = null, PictureChoice? Picture = null);

/// <summary>Common content of a post, and its variants by network key.</summary>
public sealed record PostContent(string Text, string? Link, Id<MediaFile>? PictureId, IReadOnlyDictionary<string, Variant> Variants)
{
    public static PostContent Empty { get; } = new("", null, null, new Dictionary<string, Variant>());

    /// <summary>Most wordings of a post.</summary>
    public const int MostWordings = 8;

    /// <summary>Other wordings, in the order in which they take turns after the first.</summary>
    public IReadOnlyList<Wording> Wordings { get; init; } = [];

    /// <summary>Content as <paramref name="rules"/>'s network gets it: the wording first, then the variant, then common content.</summary>
    /// <param name="wording">Which wording: 0 the post's own; the wordings are counted from 1. One that is no longer there counts as
    /// 0.</param>
    public ResolvedContent For(NetworkRules rules, int wording = 0)
    {
        Variant variant = Variants.GetValueOrDefault(rules.Key) ?? new();
        Wording other = Wordings.ElementAtOrDefault(wording - 1) ?? new();
        string text = other.Text ?? variant.Text ?? Text;
        bool linkInText = rules.Link != LinkShown.Card && Link is not null && !text.Contains(Link, StringComparison.Ordinal);
        string whole = linkInText ? (text.Length == 0 ? Link! : $"{text}\n{Link}") : text;
        return new(
            whole,
            rules.Link == LinkShown.Card ? Link : null,
            (other.Picture ?? variant.Picture) is { } own ? own.MediaId : PictureId
        );
    }

    public IEnumerable<Id<MediaFile>> AllPictures() =>
        Variants
            .Values.Select(v => v.Picture?.MediaId)
            .Concat(Wordings.Select(a => a.Picture?.MediaId))
            .Append(PictureId)
            .OfType<Id<MediaFile>>()
            .Distinct();

    /// <summary>True when both hold the same words, link and pictures, variant for variant and wording for wording.</summary>
    public bool Same(PostContent other) =>
        Text == other.Text
        && Link == other.Link
        && PictureId == other.PictureId
        && Variants.Count == other.Variants.Count
        && Wordings.SequenceEqual(other.Wordings)
        && Variants.All(v => other.Variants.TryGetValue(v.Key, out Variant? o) && o == v.Value);
}

/// <summary>What is sent to one network.</summary>
/// <param name="Text">The text, with the link in it where the network wants it there.</param>
/// <param name="CardLink">The link to show as a card, where the network does so.</param>
public sealed record ResolvedContent(string Text, string? CardLink, Id<MediaFile>? PictureId);
