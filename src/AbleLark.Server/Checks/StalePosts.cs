using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Checks;

/// <summary>
/// Posts whose fit was worked out by other rules than today's: a network's file has changed, or come, or gone, or what is checked has.
/// They are checked anew when the server starts; saving does it for the post that is saved, and taking back for one that comes back:
/// so what is taken out isn't checked, however much of it is kept.
/// </summary>
public static class StalePosts
{
    private const int AtOnce = 500;

    /// <param name="watch">Finds the posts that can't be read, which are left out then; null: one of them ends it.</param>
    /// <returns>How many there were.</returns>
    public static async Task<int> CheckAnewAsync(
        LarkDb db,
        NetworkBook networks,
        Instant now,
        CancellationToken cancellation,
        DamageWatch? watch = null
    )
    {
        int done = 0;
        string current = ContentCheck.RulesVersion(networks);
        List<Id<Workspace>> workspaces = await db
            .Posts.Where(p => p.CheckedBy != current && p.RemovedAt == null)
            .Select(p => p.WorkspaceId)
            .Distinct()
            .ToListAsync(cancellation);
        foreach (Id<Workspace> workspace in workspaces)
        {
            try
            {
                done += await CheckAnewAsync(workspace, db, networks, now, cancellation);
            }
            catch (Exception e) when (watch is not null && DamageWatch.MayBeDamage(e))
            {
                db.ChangeTracker.Clear();
                if (!await watch.LookAsync(workspace, cancellation))
                    throw;
                done += await CheckAnewAsync(workspace, db, networks, now, cancellation);
            }
        }
        return done;
    }

    private static async Task<int> CheckAnewAsync(
        Id<Workspace> workspace,
        LarkDb db,
        NetworkBook networks,
        Instant now,
        CancellationToken cancellation
    )
    {
        string current = ContentCheck.RulesVersion(networks);
        int done = 0;
        while (true)
        {
            List<Post> posts = await db
                .Posts.Where(p => p.WorkspaceId == workspace && p.CheckedBy != current && p.RemovedAt == null)
                .OrderBy(p => p.Id)
                .Take(AtOnce)
                .ToListAsync(cancellation);
            if (posts.Count == 0)
                return done;
            await CheckAnewAsync(workspace, posts, db, networks, now, cancellation);
            done += posts.Count;
            await db.SaveChangesAsync(cancellation);
            db.ChangeTracker.Clear();
        }
    }

    private static async Task CheckAnewAsync(
        Id<Workspace> workspace,
        IReadOnlyCollection<Post> posts,
        LarkDb db,
        NetworkBook networks,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<Category> categories = await db.Categories.AsNoTracking().Where(c => c.WorkspaceId == workspace).ToListAsync(cancellation);
        Post[] fromBeforeApprovals = [.. posts.Where(p => p.Hashes.Count == 0)];
        await CheckAsync(workspace, posts, db, networks, cancellation);
        foreach (Post post in fromBeforeApprovals)
            GiveApproval(post, categories.AskFor(post), now, db);
        await db.ReconsiderAsync(workspace, posts, now, cancellation);
    }

    /// <summary>Checks anew the posts that use something that has just changed; the caller saves.</summary>
    public static async Task CheckUsingAsync(
        Id<Workspace> workspace,
        Func<Post, bool> uses,
        LarkDb db,
        NetworkBook networks,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<Post> all = await db.Posts.Where(p => p.WorkspaceId == workspace && p.RemovedAt == null).ToListAsync(cancellation);
        List<Post> touched = [.. all.Where(uses)];
        await CheckAsync(workspace, touched, db, networks, cancellation);
        await db.ReconsiderAsync(workspace, touched, now, cancellation);
    }

    /// <summary>Finds how posts stand with the networks, by what they say now; the caller saves.</summary>
    public static async Task CheckAsync(
        Id<Workspace> workspace,
        IReadOnlyCollection<Post> posts,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        if (posts.Count == 0)
            return;
        ContentSources sources = await db.SourcesAsync(workspace, posts.SelectMany(p => p.Content.AllFiles()), cancellation);
        List<Channel> channels = await db.Channels.Where(c => c.WorkspaceId == workspace).ToListAsync(cancellation);
        foreach (Post post in posts)
            post.Take(PostChecks.Of(post.Content, networks, channels, sources));
    }

    /// <summary>
    /// One that was ready where its categories ask for approval was approved, before approvals were kept with the content that they cover:
    /// it gets an approval of what it says. One that waits though no category asks was asked about by somebody.
    /// </summary>
    private static void GiveApproval(Post post, bool categoryAsks, Instant now, LarkDb db)
    {
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
