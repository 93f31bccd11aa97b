using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Networks;
using AbleLark.Server.Outgoing;
using AbleLark.Server.Planning;
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
    /// honours keys, and as a new delivery where it doesn't.
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
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        if (request.Found == Found.IsThere)
            return await IsThereAsync(
                await FindAsync(workspaceId, id, ifMatch, db, cancellation),
                request,
                http,
                db,
                clock,
                networks,
                connector,
                cancellation
            );
        (_, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (_, _) =>
            {
                Delivery delivery = await FindAsync(workspaceId, id, ifMatch, db, cancellation);
                if (request.Found == Found.LookAgain)
                    return new(new PlanAct.LookAgain(delivery), new(ActCode.LookedAgain));
                string network = await db
                    .Channels.Where(c => c.WorkspaceId == workspaceId && c.Id == delivery.ChannelId)
                    .Select(c => c.Network)
                    .SingleAsync(cancellation);
                bool honoursKeys = networks.Has(network) && networks[network].Sending.HonoursKeys;
                return new(new PlanAct.SendAgain(delivery, honoursKeys), new(ActCode.SentAgain));
            },
            cancellation,
            async (_, _) =>
            {
                if (request.Found == Found.IsNotThere)
                    await CloseAttemptsAsync(workspaceId, id, db, cancellation);
            }
        );
        return new(act);
    }

    private static async Task<Delivery> FindAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        string? ifMatch,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation);
        return EntryActs.Of(delivery).Contains(EntryAct.SayWhatWasFound)
            ? delivery
            : throw ProblemException.Conflict($"There is no doubt about this delivery: it is {PlanWords.Of(delivery.State)}.");
    }

    private static async Task<ActDone> IsThereAsync(
        Delivery delivery,
        FoundRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        NetworkBook networks,
        NetworkConnector connector,
        CancellationToken cancellation
    )
    {
        Id<Workspace> id = delivery.WorkspaceId;
        string address = await AddressAsync(request.Address, delivery, db, networks, connector, cancellation);
        List<DeliveryAttempt> attempts = await AttemptsAsync(id, delivery.Id, db, cancellation);
        var act = db.BeginAct(id, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.DeliveryFound));
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == id, cancellation);
        delivery.WasFound(
            address,
            attempts.LastOrDefault()?.Since ?? delivery.At,
            await db.Posts.AsNoTracking().SingleAsync(p => p.WorkspaceId == id && p.Id == delivery.PostId, cancellation),
            await db.Channels.AsNoTracking().SingleAsync(c => c.WorkspaceId == id && c.Id == delivery.ChannelId, cancellation),
            workspace.Zone
        );
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static Task<List<DeliveryAttempt>> AttemptsAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        LarkDb db,
        CancellationToken cancellation
    ) =>
        db
            .DeliveryAttempts.Where(a => a.WorkspaceId == workspaceId && a.DeliveryId == id)
            .OrderBy(a => a.StartedAt)
            .ToListAsync(cancellation);

    private static async Task CloseAttemptsAsync(Id<Workspace> workspaceId, Id<Delivery> id, LarkDb db, CancellationToken cancellation)
    {
        foreach (DeliveryAttempt attempt in (await AttemptsAsync(workspaceId, id, db, cancellation)).Where(a => a.IsOpen))
            (attempt.End, attempt.EndedAt, attempt.Reason) = (
                AttemptEnd.Absent,
                attempt.EndedAt ?? attempt.StartedAt,
                "A person looked, and it is not there."
            );
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
}
