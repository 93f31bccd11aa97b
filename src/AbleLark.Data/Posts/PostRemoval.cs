using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data.Posts;

/// <summary>Takes posts out of the bank, for whoever removes one and for whoever takes an import back.</summary>
public static class PostRemoval
{
    /// <summary>Everything of the post that is still to come is cancelled: planned, waiting for approval, or standing in for another;
    /// what was sent stays. The caller saves.</summary>
    /// <returns>How many deliveries were cancelled.</returns>
    public static async Task<int> TakeOutAsync(this LarkDb db, Post post, Instant now, CancellationToken cancellation)
    {
        List<Delivery> deliveries = await db
            .Deliveries.Where(d => d.WorkspaceId == post.WorkspaceId && d.PostId == post.Id)
            .ToListAsync(cancellation);
        return TakeOut(post, deliveries, now);
    }

    /// <param name="deliveries">All of the post's.</param>
    internal static int TakeOut(Post post, IEnumerable<Delivery> deliveries, Instant now)
    {
        PlanChange change = PlanDoor.Withdrawn([.. deliveries]);
        change.Apply();
        post.RemovedAt ??= now;
        return change.Done;
    }
}
