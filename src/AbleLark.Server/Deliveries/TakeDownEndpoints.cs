using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Channels;
using AbleLark.Server.Networks;
using AbleLark.Server.Outgoing;
using AbleLark.Server.Planning;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Deliveries;

/// <param name="ByHand">True: a person has taken it down on the network themselves; nothing is asked of that.</param>
public sealed record TakeDownRequest(bool ByHand);

/// <summary>When what was taken down goes out again, as its post says it now; without date and time at once.</summary>
public sealed record CorrectRequest(LocalDate? Date, LocalTime? Time);

/// <summary>
/// What is out is taken down, and sent again corrected. Its turn stays: it was seen. The figures read until then stay too, and no more are
/// read. What goes out instead is a delivery of its own, with figures from nought.
/// </summary>
public static class TakeDownEndpoints
{
    public static void MapTakingDown(this RouteGroupBuilder workspace)
    {
        workspace.MapPost("/deliveries/{id}/take-down", TakeDownAsync).Needs(Right.Schedule);
        workspace.MapPost("/deliveries/{id}/correct", CorrectAsync).Needs(Right.Schedule);
    }

    /// <summary>True where programs may take it down.</summary>
    internal static async Task<bool> OffersAsync(Delivery delivery, LarkDb db, NetworkBook networks, CancellationToken cancellation)
    {
        if (delivery is not { State: DeliveryState.Sent, TakenDownAt: null, RemoteId: not null })
            return false;
        Channel channel = await db
            .Channels.AsNoTracking()
            .SingleAsync(c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId, cancellation);
        return channel.Connection == ConnectionState.Connected && networks.Has(channel.Network) && networks.For(channel).Sending.TakesDown;
    }

    private static async Task<ActDone> TakeDownAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        TakeDownRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        NetworkConnector connector,
        ChannelTokens tokens,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.TakeDown))
            throw ProblemException.Conflict(
                delivery.TakenDownAt is null
                    ? $"There is nothing to take down: this delivery is {PlanWords.Of(delivery.State)}."
                    : "It was taken down already."
            );
        if (!request.ByHand)
        {
            if (!await OffersAsync(delivery, db, networks, cancellation))
                throw ProblemException.Conflict("The network doesn’t let programs take this down. Take it down there, then say so here.");
            Channel channel = await db.Channels.SingleAsync(c => c.WorkspaceId == workspaceId && c.Id == delivery.ChannelId, cancellation);
            List<string> things = await ThingsAsync(delivery, db, cancellation);
            // Asked again after an answer that was lost, what isn't there any more is down.
            foreach (string thing in things)
                await AskAsync(channel, thing, connector, tokens, cancellation);
        }
        db.ChangeTracker.Clear();
        (_, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            // It is down by now, whoever has changed what else of it meanwhile.
            async (_, _) =>
                new(
                    new PlanAct.TakeDown(await db.DeliveryToActAsync(workspaceId, id, null, cancellation)),
                    new(request.ByHand ? ActCode.TakenDownByHand : ActCode.TakenDown)
                ),
            cancellation
        );
        return new(act);
    }

    /// <summary>All that was posted of it, what came last first: comments and further parts, then the post.</summary>
    private static async Task<List<string>> ThingsAsync(Delivery delivery, LarkDb db, CancellationToken cancellation)
    {
        List<string> made = await db
            .DeliveryAttempts.Where(a =>
                a.WorkspaceId == delivery.WorkspaceId
                && a.DeliveryId == delivery.Id
                && a.Publishes
                && a.End == AttemptEnd.Done
                && a.RemoteId != null
            )
            .OrderByDescending(a => a.StartedAt)
            .Select(a => a.RemoteId!)
            .ToListAsync(cancellation);
        return [.. made.Where(m => m != delivery.RemoteId).Distinct(), delivery.RemoteId!];
    }

    private static async Task AskAsync(
        Channel channel,
        string thing,
        NetworkConnector connector,
        ChannelTokens tokens,
        CancellationToken cancellation
    )
    {
        NetworkAnswer<object> answer = new(AnswerKind.TokenExpired);
        for (int i = 0; i < 2 && answer.Kind == AnswerKind.TokenExpired; i++)
        {
            NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: i > 0, cancellation);
            if (!token.IsOk)
                throw ProblemException.Conflict($"Nothing was taken down. {token.Reason}");
            answer = await connector.TakeDownAsync(channel.Network, token.Value!, thing, cancellation);
        }
        if (!answer.IsOk)
            throw ProblemException.Conflict(
                answer.Kind == AnswerKind.Refused
                    ? $"The network refused to take it down. {answer.Reason}"
                    : $"It may still be there: {answer.Reason} Try again in a moment; what is down by then stays down."
            );
    }

    private static async Task<Rescheduled> CorrectAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        CorrectRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        if (request.Date is null != request.Time is null)
            throw ProblemException.BadInput("Give a date and a time, or neither: then it goes out now.");
        (PlanChange change, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (_, _) =>
            {
                Delivery old = await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation);
                Post post = await PostEndpoints.FindAsync(workspaceId, old.PostId, db, cancellation);
                int latest = await db
                    .PostVersions.Where(v => v.WorkspaceId == workspaceId && v.PostId == post.Id)
                    .MaxAsync(v => v.Number, cancellation);
                return new(
                    new PlanAct.SendCorrected(old, request.Date is { } date ? date + request.Time!.Value : null, latest),
                    new(ActCode.PostSentCorrected, post.Title)
                );
            },
            cancellation
        );
        return new(change.Added[0].Delivery.Id, act);
    }
}
