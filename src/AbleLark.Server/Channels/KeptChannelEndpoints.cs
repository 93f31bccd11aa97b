using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Networks;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Channels;

/// <param name="Handle">What it is, or where: “newsletter”, the blog's address.</param>
public sealed record KeptChannelEdit(
    [Named("the channel")] string Name,
    [StringLength(200, ErrorMessage = "What it is, or where, in at most 200 characters.")] string Handle
);

/// <summary>Channels kept by hand: a blog, a newsletter, a network that isn't connected. All is planned on them as on others, and
/// people put it there.</summary>
public static class KeptChannelEndpoints
{
    public static void MapKeptChannels(this RouteGroupBuilder workspace)
    {
        workspace.MapPost("/channels/kept", AddAsync).Needs(Right.SetUp).InTurn();
        workspace.MapPut("/channels/{id}/kept", EditAsync).Needs(Right.SetUp);
    }

    private static async Task<ChannelView> AddAsync(
        Id<Workspace> workspaceId,
        KeptChannelEdit edit,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        string network =
            networks.All.FirstOrDefault(n => n.KeptByHand)?.Key
            ?? throw ProblemException.Conflict("There are no rules here for channels kept by hand. Tell whoever runs Able Lark.");
        int count = await db.Channels.CountAsync(c => c.WorkspaceId == workspaceId, cancellation);
        Inputs.Room(count, 1, WorkspaceLimits.Channels, "channels");
        Id<Channel> id = Id<Channel>.New();
        Channel channel = new()
        {
            WorkspaceId = workspaceId,
            Id = id,
            Network = network,
            // There is no account; this one is no other's.
            Account = id.ToString(),
            Name = edit.Name.Trim(),
            Handle = edit.Handle.Trim(),
            Position = count,
            Connection = ConnectionState.KeptByHand,
        };
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.KeptChannelAdded, channel.Name));
        db.Channels.Add(channel);
        await db.SaveChangesAsync(cancellation);
        return ChannelEndpoints.View(channel, networks);
    }

    /// <summary>Names it anew; one that was let go is kept again.</summary>
    private static async Task<ChannelView> EditAsync(
        Id<Workspace> workspaceId,
        Id<Channel> id,
        KeptChannelEdit edit,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Channel channel =
            await db.Channels.SingleOrDefaultAsync(c => c.WorkspaceId == workspaceId && c.Id == id, cancellation)
            ?? throw ProblemException.NotFound("This channel");
        if (!networks.Demand(channel.Network).KeptByHand)
            throw ProblemException.Conflict($"{channel.Name} is on a network, which names it.");
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.ChannelChanged, channel.Name));
        (channel.Name, channel.Handle, channel.Connection) = (edit.Name.Trim(), edit.Handle.Trim(), ConnectionState.KeptByHand);
        await db.SaveChangesAsync(cancellation);
        return ChannelEndpoints.View(channel, networks);
    }
}
