using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data.Posts;

/// <summary>What has approval, read from the database and from what the present act has changed already.</summary>
public static class Approvals
{
    /// <summary>See <see cref="ApprovalNeeds"/>.</summary>
    public static async Task<bool> NeedsApprovalAsync(this LarkDb db, Post post, CancellationToken cancellation) =>
        post.NeedsApproval(await db.Categories.Where(c => c.WorkspaceId == post.WorkspaceId).ToListAsync(cancellation));

    public static Task<List<Approval>> ApprovalsOfAsync(this LarkDb db, Post post, CancellationToken cancellation) =>
        db.Approvals.AsNoTracking().Where(a => a.WorkspaceId == post.WorkspaceId && a.PostId == post.Id).ToListAsync(cancellation);

    /// <summary>Posts that are ready or wait, and have the category as their main or as a further one.</summary>
    public static async Task<List<Post>> InCategoryAsync(this LarkDb db, Category category, CancellationToken cancellation) =>
        [
            .. (
                await db
                    .Posts.Where(p =>
                        p.WorkspaceId == category.WorkspaceId
                        && p.RemovedAt == null
                        && (p.Stage == Stage.Ready || p.Stage == Stage.WaitingForApproval)
                    )
                    .ToListAsync(cancellation)
            ).Where(p => p.HasCategory(category.Id)),
        ];

    /// <summary>
    /// Decides anew of each post what of it waits for approval, and lets what is scheduled of it wait or go accordingly. To be called after
    /// whatever may have changed that: content, categories, what a category asks for, an approval. The caller saves.
    /// </summary>
    public static async Task ReconsiderAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        IReadOnlyCollection<Post> posts,
        Instant now,
        CancellationToken cancellation
    )
    {
        if (posts.Count == 0)
            return;
        List<Id<Post>> ids = [.. posts.Select(p => p.Id)];
        List<Category> categories = await db.Categories.Where(c => c.WorkspaceId == workspace).ToListAsync(cancellation);
        // Loads them beside those that this act has added; what it has removed is not among the local ones.
        await db.Approvals.Where(a => a.WorkspaceId == workspace && ids.Contains(a.PostId)).LoadAsync(cancellation);
        ILookup<Id<Post>, Approval> approvals = db.Approvals.Local.ToLookup(a => a.PostId);
        ILookup<Id<Post>, Delivery> deliveries = (
            await db
                .Deliveries.Where(d =>
                    d.WorkspaceId == workspace
                    && ids.Contains(d.PostId)
                    && d.At > now
                    && (d.State == DeliveryState.Planned || d.State == DeliveryState.WaitingForApproval)
                )
                .ToListAsync(cancellation)
        ).ToLookup(d => d.PostId);
        Dictionary<Id<Channel>, Channel> channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == workspace)
            .ToDictionaryAsync(c => c.Id, cancellation);
        foreach (Post post in posts)
        {
            post.Reconsider(categories.AskFor(post), [.. approvals[post.Id]]);
            if (post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
                continue;
            foreach (Delivery delivery in deliveries[post.Id])
                delivery.WaitOrGo(post, channels[delivery.ChannelId]);
        }
    }
}
