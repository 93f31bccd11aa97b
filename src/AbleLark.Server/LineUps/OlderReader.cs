using System.Collections.Concurrent;
using System.Linq.Expressions;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>What older deliveries of each workspace add up to, by quarters of a year, as it was read last: years of them take a second to
/// sum up, and few are written once they are old.</summary>
public sealed class KnownPasts
{
    private const int Most = 50;
    private readonly ConcurrentDictionary<Id<Workspace>, KnownPast> _known = [];

    internal KnownPast? Of(Id<Workspace> workspace) => _known.GetValueOrDefault(workspace);

    internal void Keep(Id<Workspace> workspace, KnownPast past)
    {
        if (_known.Count >= Most)
            _known.Clear();
        _known[workspace] = past;
    }
}

/// <param name="Quarters">By their numbers; those that a transaction which may still run has written are left out.</param>
/// <param name="Sum">All of them; null where any is left out.</param>
internal sealed record KnownPast(IReadOnlyDictionary<int, KnownQuarter> Quarters, OlderDeliveries? Sum);

/// <param name="Mark">Of its rows as they were before it was summed up.</param>
internal sealed record KnownQuarter(QuarterMark Mark, OlderDeliveries Sum);

/// <summary>Any row that comes, goes or is written makes another mark.</summary>
/// <param name="Rows">How many deliveries it has.</param>
/// <param name="Versions">The sum of their rows' versions.</param>
/// <param name="Unsettled">How many may be written again under the same version.</param>
internal readonly record struct QuarterMark(int Rows, long Versions, int Unsettled);

/// <summary>Sums up the deliveries that aren't read one by one, of those quarters of a year in which anything was written since.</summary>
public sealed class OlderReader(LarkDb db, KnownPasts pasts)
{
    /// <param name="readSingly">True for those that are read one by one.</param>
    /// <returns>As <see cref="OlderDeliveries.Of"/> gives it.</returns>
    public async Task<OlderDeliveries> ReadAsync(
        Id<Workspace> workspace,
        Expression<Func<Delivery, bool>> readSingly,
        CancellationToken cancellation
    )
    {
        IQueryable<Dated> older = db
            .Deliveries.AsNoTracking()
            .Where(d => d.WorkspaceId == workspace)
            .Where(Expression.Lambda<Func<Delivery, bool>>(Expression.Not(readSingly.Body), readSingly.Parameters))
            .Select(d => new Dated { Quarter = (d.LocalDate.Year * 4) + ((d.LocalDate.Month - 1) / 3), Delivery = d });
        // Each version of a row has the number of the transaction that wrote it (PostgreSQL's documentation, "System Columns").
        // Forty bits of a hash, so that millions can be summed.
        IQueryable<RowVersion> versions = db.Database.SqlQuery<RowVersion>(
            $"""
            select id, (uuid_hash_extended(id, xmin::text::bigint) & 1099511627775) as version,
              case when age(xmin) > age(pg_snapshot_xmin(pg_current_snapshot())::xid) then 0 else 1 end as unsettled
            from deliveries where workspace_id = {workspace.Value}
            """
        );
        // Marked before it is summed up: what is written in between makes another mark the next time.
        Dictionary<int, QuarterMark> marks = await older
            .Join(
                versions,
                r => (Guid)(object)r.Delivery.Id,
                v => v.Id,
                (r, v) =>
                    new
                    {
                        r.Quarter,
                        v.Version,
                        v.Unsettled,
                    }
            )
            .GroupBy(r => r.Quarter)
            .Select(g => new
            {
                g.Key,
                Rows = g.Count(),
                Versions = g.Sum(r => r.Version),
                Unsettled = g.Sum(r => r.Unsettled),
            })
            .ToDictionaryAsync(g => g.Key, g => new QuarterMark(g.Rows, g.Versions, g.Unsettled), cancellation);
        KnownPast? known = pasts.Of(workspace);
        int[] changed = [.. marks.Keys.Where(q => known?.Quarters.GetValueOrDefault(q)?.Mark != marks[q])];
        if (changed.Length == 0 && known?.Sum is { } sum && known.Quarters.Count == marks.Count)
            return sum;
        Dictionary<int, OlderDeliveries> read = changed.Length == 0 ? [] : await SumAsync(older, changed, marks.Count, cancellation);
        Dictionary<int, KnownQuarter> quarters = marks.ToDictionary(
            m => m.Key,
            m => read.TryGetValue(m.Key, out OlderDeliveries? fresh) ? new(m.Value, fresh) : known!.Quarters[m.Key]
        );
        sum = OlderDeliveries.Together([.. quarters.Values.Select(q => q.Sum)]);
        Dictionary<int, KnownQuarter> settled = quarters.Where(q => q.Value.Mark.Unsettled == 0).ToDictionary();
        pasts.Keep(workspace, new(settled, settled.Count == quarters.Count ? sum : null));
        return sum;
    }

    private static async Task<Dictionary<int, OlderDeliveries>> SumAsync(
        IQueryable<Dated> older,
        int[] quarters,
        int all,
        CancellationToken cancellation
    )
    {
        if (quarters.Length < all)
            older = older.Where(r => quarters.Contains(r.Quarter));
        IQueryable<Dated> turns = older.Where(r =>
            r.Delivery.State == DeliveryState.Sent
            || r.Delivery.State == DeliveryState.MayHaveGoneOut
            || r.Delivery.State == DeliveryState.PostItYourself
        );
        ILookup<int, OlderTurns> byTurns = (
            await turns
                .GroupBy(r => new
                {
                    r.Quarter,
                    r.Delivery.PostId,
                    r.Delivery.ChannelId,
                    r.Delivery.Wording,
                    r.Delivery.TextFingerprint,
                })
                .Select(g => new
                {
                    g.Key.Quarter,
                    Turns = new OlderTurns(
                        g.Key.PostId,
                        g.Key.ChannelId,
                        g.Key.Wording,
                        g.Key.TextFingerprint,
                        g.Min(r => r.Delivery.SentAt ?? r.Delivery.At),
                        g.Max(r => r.Delivery.SentAt ?? r.Delivery.At),
                        g.Max(r => r.Delivery.LocalDate)
                    ),
                })
                .ToListAsync(cancellation)
        ).ToLookup(r => r.Quarter, r => r.Turns);
        ILookup<int, OlderFailures> byFailures = (
            await older
                .Where(r =>
                    r.Delivery.State == DeliveryState.Refused
                    || r.Delivery.State == DeliveryState.MayHaveGoneOut
                    || r.Delivery.State == DeliveryState.Missed
                )
                .GroupBy(r => new
                {
                    r.Quarter,
                    r.Delivery.PostId,
                    r.Delivery.ChannelId,
                })
                .Select(g => new
                {
                    g.Key.Quarter,
                    Failures = new OlderFailures(
                        g.Key.PostId,
                        g.Key.ChannelId,
                        g.Any(r => r.Delivery.State != DeliveryState.Missed && !r.Delivery.DealtWith),
                        g.Max(r =>
                            r.Delivery.State == DeliveryState.Missed || (r.Delivery.State == DeliveryState.Refused && r.Delivery.DealtWith)
                                ? (Instant?)r.Delivery.At
                                : null
                        )
                    ),
                })
                .ToListAsync(cancellation)
        ).ToLookup(r => r.Quarter, r => r.Failures);
        ILookup<int, Draws> byDraws = (
            await turns
                .Where(r => r.Delivery.DrawnBy != null && r.Delivery.DrawnInOrder != null)
                .GroupBy(r => new
                {
                    r.Quarter,
                    r.Delivery.DrawnBy,
                    r.Delivery.DrawnInOrder,
                    r.Delivery.ChannelId,
                    r.Delivery.PostId,
                    r.Delivery.OriginKind,
                    r.Delivery.OriginId,
                })
                .Select(g => new
                {
                    g.Key.Quarter,
                    Draws = new Draws(
                        g.Key.DrawnBy!.Value,
                        g.Key.DrawnInOrder!.Value,
                        g.Key.ChannelId,
                        g.Key.PostId,
                        g.Key.OriginKind == OriginKind.Place ? new Id<Slot>(g.Key.OriginId) : null,
                        g.Max(r => r.Delivery.Round),
                        g.Max(r => r.Delivery.At)
                    ),
                })
                .ToListAsync(cancellation)
        ).ToLookup(r => r.Quarter, r => r.Draws);
        return quarters.ToDictionary(q => q, q => new OlderDeliveries([.. byTurns[q]], [.. byFailures[q]], [.. byDraws[q]]));
    }

    private sealed record RowVersion(Guid Id, long Version, int Unsettled);

    private sealed class Dated
    {
        /// <summary>Year × 4 + quarter, from 0, of its local date.</summary>
        public required int Quarter { get; init; }
        public required Delivery Delivery { get; init; }
    }
}
