using AbleLark.Core.Content;
using AbleLark.Core.Text;
using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>A post as an account's list shows it.</summary>
/// <param name="Link">The link shown as a card; null: none.</param>
/// <param name="MediaKinds">Media types of its pictures, in order; null: the network doesn't tell.</param>
/// <param name="Under">Identity of the post that it stands under; null: it stands by itself, or the network doesn't tell.</param>
/// <param name="At">Business time at which the network says that it was posted; null where it said nothing that can be.</param>
public sealed record ListedPost(
    string Id,
    string Text,
    string? Link,
    IReadOnlyList<string>? MediaKinds,
    Instant? At,
    string? Address,
    string? Under = null
);

public enum TraceKind
{
    NotThere,
    Found,

    /// <summary>More than one post could be it: a person decides.</summary>
    Several,

    /// <summary>The network's list does not reach back far enough to tell.</summary>
    CannotTell,
}

public sealed record Trace(TraceKind Kind, ListedPost? Post = null);

/// <summary>Looks for a post whose answer was lost among what an account has posted.</summary>
public static class Traces
{
    /// <summary>What the network's clock and ours may differ by.</summary>
    private static readonly Duration ClocksDiffer = Duration.FromMinutes(2);

    /// <summary>Posts from before this can't be it.</summary>
    public static Instant Earliest(Instant since) => since - ClocksDiffer;

    /// <param name="sent">What was sent.</param>
    /// <param name="under">Identity of the post that it was to stand under; null: none.</param>
    /// <param name="mediaKinds">Media types that were sent along, in order.</param>
    /// <param name="listed">The account's posts, newest first.</param>
    /// <param name="taken">Identities that are known to be other deliveries'.</param>
    /// <param name="reachesBack">False when older posts were not listed that could be it.</param>
    public static Trace Find(
        ResolvedContent sent,
        string? under,
        IReadOnlyList<string> mediaKinds,
        Instant since,
        IEnumerable<ListedPost> listed,
        IReadOnlySet<string> taken,
        bool reachesBack
    )
    {
        string fingerprint = IdenticalText.Fingerprint(sent.Text);
        ListedPost[] alike =
        [
            .. listed.Where(p =>
                !taken.Contains(p.Id)
                && !(p.At < Earliest(since))
                && IdenticalText.Fingerprint(p.Text) == fingerprint
                && SameLink(p.Link, sent.CardLink)
                && (p.Under is null || p.Under == under)
                && (p.MediaKinds is null || p.MediaKinds.SequenceEqual(mediaKinds))
            ),
        ];
        return alike.Length switch
        {
            1 => new(TraceKind.Found, alike[0]),
            > 1 => new(TraceKind.Several),
            _ => new(reachesBack ? TraceKind.NotThere : TraceKind.CannotTell),
        };
    }

    private static bool SameLink(string? one, string? other) => Folded(one) == Folded(other);

    /// <summary>Networks write links anew: with a slash at the end, in lower case, encoded.</summary>
    private static string? Folded(string? link) =>
        Uri.TryCreate(link, UriKind.Absolute, out Uri? uri) ? uri.AbsoluteUri.TrimEnd('/') : link;
}
