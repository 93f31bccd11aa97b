using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Channels;
using AbleLark.Server.Networks;
using AbleLark.Server.Outgoing;
using AbleLark.Server.Planning;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Deliveries;

/// <param name="Address">The post's own address on the network; on a channel kept by hand it may be empty.</param>
public sealed record PostedRequest(string Address);

/// <summary>A person says that they have posted what was theirs to post.</summary>
public static class PostedEndpoints
{
    /// <summary>How long before its time a post may have been posted by hand.</summary>
    private static readonly Duration Earliest = Duration.FromDays(2);

    public static void MapPosted(this RouteGroupBuilder workspace) =>
        workspace.MapPost("/deliveries/{id}/posted", PostedAsync).Needs(Right.Schedule);

    private static async Task<ActDone> PostedAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        PostedRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        NetworkConnector connector,
        ChannelTokens tokens,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.SayPosted))
            throw ProblemException.Conflict($"This delivery isn't yours to post: it is {PlanWords.Of(delivery.State)}.");
        Channel channel = await db.Channels.SingleAsync(c => c.WorkspaceId == workspaceId && c.Id == delivery.ChannelId, cancellation);
        networks.Demand(channel.Network);
        NetworkRules rules = networks.For(channel);
        string? address = PostAddress.Checked(request.Address, rules, connector);
        Post post = await db.Posts.SingleAsync(p => p.WorkspaceId == workspaceId && p.Id == delivery.PostId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        RemoteThing? found = address is null
            ? null
            : await FoundAsync(channel, address, rules, delivery.At - Earliest, connector, tokens, cancellation);
        if (
            await db.Deliveries.AnyAsync(
                d =>
                    d.WorkspaceId == workspaceId
                    && d.ChannelId == channel.Id
                    && d.Id != id
                    && ((address != null && d.Address == address) || (found != null && d.RemoteId == found.Id)),
                cancellation
            )
        )
            throw ProblemException.Conflict("That address belongs to another delivery. Open the right post there and copy its address.");
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        ContentSources sources = await db.SourcesAsync(workspaceId, post.Content.AllFiles(), cancellation);
        int version = await db
            .PostVersions.Where(v => v.WorkspaceId == workspaceId && v.PostId == post.Id)
            .MaxAsync(v => v.Number, cancellation);
        var act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.PostedByHand));
        delivery.Freeze(post, channel, rules, sources, version);
        delivery.WasPosted(address, found?.Id, found?.At(now) ?? now, post, channel, workspace.Zone);
        // Found there before it was said whose it is.
        db.OutsidePosts.RemoveRange(
            await db
                .OutsidePosts.Where(o =>
                    o.WorkspaceId == workspaceId
                    && o.ChannelId == channel.Id
                    && o.DeliveryId == null
                    && ((address != null && o.Address == address) || (found != null && o.RemoteId == found.Id))
                )
                .ToListAsync(cancellation)
        );
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>The post among what the account has posted; null where the network doesn't list it, or can't be asked: then its figures
    /// aren't read.</summary>
    private static async Task<RemoteThing?> FoundAsync(
        Channel channel,
        string address,
        NetworkRules rules,
        Instant since,
        NetworkConnector connector,
        ChannelTokens tokens,
        CancellationToken cancellation
    )
    {
        if (channel.Connection != ConnectionState.Connected)
            return null;
        NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, cancellation);
        if (!token.IsOk)
            return null;
        NetworkAnswer<PostedList> list = await connector.PostedSinceAsync(
            channel.Network,
            token.Value!,
            since,
            rules.Sending.ReadsBack,
            cancellation
        );
        return list.Value?.Posts.FirstOrDefault(p => p.WebAddress == address);
    }
}
