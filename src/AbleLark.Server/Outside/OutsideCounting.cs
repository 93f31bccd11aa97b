using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Rows;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Results;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Outside;

/// <summary>Makes posts that were found on a channel count as deliveries.</summary>
public sealed class OutsideCounting(LarkDb db, NetworkBook networks, PostChecking checking, FigureKeeping keeping)
{
    /// <summary>From now on it counts, as a delivery of a post of that category, or of that post. Saves.</summary>
    /// <param name="outside">A tracked one.</param>
    public async Task<ChangeSet> CountAsync(
        OutsidePost outside,
        CountOutside wanted,
        Actor? by,
        Instant now,
        CancellationToken cancellation
    )
    {
        if (wanted.CategoryId is null == wanted.PostId is null)
            throw ProblemException.BadInput("Say of which category it is, or which post of yours it is: one of the two.");
        outside.DemandUncounted();
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == outside.WorkspaceId, cancellation);
        Channel channel = await db.Channels.SingleAsync(c => c.WorkspaceId == workspace.Id && c.Id == outside.ChannelId, cancellation);
        Post post = wanted.PostId is { } known
            ? await db.Posts.SingleOrDefaultAsync(p => p.WorkspaceId == workspace.Id && p.Id == known && p.RemovedAt == null, cancellation)
                ?? throw ProblemException.NotFound("This post")
            : await WriteAsync(outside, wanted.CategoryId!.Value, now, cancellation);
        string name = networks.Has(channel.Network) ? networks[channel.Network].Name : channel.Network;
        ChangeSet act = db.BeginAct(workspace.Id, by, now, new(ActCode.CountedOutside, name, post.Title));
        Delivery delivery = outside.AsDelivery(post, channel, name, workspace.Zone);
        db.Deliveries.Add(delivery);
        keeping.TakeOver(delivery, outside.Readings);
        (outside.DeliveryId, outside.Readings, outside.NextReadingAt, outside.LeftOut) = (delivery.Id, [], null, false);
        await db.SaveChangesAsync(cancellation);
        return act;
    }

    private async Task<Post> WriteAsync(OutsidePost outside, Id<Category> category, Instant now, CancellationToken cancellation)
    {
        if (!await db.Categories.AnyAsync(c => c.WorkspaceId == outside.WorkspaceId && c.Id == category, cancellation))
            throw ProblemException.BadInput("This category isn't in the workspace. Choose another.");
        Post post = outside.AsPost(category, now);
        post.Take((await checking.CheckAsync(post.WorkspaceId, post.Content, cancellation)).Checks);
        db.Posts.Add(post);
        db.PostVersions.Add(
            new()
            {
                WorkspaceId = post.WorkspaceId,
                PostId = post.Id,
                Number = post.Version,
                Content = post.Content,
                MadeAt = now,
            }
        );
        return post;
    }
}

internal static class OutsideDemands
{
    /// <exception cref="ProblemException">It counts already.</exception>
    public static void DemandUncounted(this OutsidePost outside)
    {
        if (outside.DeliveryId is not null)
            throw ProblemException.Conflict("It counts already. Its category can be changed on its delivery.");
    }
}
