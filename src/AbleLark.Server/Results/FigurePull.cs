using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Channels;
using AbleLark.Server.Networks;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Results;

/// <summary>Pulls figures from the networks and keeps them as readings over time.</summary>
public sealed class FigurePull(IServiceScopeFactory scopes, IOptions<LarkSettings> settings, ILogger<FigurePull> log)
    : ChannelWork(scopes, log, "Its figures can't be read.", atOnce: 4)
{
    public override WorkKind Kind => WorkKind.Figures;

    public override TimeSpan Pause => TimeSpan.FromSeconds(2);

    protected override async Task<List<(Id<Workspace> Workspace, Id<Channel> Channel)>> DueAsync(
        LarkDb db,
        Instant now,
        CancellationToken cancellation
    )
    {
        var due = await db
            .Deliveries.Where(d => d.NextReadingAt <= now && d.TakenDownAt == null)
            .Select(d => new { d.WorkspaceId, d.ChannelId })
            .Distinct()
            .ToListAsync(cancellation);
        return [.. due.Select(d => (d.WorkspaceId, d.ChannelId))];
    }

    protected override Task<ChannelOutcome> WorkAsync(
        IServiceProvider services,
        Id<Workspace> workspace,
        Id<Channel> channel,
        Instant now,
        CancellationToken stopping
    ) =>
        services
            .GetRequiredService<ChannelFigures>()
            .ReadDueAsync(workspace, channel, now, Duration.FromSeconds(settings.Value.LeaseSeconds) * 2, stopping);
}

/// <summary>Reads the figures of one channel's deliveries.</summary>
public sealed class ChannelFigures(LarkDb db, NetworkConnector connector, ChannelTokens tokens, FigureKeeping keeping)
{
    private static readonly Duration TryAgainAfter = Duration.FromHours(1);

    /// <summary>Reads what is due, many in one call.</summary>
    /// <param name="hold">For so long no other process reads the same ones.</param>
    public async Task<ChannelOutcome> ReadDueAsync(
        Id<Workspace> workspace,
        Id<Channel> id,
        Instant now,
        Duration hold,
        CancellationToken stopping
    )
    {
        List<Delivery> due = await ClaimAsync(workspace, id, now, now + hold, stopping);
        if (due.Count == 0)
            return default;
        Channel channel = await db.Channels.SingleAsync(c => c.WorkspaceId == workspace && c.Id == id, stopping);
        NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, stopping);
        NetworkAnswer<Dictionary<string, FigureSet>> answer = token.IsOk
            ? await connector.FiguresAsync(channel.Network, token.Value!, [.. due.Select(d => d.RemoteId!)], stopping)
            : new(token.Kind, Reason: token.Reason);
        // What can't be had is tried again while the deliveries are young enough to have another.
        foreach (Delivery delivery in due)
            delivery.NextReadingAt =
                answer.IsOk || answer.Kind == AnswerKind.Refused ? ReadingTimes.Next(delivery.SentAt!.Value, now) : now + TryAgainAfter;
        (Delivery Delivery, FigureSet Figures)[] read =
        [
            .. due.Where(d => answer.Value?.ContainsKey(d.RemoteId!) == true).Select(d => (d, answer.Value![d.RemoteId!])),
        ];
        try
        {
            await keeping.KeepAsync(read, now, stopping);
            await db.SaveChangesAsync(stopping);
        }
        catch (DbUpdateException) when (read.Length > 1)
        {
            await KeepOneByOneAsync(workspace, read, now, stopping);
        }
        return new(answer.Kind is AnswerKind.Lost or AnswerKind.Busy ? answer.Reason : null, due.Count == INetworkProtocol.MostFigures);
    }

    /// <summary>A reading that can't be kept takes no other with it.</summary>
    private async Task KeepOneByOneAsync(
        Id<Workspace> workspace,
        (Delivery Delivery, FigureSet Figures)[] read,
        Instant now,
        CancellationToken stopping
    )
    {
        DbUpdateException? trouble = null;
        foreach ((Delivery delivery, FigureSet figures) in read)
        {
            db.ChangeTracker.Clear();
            Delivery again = await db.Deliveries.SingleAsync(d => d.WorkspaceId == workspace && d.Id == delivery.Id, stopping);
            again.NextReadingAt = ReadingTimes.Next(again.SentAt!.Value, now);
            await keeping.KeepAsync([(again, figures)], now, stopping);
            try
            {
                await db.SaveChangesAsync(stopping);
            }
            catch (DbUpdateException e)
            {
                trouble ??= e;
            }
        }
        db.ChangeTracker.Clear();
        if (trouble is not null)
            throw trouble;
    }

    /// <summary>Deliveries are claimed by putting their next reading off: whoever comes meanwhile finds them not due.</summary>
    private async Task<List<Delivery>> ClaimAsync(
        Id<Workspace> workspace,
        Id<Channel> channel,
        Instant now,
        Instant until,
        CancellationToken cancellation
    )
    {
        List<Guid> claimed = await db
            .Database.SqlQuery<Guid>(
                $"""
                update deliveries set next_reading_at = {until}
                where (workspace_id, id) in (
                  select workspace_id, id from deliveries where workspace_id = {workspace.Value} and channel_id = {channel.Value} and
                      next_reading_at <= {now} and taken_down_at is null
                  order by next_reading_at limit {INetworkProtocol.MostFigures} for update skip locked)
                returning id
                """
            )
            .ToListAsync(cancellation);
        List<Id<Delivery>> ids = [.. claimed.Select(c => new Id<Delivery>(c))];
        return await db
            .Deliveries.Where(d => d.WorkspaceId == workspace && ids.Contains(d.Id))
            .OrderBy(d => d.SentAt)
            .ToListAsync(cancellation);
    }
}
