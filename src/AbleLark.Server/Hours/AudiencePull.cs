using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Channels;
using AbleLark.Data.Rows;
using AbleLark.Server.Channels;
using AbleLark.Server.Networks;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Hours;

/// <summary>Asks the networks, once a week, how many followers each channel has and when they are online.</summary>
public sealed class AudiencePull(IServiceScopeFactory scopes, ILogger<AudiencePull> log)
    : ChannelWork(scopes, log, "When its followers are online can't be read.")
{
    private static readonly Duration AskAgainAfter = Duration.FromDays(7);

    public override WorkKind Kind => WorkKind.Audiences;

    public override TimeSpan Pause => TimeSpan.FromSeconds(5);

    protected override Task<List<(Id<Workspace> Workspace, Id<Channel> Channel)>> DueAsync(
        LarkDb db,
        Instant now,
        CancellationToken cancellation
    ) => db.ConnectedWithoutAsync(a => a.ReadAt > now - AskAgainAfter, cancellation);

    protected override async Task<ChannelOutcome> WorkAsync(
        IServiceProvider services,
        Id<Workspace> workspace,
        Id<Channel> channel,
        Instant now,
        CancellationToken stopping
    ) => new(await services.GetRequiredService<ChannelAudienceReading>().ReadAsync(workspace, channel, now - AskAgainAfter, now, stopping));
}

/// <summary>Reads when one channel's followers are online.</summary>
public sealed class ChannelAudienceReading(LarkDb db, NetworkBook networks, NetworkConnector connector, ChannelTokens tokens)
{
    private const int HoursOfAWeek = 168;

    /// <summary>A process that ends in the middle leaves it to be asked for again after this.</summary>
    private static readonly Duration Hold = Duration.FromMinutes(10);

    /// <summary>Returns the network's silence in words, or null.</summary>
    public async Task<string?> ReadAsync(
        Id<Workspace> workspace,
        Id<Channel> id,
        Instant before,
        Instant now,
        CancellationToken cancellation
    )
    {
        // Of several server processes, the one that writes the time asks.
        Instant held = before + Hold;
        int claimed = await db.Database.ExecuteSqlAsync(
            $"""
            insert into channel_audiences (workspace_id, channel_id, online, read_at) values ({workspace.Value}, {id.Value}, '[]', {held})
            on conflict (workspace_id, channel_id) do update set read_at = excluded.read_at where channel_audiences.read_at <= {before}
            """,
            cancellation
        );
        if (claimed == 0)
            return null;
        Channel channel = await db.Channels.SingleAsync(c => c.WorkspaceId == workspace && c.Id == id, cancellation);
        NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, cancellation);
        bool tells = networks.Has(channel.Network) && networks[channel.Network].TellsFollowersOnline;
        NetworkAnswer<RemoteOnline> answer =
            !token.IsOk ? new(token.Kind, Reason: token.Reason)
            : tells ? await connector.OnlineAsync(channel.Network, token.Value!, cancellation)
            : new(AnswerKind.Refused);
        if (answer.Kind is AnswerKind.Lost or AnswerKind.Busy)
            return answer.Reason;
        if (token.IsOk && await connector.AccountAsync(channel.Network, token.Value!, cancellation) is { IsOk: true, Value: { } account })
            channel.Followers = account.Followers;
        var kept = await db.ChannelAudiences.SingleAsync(a => a.WorkspaceId == workspace && a.ChannelId == id, cancellation);
        kept.ReadAt = now;
        // What was told before is better than nothing.
        if (answer.IsOk && answer.Value!.Hours is { Count: HoursOfAWeek } hours)
            kept.Online = hours;
        await db.SaveChangesAsync(cancellation);
        return null;
    }
}
