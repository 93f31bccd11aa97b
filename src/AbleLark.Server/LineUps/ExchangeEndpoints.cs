using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.History;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>One of two that change places on a channel: a delivery, or a place that may still change.</summary>
/// <param name="PostId">What was to go out there when it was looked at.</param>
public sealed record ExchangeSide(ChosenDelivery? Delivery, ChosenPlace? Place, Id<Post> PostId);

public sealed record ExchangeRequest(Id<Channel> ChannelId, ExchangeSide One, ExchangeSide Other);

/// <param name="Against">What speaks against it, though it was done.</param>
public sealed record Exchanged(Guid ChangeSetId, IReadOnlyList<string> Against);

/// <summary>Two posts that go out on a channel change places, each at the other's time.</summary>
public static class ExchangeEndpoints
{
    private const string Why = "Swapped with another by a person.";

    public static void MapExchange(this RouteGroupBuilder workspace) =>
        workspace.MapPost("/line-up/exchange", ExchangeAsync).Needs(Right.Schedule);

    private static ProblemException Outdated() =>
        ProblemException.Outdated("One of the two is otherwise than when you looked. Look again, then swap them.");

    /// <summary>What one side would send, and when.</summary>
    private sealed record Side(Post Post, Instant At, Delivery? Delivery, LineUpPlace? Place);

    private static async Task<Exchanged> ExchangeAsync(
        Id<Workspace> workspaceId,
        ExchangeRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        LineUpReader reader,
        PlanWriter writer,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        Channel channel =
            await db.Channels.SingleOrDefaultAsync(c => c.WorkspaceId == workspaceId && c.Id == request.ChannelId, cancellation)
            ?? throw ProblemException.NotFound("This channel");
        LineUpInput input = await reader.ReadAsync(workspace, cancellation);
        Side one = await FindAsync(request.One);
        Side other = await FindAsync(request.Other);
        if (one.Post.Id == other.Post.Id)
            throw ProblemException.BadInput("Both are the same post, so nothing would change.");
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, $"Swapped “{one.Post.Title}” and “{other.Post.Title}”");
        List<string> against = [];
        if (one.Delivery is { } a && other.Delivery is { } b)
        {
            PlanChange change = await writer.DoAsync(workspace, new PlanAct.Exchange(a, b), now, cancellation);
            if (change.Stays is [var stay, ..])
                throw ProblemException.Conflict(
                    $"They can't change places: {PlanWords.Why(stay, stay.DeliveryId == a.Id ? one.Post.Title : other.Post.Title)}"
                );
            against.AddRange(
                change.Doubts.SelectMany(d => d.Doubts.Select(w => PlanWords.Of(w, d.Delivery == a ? one.Post.Title : other.Post.Title)))
            );
        }
        else
        {
            await GiveAsync(one, other.Post);
            await GiveAsync(other, one.Post);
            against.AddRange([.. Against(one.Post, other), .. Against(other.Post, one)]);
        }
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(act.Id.Value, against);

        async Task<Side> FindAsync(ExchangeSide side)
        {
            if (side is { Delivery: { Id: var id, Revision: var revision }, Place: null })
            {
                Delivery delivery =
                    await db.Deliveries.SingleOrDefaultAsync(d => d.WorkspaceId == workspaceId && d.Id == id, cancellation)
                    ?? throw ProblemException.NotFound("This delivery");
                if (delivery.Revision != revision || delivery.PostId != side.PostId)
                    throw Outdated();
                if (delivery.ChannelId != channel.Id)
                    throw ProblemException.BadInput("Both have to go out on the same channel.");
                if (!EntryActs.Of(delivery).Contains(EntryAct.Move))
                    throw ProblemException.Conflict($"It can't be moved any more: it is {PlanWords.Of(delivery.State)}.");
                return new(await PostAsync(delivery.PostId), delivery.At, delivery, null);
            }
            if (side is not { Delivery: null, Place: { } chosen })
                throw ProblemException.BadInput("Name a delivery or a place on each side.");
            LineUpPlace place =
                LineUp.PlaceOf(input, now, Origin.Place(chosen.SlotId, chosen.Date)) ?? throw ProblemException.NotFound("This place");
            if (place.IsScheduled)
                throw ProblemException.Conflict("One of the two is scheduled by now. Look again, then swap its delivery.");
            if (!chosen.IsAsSeen(place.Occurrence))
                throw Outdated();
            Pick? pick = place.Picks.FirstOrDefault(p => p.ChannelId == channel.Id);
            return pick?.PostId is { } post
                ? post != side.PostId
                    ? throw Outdated()
                    : new(await PostAsync(post), place.Occurrence.At, null, place)
                : throw ProblemException.Conflict("One of the two has nothing to send there.");
        }

        Task<Post> PostAsync(Id<Post> id) => db.Posts.SingleAsync(p => p.WorkspaceId == workspaceId && p.Id == id, cancellation);

        async Task GiveAsync(Side side, Post post)
        {
            if (side.Place is { } place)
                (await db.OpenDecisionAsync(workspaceId, place.Occurrence.Origin, cancellation)).Pick([(channel.Id, post.Id)]);
            else if (side.Delivery is { OriginKind: OriginKind.Place } delivery)
                delivery.GiveTo(post, channel, Why);
            else
                throw ProblemException.Conflict(
                    "One of the two stands at an exact time and the other in a place that may still change. Schedule that place first."
                );
        }

        IEnumerable<string> Against(Post post, Side there)
        {
            if (MoveDoubts.OutsideDates(post, there.At.InZone(workspace.Zone).Date) is { } outside)
                yield return PlanWords.Of(outside, post.Title);
            if (there.Place is not { } place)
                yield break;
            var ranked = LineUp.CandidatesFor(input, now, place.Occurrence.Origin);
            if (ranked?.FirstOrDefault(c => c.Post.Id == post.Id) is { ExcludedBy: { } rule })
                yield return $"“{post.Title}” there: {ReasonWords.Why(rule)}.";
        }
    }
}
