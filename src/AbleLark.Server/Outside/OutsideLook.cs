using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Channels;
using AbleLark.Server.Networks;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Outside;

/// <summary>Finds what was posted on one channel itself, and reads what that earns.</summary>
public sealed class OutsideLook(LarkDb db, NetworkBook networks, NetworkConnector connector, ChannelTokens tokens)
{
    /// <summary>How far the first look at a channel goes back.</summary>
    private static readonly Duration First = Duration.FromDays(28);

    /// <summary>How far each look goes back behind the one before: a network may list a post late.</summary>
    private static readonly Duration Overlap = Duration.FromDays(2);

    private const int LongestText = 100_000;

    /// <summary>Clocks of networks and ours may differ by as much.</summary>
    private static readonly Duration Drift = Duration.FromMinutes(10);

    /// <summary>Returns the network's silence in words, or null.</summary>
    /// <param name="before">A channel that was looked at since then is left alone.</param>
    public async Task<string?> LookAsync(
        Id<Workspace> workspace,
        Id<Channel> id,
        Instant before,
        Instant now,
        CancellationToken cancellation
    )
    {
        Instant? last = await db
            .ChannelAudiences.Where(a => a.WorkspaceId == workspace && a.ChannelId == id)
            .Select(a => a.LookedAt)
            .SingleOrDefaultAsync(cancellation);
        Instant never = Instant.FromUnixTimeSeconds(0);
        // Of several server processes, the one that writes the time looks.
        int claimed = await db.Database.ExecuteSqlAsync(
            $"""
            insert into channel_audiences (workspace_id, channel_id, online, read_at, looked_at)
            values ({workspace.Value}, {id.Value}, '[]', {never}, {now})
            on conflict (workspace_id, channel_id) do update set looked_at = excluded.looked_at
            where channel_audiences.looked_at is null or channel_audiences.looked_at <= {before}
            """,
            cancellation
        );
        if (claimed == 0)
            return null;
        Channel channel = await db.Channels.AsNoTracking().SingleAsync(c => c.WorkspaceId == workspace && c.Id == id, cancellation);
        if (!networks.Has(channel.Network))
            return null;
        NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, cancellation);
        if (!token.IsOk)
            return token.Reason;
        Instant since = last is { } at ? at - Overlap : now - First;
        NetworkAnswer<PostedList> list = await connector.PostedSinceAsync(
            channel.Network,
            token.Value!,
            since,
            networks[channel.Network].Sending.ReadsBack,
            cancellation
        );
        if (list.Kind is AnswerKind.Lost or AnswerKind.Busy)
            return list.Reason;
        await KeepAsync(channel, [.. (list.Value?.Posts ?? []).Select(p => p.Listed(since))], since, now, cancellation);
        return await ReadAsync(channel, token.Value!, now, cancellation);
    }

    private async Task KeepAsync(Channel channel, ListedPost[] listed, Instant since, Instant now, CancellationToken cancellation)
    {
        string[] ids = [.. listed.Select(p => p.Id)];
        HashSet<string> known =
        [
            .. await db
                .Deliveries.Where(d => d.WorkspaceId == channel.WorkspaceId && d.ChannelId == channel.Id && ids.Contains(d.RemoteId!))
                .Select(d => d.RemoteId!)
                .ToListAsync(cancellation),
            .. await db
                .DeliveryAttempts.Where(a => a.WorkspaceId == channel.WorkspaceId && ids.Contains(a.RemoteId!))
                .Select(a => a.RemoteId!)
                .ToListAsync(cancellation),
            .. await db
                .OutsidePosts.Where(o => o.WorkspaceId == channel.WorkspaceId && o.ChannelId == channel.Id && ids.Contains(o.RemoteId))
                .Select(o => o.RemoteId)
                .ToListAsync(cancellation),
        ];
        // What may be ours, and isn't known to be, is left until it is.
        Instant? unsure = await db
            .Deliveries.Where(d =>
                d.WorkspaceId == channel.WorkspaceId
                && d.ChannelId == channel.Id
                && (d.State == DeliveryState.Sending || (d.State == DeliveryState.MayHaveGoneOut && !d.DealtWith))
            )
            .MinAsync(d => (Instant?)d.At, cancellation);
        foreach (ListedPost post in listed.Where(p => p.Under is null && known.Add(p.Id)))
        {
            if (post.At is not { } postedAt || postedAt < since || postedAt > now || postedAt > unsure - Drift)
                continue;
            db.OutsidePosts.Add(
                new()
                {
                    WorkspaceId = channel.WorkspaceId,
                    Id = Id<OutsidePost>.New(),
                    ChannelId = channel.Id,
                    RemoteId = post.Id,
                    Address = post.Address,
                    Text = Plain(post.Text),
                    Link = post.Link,
                    Media = post.MediaKinds ?? [],
                    PostedAt = postedAt,
                    NextReadingAt = now,
                }
            );
        }
        await db.SaveChangesAsync(cancellation);
    }

    /// <summary>Without what the database can't hold, and no longer than any network's text may be.</summary>
    private static string Plain(string text)
    {
        string plain = text.Replace("\0", "", StringComparison.Ordinal);
        return plain.Length <= LongestText ? plain : plain[..LongestText];
    }

    private async Task<string?> ReadAsync(Channel channel, string token, Instant now, CancellationToken cancellation)
    {
        List<OutsidePost> due = await db
            .OutsidePosts.Where(o =>
                o.WorkspaceId == channel.WorkspaceId
                && o.ChannelId == channel.Id
                && o.DeliveryId == null
                && !o.LeftOut
                && o.NextReadingAt <= now
            )
            .OrderBy(o => o.NextReadingAt)
            .Take(INetworkProtocol.MostFigures)
            .ToListAsync(cancellation);
        if (due.Count == 0)
            return null;
        NetworkAnswer<Dictionary<string, FigureSet>> answer = await connector.FiguresAsync(
            channel.Network,
            token,
            [.. due.Select(o => o.RemoteId)],
            cancellation
        );
        if (answer.Kind is AnswerKind.Lost or AnswerKind.Busy)
            return answer.Reason;
        foreach (OutsidePost post in due)
            post.Read(answer.Value?.GetValueOrDefault(post.RemoteId), now);
        await db.SaveChangesAsync(cancellation);
        return null;
    }
}
