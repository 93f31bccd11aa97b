using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>A post that can go, and where it stands in its line.</summary>
internal sealed record Candidate(Post Post, Standing Standing);

/// <summary>The default order: new posts, the latest added before the others; then the one with the earliest last turn.</summary>
internal static class NewestFirst
{
    public static int Compare(Candidate a, Candidate b)
    {
        int order = Nullable.Compare(b.Standing.FrontSince, a.Standing.FrontSince);
        if (order != 0) return order;
        bool aIsNew = a.Standing.LastTurn is null;
        bool bIsNew = b.Standing.LastTurn is null;
        if (aIsNew != bIsNew) return aIsNew ? -1 : 1;
        order = aIsNew ? Added(b).CompareTo(Added(a)) : a.Standing.LastTurn!.Value.CompareTo(b.Standing.LastTurn!.Value);
        return order == 0 ? Ties(a.Post, b.Post) : order;
    }

    public static ReasonCode Why(Candidate chosen) =>
        chosen.Standing.FrontSince is not null ? ReasonCode.Front
        : chosen.Standing.LastTurn is null ? ReasonCode.NewestFirst
        : ReasonCode.EarliestTurn;

    private static int Ties(Post a, Post b)
    {
        int order = (a.AddedAt ?? Instant.MinValue).CompareTo(b.AddedAt ?? Instant.MinValue);
        if (order == 0) order = a.AddedOrder.CompareTo(b.AddedOrder);
        if (order == 0) order = string.CompareOrdinal(a.Title, b.Title);
        return order == 0 ? a.Id.CompareTo(b.Id) : order;
    }

    private static Instant Added(Candidate c) => c.Post.AddedAt ?? Instant.MinValue;
}
