using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Planning;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Places;

/// <summary>One of two that change places: a delivery, or a place that may still change.</summary>
/// <param name="PostId">What was to go out there when it was looked at; needed for a channel.</param>
public sealed record ExchangeSide(ChosenDelivery? Delivery = null, ChosenPlace? Place = null, Id<Post>? PostId = null);

/// <param name="ChannelId">Null: two places, on all channels that both have.</param>
public sealed record ExchangeRequest(ExchangeSide One, ExchangeSide Other, Id<Channel>? ChannelId = null);

/// <param name="Against">What speaks against it, though it was done.</param>
public sealed record Exchanged(Guid ChangeSetId, IReadOnlyList<string> Against);

/// <summary>Two posts that go out change places, each at the other's time.</summary>
public static class ExchangeEndpoints
{
    public static void MapExchange(this RouteGroupBuilder workspace) =>
        workspace.MapPost("/line-up/exchange", ExchangeAsync).Needs(Right.Schedule);

    private static async Task<Exchanged> ExchangeAsync(
        Id<Workspace> workspaceId,
        ExchangeRequest request,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        PlanWriter writer,
        CancellationToken cancellation
    )
    {
        if (
            request.ChannelId is { } channel
            && !await db.Channels.AnyAsync(c => c.WorkspaceId == workspaceId && c.Id == channel, cancellation)
        )
            throw ProblemException.NotFound("This channel");
        (PlanChange change, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (_, _) =>
            {
                PlanSide one = await SideAsync(request.One);
                PlanSide other = await SideAsync(request.Other);
                Id<Post>[] posts = [.. new[] { one.Expected, other.Expected }.OfType<Id<Post>>()];
                Dictionary<Id<Post>, string> titles = await db
                    .Posts.Where(p => p.WorkspaceId == workspaceId && posts.Contains(p.Id))
                    .ToDictionaryAsync(p => p.Id, p => p.Title, cancellation);
                return new(
                    new PlanAct.Exchange(one, other, request.ChannelId),
                    titles.Count == 2 ? new(ActCode.PostsExchanged, titles[posts[0]], titles[posts[1]]) : new Act(ActCode.PlacesExchanged)
                );
            },
            cancellation
        );
        IReadOnlyDictionary<Id<Post>, string> named = await writer.TitlesAsync(workspaceId, change, cancellation);
        return new(act, [.. change.Remarks.Select(r => PlanWords.Of(r.Doubt, named[r.PostId]))]);

        async Task<PlanSide> SideAsync(ExchangeSide side)
        {
            if (side is { Delivery: { Id: var id, Revision: var revision }, Place: null })
            {
                Delivery delivery =
                    await db.Deliveries.SingleOrDefaultAsync(d => d.WorkspaceId == workspaceId && d.Id == id, cancellation)
                    ?? throw ProblemException.NotFound("This delivery");
                return delivery.Revision == revision
                    ? new(delivery, Expected: side.PostId ?? delivery.PostId)
                    : throw ProblemException.Outdated("One of the two is otherwise than when you looked. Look again, then swap them.");
            }
            return side is { Delivery: null, Place: { } chosen }
                ? new(null, chosen.Seen, side.PostId)
                : throw ProblemException.BadInput("Name a delivery or a place on each side.");
        }
    }
}
