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
        foreach (Channel channel in due) await AskAsync(channel, now, cancellation);
        if (due.Count > 0) await db.SaveChangesAsync(cancellation);
        db.ChangeTracker.Clear();
    }

    private async Task AskAsync(Channel channel, Instant now, CancellationToken cancellation)
    {
        NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, cancellation);
        NetworkAnswer<RemoteOnline> answer = token.IsOk ? await connector.OnlineAsync(channel.Network, token.Value!, cancellation) : new(token.Kind, Reason: token.Reason);
        ChannelAudience? audience = await db.ChannelAudiences.FindAsync([channel.WorkspaceId, channel.Id], cancellation);
        if (audience is null) db.ChannelAudiences.Add(audience = new() { WorkspaceId = channel.WorkspaceId, ChannelId = channel.Id, ReadAt = now });
        audience.ReadAt = now;
        // What was told before is better than nothing.
        if (answer.IsOk && answer.Value!.Hours.Count == HoursOfAWeek) audience.Online = answer.Value.Hours;
    }
}
