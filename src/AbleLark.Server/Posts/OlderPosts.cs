using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Posts;

/// <summary>Posts from before approvals were kept with the content that they cover.</summary>
public static class OlderPosts
{
    private const int AtOnce = 500;

    /// <summary>
    /// Gives each its hashes, once. One that was ready where its categories ask for approval was approved, so it gets an approval of what
    /// it says;
    /// one that waits though no category asks was asked about by somebody.
    /// </summary>
    /// <returns>How many there were.</returns>
    public static async Task<int> BringUpToDateAsync(LarkDb db, NetworkBook networks, Instant now, CancellationToken cancellation)
    {
        int done = 0;
        while (true)
        {
            List<Post> posts = await db
                .Posts.FromSql($"select * from posts where hashes = '{{}}'::jsonb order by workspace_id, id limit {AtOnce}")
                .ToListAsync(cancellation);
            if (posts.Count == 0)
                return done;
            foreach (IGrouping<Id<Workspace>, Post> own in posts.GroupBy(p => p.WorkspaceId))
            {
                List<Id<MediaFile>> ids = [.. own.SelectMany(p => p.Content.AllPictures()).Distinct()];
                Dictionary<Id<MediaFile>, MediaFile> pictures = await db
                    .Media.AsNoTracking()
                    .Where(m => m.WorkspaceId == own.Key && ids.Contains(m.Id))
                    .ToDictionaryAsync(m => m.Id, cancellation);
                List<Category> asking =
                [
                    .. (await db.Categories.AsNoTracking().Where(c => c.WorkspaceId == own.Key).ToListAsync(cancellation)).Where(c =>
                        c.NeedsApproval
                    ),
                ];
                foreach (Post post in own)
                    BringUpToDate(post, asking.Exists(c => post.HasCategory(c.Id)), pictures, networks, now, db);
            }
            await db.SaveChangesAsync(cancellation);
            db.ChangeTracker.Clear();
            done += posts.Count;
        }
    }

    private static void BringUpToDate(
        Post post,
        bool categoryAsks,
        Dictionary<Id<MediaFile>, MediaFile> pictures,
        NetworkBook networks,
        Instant now,
        LarkDb db
    )
    {
        Dictionary<string, CheckedContent> checks = networks.All.ToDictionary(
            n => n.Key,
            n => ContentCheck.CheckAll(post.Content, n, id => pictures.GetValueOrDefault(id))
        );
        post.Hashes = PostChecking.Hashes(checks, pictures.Values);
        if (post.Stage == Stage.Ready && categoryAsks)
            db.Approvals.Add(
                new()
                {
                    WorkspaceId = post.WorkspaceId,
                    Id = Id<Approval>.New(),
                    PostId = post.Id,
                    Version = post.Version,
                    At = now,
                    Hashes = post.Hashes,
                }
            );
        else if (post.Stage == Stage.WaitingForApproval && !categoryAsks)
            post.AskForApproval();
    }
}
