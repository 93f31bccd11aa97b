using AbleLark.Core.Channels;
using AbleLark.Data;
using AbleLark.Data.Channels;
using AbleLark.Server.Channels;
using AbleLark.Server.Networks;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Hours;

/// <summary>Asks the networks, once a week, when each channel's followers are online.</summary>
public sealed class AudiencePull(LarkDb db, NetworkConnector connector, ChannelTokens tokens)
{
    private const int HoursOfAWeek = 168;
    private const int AtOnce = 20;
    private static readonly Duration AskAgainAfter = Duration.FromDays(7);

    public async Task PullDueAsync(Instant now, CancellationToken cancellation)
    {
        Instant before = now - AskAgainAfter;
        List<Channel> due = await db.Channels
            .Where(c => c.Connection == ConnectionState.Connected && !db.ChannelAudiences.Any(a => a.WorkspaceId == c.WorkspaceId && a.ChannelId == c.Id && a.ReadAt > before))
            .Take(AtOnce).ToListAsync(cancellation);
        foreach (Channel channel in due)
        {
            // Of several server processes, the one that writes the time asks.
            int claimed = await db.Database.ExecuteSqlAsync(
                $"""
                insert into channel_audiences (workspace_id, channel_id, online, read_at) values ({channel.WorkspaceId.Value}, {channel.Id.Value}, '[]', {now})
                on conflict (workspace_id, channel_id) do update set read_at = excluded.read_at where channel_audiences.read_at <= {before}
                """, cancellation);
            if (claimed == 1) await AskAsync(channel, cancellation);
        }
        db.ChangeTracker.Clear();
    }

    private async Task AskAsync(Channel channel, CancellationToken cancellation)
    {
        NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, cancellation);
        NetworkAnswer<RemoteOnline> answer = token.IsOk ? await connector.OnlineAsync(channel.Network, token.Value!, cancellation) : new(token.Kind, Reason: token.Reason);
        // What was told before is better than nothing.
        if (!answer.IsOk || answer.Value!.Hours.Count != HoursOfAWeek) return;
        (await db.ChannelAudiences.SingleAsync(a => a.WorkspaceId == channel.WorkspaceId && a.ChannelId == channel.Id, cancellation)).Online = answer.Value.Hours;
        await db.SaveChangesAsync(cancellation);
    }
}
