using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Desk;

/// <param name="Tag">Without its #, in the letter case that is used most.</param>
/// <param name="Posts">Posts of the bank that use it.</param>
/// <param name="LastSent">Local date on which one of them last went out; null: never yet.</param>
public sealed record HashtagUse(string Tag, int Posts, LocalDate? LastSent);

/// <summary>What was last counted of each workspace; it holds while nothing of its plan has changed.</summary>
public sealed class HashtagCounts
{
    private const int Most = 100;
    private readonly ConcurrentDictionary<Id<Workspace>, (long Stamp, IReadOnlyList<HashtagUse> All)> _kept = [];

    internal IReadOnlyList<HashtagUse>? Find(Id<Workspace> workspace, long stamp) =>
        _kept.TryGetValue(workspace, out var kept) && kept.Stamp == stamp ? kept.All : null;

    internal void Keep(Id<Workspace> workspace, long stamp, IReadOnlyList<HashtagUse> all)
    {
        if (_kept.Count >= Most)
            _kept.Clear();
        _kept[workspace] = (stamp, all);
    }
}

/// <summary>The hashtags that a workspace's posts use.</summary>
public static class HashtagEndpoints
{
    public static void MapHashtags(this RouteGroupBuilder workspace) => workspace.MapGet("/hashtags", ListAsync).Needs(Right.Write);

    private static async Task<IReadOnlyList<HashtagUse>> ListAsync(
        Id<Workspace> workspaceId,
        LarkDb db,
        HashtagCounts counts,
        CancellationToken cancellation
    )
    {
        long stamp = await db.Workspaces.Where(w => w.Id == workspaceId).Select(w => w.PlanStamp).SingleAsync(cancellation);
        if (counts.Find(workspaceId, stamp) is { } kept)
            return kept;
        // Most posts have none: the database says which have a # at all.
        var posts = await db
            .Posts.AsNoTracking()
            .Where(p => p.WorkspaceId == workspaceId && p.RemovedAt == null && EF.Functions.Like(p.SearchText, "%#%"))
            .Select(p => new { p.Id, p.Content })
            .ToListAsync(cancellation);
        List<Id<Post>> ids = [.. posts.Select(p => p.Id)];
        Dictionary<Id<Post>, LocalDate> sent = await db
            .Deliveries.Where(d => d.WorkspaceId == workspaceId && d.State == DeliveryState.Sent && ids.Contains(d.PostId))
            .GroupBy(d => d.PostId)
            .Select(g => new { g.Key, Last = g.Max(d => d.LocalDate) })
            .ToDictionaryAsync(g => g.Key, g => g.Last, cancellation);
        IReadOnlyList<HashtagUse> all =
        [
            .. posts
                .SelectMany(p => TagsOf(p.Content).Select(tag => (tag, p.Id)))
                .GroupBy(t => t.tag, StringComparer.OrdinalIgnoreCase)
                .Select(g => new HashtagUse(
                    g.GroupBy(t => t.tag, StringComparer.Ordinal).OrderByDescending(s => s.Count()).ThenBy(s => s.Key).First().Key,
                    g.Select(t => t.Id).Distinct().Count(),
                    g.Max(t => sent.TryGetValue(t.Id, out LocalDate last) ? last : (LocalDate?)null)
                ))
                .OrderByDescending(h => h.Posts)
                .ThenBy(h => h.Tag, StringComparer.OrdinalIgnoreCase),
        ];
        counts.Keep(workspaceId, stamp, all);
        return all;
    }

    /// <summary>Each once as it is written, of any wording, network or channel.</summary>
    private static IEnumerable<string> TagsOf(PostContent content) =>
        content
            .AllLayers()
            .SelectMany(l => l.Fields.Select(f => f.Searched(l.ValueOf(f))))
            .OfType<string>()
            .SelectMany(text =>
            {
                string normal = TextCounter.Normalise(text);
                return TextParts
                    .Find(normal)
                    .Where(p => p.Kind == TextPartKind.Hashtag)
                    .Select(p => normal.Substring(p.Start + 1, p.Length - 1));
            })
            .Distinct(StringComparer.Ordinal);
}
