using System.Linq.Expressions;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Planning;
using AbleLark.Server.Results;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>Reads from the database what the line-up is worked out from.</summary>
public sealed class LineUpReader(
    LarkDb db,
    BankReader bank,
    OlderReader older,
    NetworkBook networks,
    EarnedReader earned,
    KnownScores scores,
    BusinessClock clock
) : ILineUpSource
{
    public async Task<LineUpInput> ReadAsync(Workspace workspace, CancellationToken cancellation)
    {
        var id = workspace.Id;
        List<Rota> rotas = await db
            .Rotas.AsNoTracking()
            .Include(r => r.Slots.Where(s => s.RemovedAt == null))
            .Where(r => r.WorkspaceId == id && r.RemovedAt == null)
            .OrderBy(r => r.Rank)
            .ToListAsync(cancellation);
        List<Channel> channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == id)
            .OrderBy(c => c.Position)
            .ToListAsync(cancellation);
        var categories = await db
            .Categories.AsNoTracking()
            .Where(c => c.WorkspaceId == id)
            .OrderBy(c => c.Position)
            .ThenBy(c => c.Name)
            .ToListAsync(cancellation);
        // Places that passed since the last look are worked out once more.
        Instant now = await clock.NowAsync(cancellation);
        Instant before = OlderDeliveries.Before(workspace.NextToPass < now ? workspace.NextToPass.Value : now, channels);
        List<Decision> decisions = await db.Decisions.AsNoTracking().Where(d => d.WorkspaceId == id).ToListAsync(cancellation);
        Expression<Func<Delivery, bool>> single = ReadSingly(before, decisions);
        bool needsScores =
            categories.Any(c => c.Order.Order == Order.BetterOnesMoreOften)
            || rotas.Any(r => r.Slots.Any(s => s.Order?.Order == Order.BetterOnesMoreOften));
        return new(
            workspace.Zone,
            rotas,
            categories,
            [.. channels.Where(c => networks.Has(c.Network))],
            await bank.ReadAsync(id, cancellation),
            await DeliveriesAsync(id, single, cancellation),
            networks
        )
        {
            Older = await older.ReadAsync(id, single, cancellation),
            Outside =
            [
                .. (
                    await db
                        .OutsidePosts.AsNoTracking()
                        .Where(o => o.WorkspaceId == id && o.DeliveryId == null && o.PostedAt >= before)
                        .Select(o => new { o.ChannelId, o.PostedAt })
                        .ToListAsync(cancellation)
                ).Select(o => (o.ChannelId, o.PostedAt)),
            ],
            Decisions = decisions,
            Pauses = await db.Pauses.AsNoTracking().Where(p => p.WorkspaceId == id).ToListAsync(cancellation),
            Moves = await db.LineMoves.AsNoTracking().Where(m => m.WorkspaceId == id).ToListAsync(cancellation),
            Scores = needsScores
                ? await scores.OfAsync(id, now, async () => Scores.Of(await earned.ReadAsync(id, channels, cancellation)))
                : new Dictionary<(Id<Post>, Id<Channel>), double>(),
        };
    }

    /// <summary>Those that are read one by one: recent, to come, late, or of a place that is still to come; as
    /// <see cref="OlderDeliveries.Of"/> parts them.</summary>
    private static Expression<Func<Delivery, bool>> ReadSingly(Instant before, IEnumerable<Decision> decisions)
    {
        LocalDate from = OlderDeliveries.PlacesFrom(before);
        // A place that was moved on by one slot and date; who shares only one of both with it is read singly as well.
        IReadOnlyList<Origin> moved = OlderDeliveries.MovedOn(decisions, before);
        Guid[] slots = [.. moved.Select(o => o.Id)];
        LocalDate[] dates = [.. moved.Select(o => o.Date)];
        return d =>
            d.At >= before
            || (d.SentAt != null && d.SentAt >= before)
            || d.State == DeliveryState.Planned
            || d.State == DeliveryState.WaitingForApproval
            || d.State == DeliveryState.Substitute
            || d.State == DeliveryState.Sending
            || (d.OriginKind == OriginKind.Place && (d.OriginDate >= from || (slots.Contains(d.OriginId) && dates.Contains(d.OriginDate))));
    }

    private Task<List<LineUpDelivery>> DeliveriesAsync(
        Id<Workspace> id,
        Expression<Func<Delivery, bool>> single,
        CancellationToken cancellation
    ) =>
        db
            .Deliveries.AsNoTracking()
            .Where(d => d.WorkspaceId == id)
            .Where(single)
            .Select(d => new LineUpDelivery
            {
                Id = d.Id,
                PostId = d.PostId,
                ChannelId = d.ChannelId,
                Origin = new(d.OriginKind, d.OriginId, d.OriginDate, d.OriginTime),
                State = d.State,
                DealtWith = d.DealtWith,
                At = d.At,
                LocalDate = d.LocalDate,
                SentAt = d.SentAt,
                DrawnBy = d.DrawnBy,
                DrawnInOrder = d.DrawnInOrder,
                Round = d.Round,
                Wording = d.Wording,
                TextFingerprint = d.TextFingerprint,
                Revision = d.Revision,
            })
            .ToListAsync(cancellation);
}
