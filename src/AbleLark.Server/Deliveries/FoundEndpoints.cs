using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.History;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Networks;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Deliveries;

/// <summary>What a person found on the network about a delivery that may have gone out.</summary>
public enum Found
{
    /// <summary>It is there; say at which address.</summary>
    IsThere,

    /// <summary>It isn't; send it.</summary>
    IsNotThere,

    /// <summary>Have the network looked through once more; nothing is sent.</summary>
    LookAgain,
}

/// <param name="Address">The post's own address on the network, http or https; needed when it is there.</param>
public sealed record FoundRequest(Found Found, string? Address = null);

/// <summary>A person says what became of a delivery that may have gone out.</summary>
public static class FoundEndpoints
{
    public static void MapFound(this RouteGroupBuilder workspace)
    {
        workspace.MapPost("/deliveries/{id}/found", FoundAsync).Needs(Right.Schedule);
    }

    /// <summary>
    /// A person says what they found about a delivery that may have gone out. Sent again, it goes under the same key where the network
    /// honours
    /// keys, and as a new delivery where it doesn't.
    /// </summary>
    private static async Task<ActDone> FoundAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        FoundRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        NetworkBook networks,
        NetworkConnector connector,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await DeliveryEndpoints.FindToActAsync(workspaceId, id, ifMatch, db, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.SayWhatWasFound))
            throw ProblemException.Conflict($"There is no doubt about this delivery: it is {PlanWords.Of(delivery.State)}.");
        Instant now = await clock.NowAsync(cancellation);
        List<DeliveryAttempt> attempts = await db
            .DeliveryAttempts.Where(a => a.WorkspaceId == workspaceId && a.DeliveryId == id)
            .OrderBy(a => a.StartedAt)
            .ToListAsync(cancellation);
        ChangeSet act;
        switch (request.Found)
        {
            case Found.IsThere:
                string address = await AddressAsync(request.Address, delivery, db, networks, connector, cancellation);
                act = db.BeginAct(workspaceId, http.PersonId(), now, "Found a delivery on the network");
                delivery.Become(DeliveryState.Sent);
                (delivery.Address, delivery.SentAt, delivery.Trouble) = (address, attempts.LastOrDefault()?.Since ?? delivery.At, null);
                delivery.Facts = await FactsAsync(delivery, db, cancellation);
                break;
            case Found.LookAgain:
                act = db.BeginAct(workspaceId, http.PersonId(), now, "Had a delivery looked for again");
                delivery.LookAgain();
                delivery.LeaseUntil = Instant.FromUnixTimeSeconds(0);
                break;
            default:
                act = db.BeginAct(workspaceId, http.PersonId(), now, "Sent a delivery again that is not on the network");
                await SendAgainAsync(delivery, attempts, now, db, networks, cancellation);
                break;
        }
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<string> AddressAsync(
        string? given,
        Delivery delivery,
        LarkDb db,
        NetworkBook networks,
        NetworkConnector connector,
        CancellationToken cancellation
    )
    {
        string network = await db
            .Channels.Where(c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId)
            .Select(c => c.Network)
            .SingleAsync(cancellation);
        // On a channel kept by hand nothing can be lost, so nothing is found without an address.
        return PostAddress.Checked(given, networks.Demand(network), connector)
            ?? throw ProblemException.BadInput("Give the post's own address.");
    }

    private static async Task<SentFacts> FactsAsync(Delivery delivery, LarkDb db, CancellationToken cancellation)
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == delivery.WorkspaceId, cancellation);
        Post post = await db
            .Posts.AsNoTracking()
            .SingleAsync(p => p.WorkspaceId == delivery.WorkspaceId && p.Id == delivery.PostId, cancellation);
        Channel channel = await db
            .Channels.AsNoTracking()
            .SingleAsync(c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId, cancellation);
        return SentFacts.Of(delivery, post, channel, delivery.SentAt!.Value, workspace.Zone);
    }

    private static async Task SendAgainAsync(
        Delivery delivery,
        List<DeliveryAttempt> attempts,
        Instant now,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        Post post = await PostEndpoints.FindAsync(delivery.WorkspaceId, delivery.PostId, db, cancellation);
        if (post.Stage != Stage.Ready)
            throw ProblemException.Conflict($"“{post.Title}” is not ready. Mark it as ready, then send it again.");
        Workspace workspace = await db.Workspaces.SingleAsync(w => w.Id == delivery.WorkspaceId, cancellation);
        Channel channel = await db.Channels.SingleAsync(
            c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId,
            cancellation
        );
        foreach (DeliveryAttempt attempt in attempts.Where(a => a.IsOpen))
            (attempt.End, attempt.EndedAt, attempt.Reason) = (
                AttemptEnd.Absent,
                attempt.EndedAt ?? attempt.StartedAt,
                "A person looked, and it is not there."
            );
        if (networks.Has(channel.Network) && networks[channel.Network].Sending.HonoursKeys)
        {
            delivery.SendAgain(PlannedTime.Of(now, workspace.Zone));
            return;
        }
        delivery.Become(DeliveryState.Refused);
        (delivery.DealtWith, delivery.Trouble) = (
            true,
            "A person looked, and it is not there. It was sent again as a delivery of its own."
        );
        db.Deliveries.Add(Delivery.AtExactTime(workspace, delivery.PostId, delivery.ChannelId, now, delivery.Wording, delivery.Id));
    }
}
