using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Results;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Channels;
using AbleLark.Server.Networks;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Results;

/// <summary>Pulls figures from the networks and keeps them as readings over time.</summary>
public sealed class FigurePull(LarkDb db, NetworkConnector connector, ChannelTokens tokens)
{
    private const int AtOnce = 100;
    private static readonly Duration TryAgainAfter = Duration.FromHours(1);

    /// <summary>Reads every delivery whose time for it has come; returns how many were read.</summary>
    public async Task<int> PullDueAsync(Instant now, CancellationToken cancellation)
    {
        List<Delivery> due = await db.Deliveries.Where(d => d.NextReadingAt <= now).OrderBy(d => d.NextReadingAt).Take(AtOnce).ToListAsync(cancellation);
        foreach (IGrouping<(Guid, Guid), Delivery> group in due.GroupBy(d => (d.WorkspaceId.Value, d.ChannelId.Value)))
        {
            Delivery first = group.First();
            Channel channel = await db.Channels.SingleAsync(c => c.WorkspaceId == first.WorkspaceId && c.Id == first.ChannelId, cancellation);
            NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, cancellation);
            foreach (Delivery delivery in group) await ReadAsync(delivery, channel, token, now, cancellation);
        }
        if (due.Count > 0) await db.SaveChangesAsync(cancellation);
        db.ChangeTracker.Clear();
        return due.Count;
    }

    private async Task ReadAsync(Delivery delivery, Channel channel, NetworkAnswer<string> token, Instant now, CancellationToken cancellation)
    {
        NetworkAnswer<Figures> answer = token.IsOk
            ? await connector.FiguresAsync(channel.Network, token.Value!, delivery.RemoteId!, cancellation)
            : new(token.Kind, Reason: token.Reason);
        if (!answer.IsOk)
        {
            // A reading that can't be had is tried again while the delivery is young enough to have another.
            delivery.NextReadingAt = answer.Kind == AnswerKind.Refused ? ReadingTimes.Next(delivery.SentAt!.Value, now) : now + TryAgainAfter;
            return;
        }
        db.Readings.Add(new() { WorkspaceId = delivery.WorkspaceId, DeliveryId = delivery.Id, At = now, Figures = answer.Value! });
        delivery.NextReadingAt = ReadingTimes.Next(delivery.SentAt!.Value, now);
        await KeepAgesAsync(delivery, new(now, answer.Value!), cancellation);
    }

    /// <summary>Keeps what the delivery had earned at each age it has now passed.</summary>
    private async Task KeepAgesAsync(Delivery delivery, FigureReading latest, CancellationToken cancellation)
    {
        Duration age = latest.At - delivery.SentAt!.Value;
        if (age < FiguresAtAge.Kept[0]) return;
        List<int> kept = await db.AgeFigures.Where(a => a.WorkspaceId == delivery.WorkspaceId && a.DeliveryId == delivery.Id).Select(a => a.AgeHours).ToListAsync(cancellation);
        Duration[] wanted = [.. FiguresAtAge.Kept.Where(k => k <= age && !kept.Contains((int)k.TotalHours))];
        if (wanted.Length == 0) return;
        List<FigureReading> readings =
        [
            .. await db.Readings.Where(r => r.WorkspaceId == delivery.WorkspaceId && r.DeliveryId == delivery.Id && r.At < latest.At)
                .OrderBy(r => r.At).Select(r => new FigureReading(r.At, r.Figures)).ToListAsync(cancellation),
            latest,
        ];
        foreach (Duration k in wanted)
        {
            if (FiguresAtAge.At(delivery.SentAt.Value, readings, k) is { } figures)
                db.AgeFigures.Add(new() { WorkspaceId = delivery.WorkspaceId, DeliveryId = delivery.Id, AgeHours = (int)k.TotalHours, Figures = figures });
        }
    }
}
