using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Posts;

/// <summary>Posts of the bank, searched and filtered.</summary>
internal static class PostLister
{
    private const int MostListed = 500;

    public static async Task<PostList> ListAsync(
        Id<Workspace> workspaceId,
        Id<Category>? category,
        QueryWord<Stage>? stage,
        string? search,
        bool? sentBack,
        HttpContext http,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        IQueryable<Post> posts = PostSearching.Among(db, workspaceId, search, http.Caller());
        if (category is { } c)
            posts = posts.Where(p => p.CategoryId == c);
        if (stage is { Value: var s })
            posts = posts.Where(p => p.Stage == s);
        if (sentBack is { } back)
            posts = posts.Where(p => (p.SentBack != null) == back);
        int total = await posts.CountAsync(cancellation);
        List<Post> found = await posts
            .OrderByDescending(p => p.AddedAt ?? Instant.MaxValue)
            .ThenBy(p => p.AddedOrder)
            .ThenByDescending(p => p.Id)
            .Take(MostListed)
            .ToListAsync(cancellation);
        Dictionary<Id<Post>, PostTurns> turns = await TurnsAsync(workspaceId, [.. found.Select(p => p.Id)], db, cancellation);
        Dictionary<Id<Channel>, string> networks = await db
            .Channels.Where(c => c.WorkspaceId == workspaceId)
            .ToDictionaryAsync(c => c.Id, c => c.Network, cancellation);
        Dictionary<Id<Category>, Category> categories = await db
            .Categories.AsNoTracking()
            .Where(c => c.WorkspaceId == workspaceId)
            .ToDictionaryAsync(c => c.Id, cancellation);
        return new(total, [.. found.Select(p => Line(p, turns.GetValueOrDefault(p.Id), UsedBy(p)))]);

        HashSet<string> UsedBy(Post p) => [.. p.ChannelsOr(categories[p.CategoryId]).Where(networks.ContainsKey).Select(c => networks[c])];
    }

    private sealed record PostTurns(int Sent, Instant? Last, Instant? Next);

    private static async Task<Dictionary<Id<Post>, PostTurns>> TurnsAsync(
        Id<Workspace> workspace,
        List<Id<Post>> ids,
        LarkDb db,
        CancellationToken cancellation
    ) =>
        await db
            .Deliveries.Where(d => d.WorkspaceId == workspace && ids.Contains(d.PostId))
            .GroupBy(d => d.PostId)
            .Select(g => new
            {
                g.Key,
                Sent = g.Count(d => d.State == DeliveryState.Sent),
                Last = g.Max(d => d.State == DeliveryState.Sent ? d.SentAt : null),
                Next = g.Min(d => d.State == DeliveryState.Planned ? (Instant?)d.At : null),
            })
            .ToDictionaryAsync(t => t.Key, t => new PostTurns(t.Sent, t.Last, t.Next), cancellation);

    private static PostLine Line(Post p, PostTurns? turns, HashSet<string> used) =>
        new(
            p.Id,
            p.Title,
            p.CategoryId,
            p.Stage,
            p.Lifespan,
            p.InRotation,
            (p.Content.Common.Get(ContentFields.Text) ?? "").Length > 180
                ? (p.Content.Common.Get(ContentFields.Text) ?? "")[..180] + "…"
                : (p.Content.Common.Get(ContentFields.Text) ?? ""),
            p.Content.Common.Get(ContentFields.Pictures)?.All[0].MediaId.Value,
            p.AddedAt,
            p.Fits.Where(f => !f.Value.Fits && used.Contains(f.Key)).ToDictionary(f => f.Key, f => f.Value.Block!.Words),
            turns?.Sent ?? 0,
            turns?.Last,
            turns?.Next,
            p.SentBack,
            p.Version
        );
}
