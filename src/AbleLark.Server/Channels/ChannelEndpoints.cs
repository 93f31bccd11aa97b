using System.ComponentModel.DataAnnotations;
using System.Security.Cryptography;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Checks;
using AbleLark.Server.Networks;
using AbleLark.Server.Planning;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Channels;

/// <param name="Figure">Names it when it is changed.</param>
/// <param name="Usual">As it is for most accounts of the network, in JSON; empty: there is none.</param>
/// <param name="Own">As it is for this account; null: as for most.</param>
public sealed record FigureView(string Figure, string Name, string Usual, string? Own);

/// <param name="Figures">What of the network's rules differs between accounts.</param>
public sealed record ChannelView(
    Id<Channel> Id,
    string Network,
    string Name,
    string Handle,
    ConnectionState Connection,
    string? ConnectionTrouble,
    int? SpacingMinutes,
    int? DailyLimit,
    IReadOnlyList<FigureView> Figures
);

/// <param name="SpacingMinutes">Least time between two deliveries; null: any.</param>
/// <param name="DailyLimit">Most deliveries a day; null: any number.</param>
/// <param name="Figures">What of the network's rules is otherwise for this account, each value in JSON; others are as for most. Null: as
/// they are.</param>
public sealed record ChannelEdit(
    [Range(1, 1440, ErrorMessage = "The spacing lies between 1 and 1440 minutes (a day).")] int? SpacingMinutes = null,
    [Range(1, 100, ErrorMessage = "The daily limit lies between 1 and 100.")] int? DailyLimit = null,
    IReadOnlyDictionary<string, string>? Figures = null
);

/// <param name="Cancelled">Deliveries still to come that were cancelled with it.</param>
public sealed record Disconnected(int Cancelled);

/// <summary>Channels of a workspace.</summary>
public static class ChannelEndpoints
{
    public static void MapChannels(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/channels", ListAsync).Needs(Right.View);
        workspace.MapPut("/channels/{id}", EditAsync).Needs(Right.SetUp);
        workspace.MapDelete("/channels/{id}/connection", DisconnectAsync).Needs(Right.SetUp);
        workspace.MapConnecting();
        workspace.MapKeptChannels();
    }

    private static async Task<List<ChannelView>> ListAsync(
        Id<Workspace> workspaceId,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    ) =>
        [
            .. (
                await db
                    .Channels.AsNoTracking()
                    .Where(c => c.WorkspaceId == workspaceId)
                    .OrderBy(c => c.Position)
                    .ThenBy(c => c.Name)
                    .ToListAsync(cancellation)
            ).Select(c => View(c, networks)),
        ];

    /// <summary>How closely a channel may be filled; what would break it gives way in the line-up.</summary>
    private static async Task<ChannelView> EditAsync(
        Id<Workspace> workspaceId,
        Id<Channel> id,
        ChannelEdit edit,
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
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.ChannelChanged, channel.Name));
        if (edit.Figures is { } figures)
        {
            channel.Figures = Checked(figures, channel, networks);
            await StalePosts.CheckUsingAsync(workspaceId, _ => true, db, networks, now, cancellation);
        }
        channel.Spacing = edit.SpacingMinutes is { } minutes ? Duration.FromMinutes(minutes) : null;
        channel.DailyLimit = edit.DailyLimit;
        await db.SaveChangesAsync(cancellation);
        return View(channel, networks);
    }

    private static Dictionary<string, string> Checked(IReadOnlyDictionary<string, string> figures, Channel channel, NetworkBook networks)
    {
        Dictionary<string, string> own = figures.Where(f => !string.IsNullOrWhiteSpace(f.Value)).ToDictionary(f => f.Key, f => f.Value);
        try
        {
            networks.Demand(channel.Network).With(own);
            return own;
        }
        catch (FormatException e)
        {
            throw ProblemException.BadInput(e.Message);
        }
    }

    /// <summary>Ends a channel's connection: its tokens are forgotten, and what was still to go out on it is cancelled. What it sent, and
    /// what it earned, stays. Connecting the same account again brings it back.</summary>
    private static async Task<Disconnected> DisconnectAsync(
        Id<Workspace> workspaceId,
        Id<Channel> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        ChannelTokens tokens,
        PlanWriter writer,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // Nothing more is scheduled for it meanwhile.
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        Channel channel =
            await db.Channels.SingleOrDefaultAsync(c => c.WorkspaceId == workspaceId && c.Id == id, cancellation)
            ?? throw ProblemException.NotFound("This channel");
        if (channel.Connection == ConnectionState.Disconnected)
            throw ProblemException.Conflict($"{channel.Name} is disconnected already.");
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.ChannelDisconnected, channel.Name));
        List<Delivery> deliveries = await db
            .Deliveries.Where(d => d.WorkspaceId == workspaceId && d.ChannelId == id && ToCome.Contains(d.State))
            .ToListAsync(cancellation);
        PlanChange change = await writer.DoAsync(workspace, new PlanAct.Withdraw(deliveries), now, cancellation);
        await tokens.ForgetAsync(channel, cancellation);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(change.Done);
    }

    private static readonly DeliveryState[] ToCome = [.. Enum.GetValues<DeliveryState>().Where(s => s.MayBecome(DeliveryState.Cancelled))];

    internal static ChannelView View(Channel c, NetworkBook networks) =>
        new(
            c.Id,
            c.Network,
            c.Name,
            c.Handle,
            c.Connection,
            c.ConnectionTrouble,
            c.Spacing is { } spacing ? (int)spacing.TotalMinutes : null,
            c.DailyLimit,
            networks.Has(c.Network)
                ?
                [
                    .. networks[c.Network]
                        .PerChannel.Select(f => new FigureView(
                            f.Figure,
                            f.Name,
                            networks[c.Network].UsualOf(f),
                            c.Figures.GetValueOrDefault(f.Figure)
                        )),
                ]
                : []
        );
}
