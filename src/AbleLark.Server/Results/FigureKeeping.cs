using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Results;

/// <summary>Keeps readings as they come in, and what deliveries had earned at each age that they have passed.</summary>
public sealed class FigureKeeping(LarkDb db)
{
    /// <summary>What the network told of deliveries of one workspace; what is doubtful is kept and counts for nothing. Saves nothing
    /// yet.</summary>
    public async Task KeepAsync(
        IReadOnlyCollection<(Delivery Delivery, FigureSet Figures)> read,
        Instant at,
        CancellationToken cancellation
    )
    {
        if (read.Count == 0)
            return;
        var workspace = read.First().Delivery.WorkspaceId;
        List<Id<Delivery>> ids = [.. read.Select(r => r.Delivery.Id)];
        ILookup<Id<Delivery>, FigureReading> earlier = await CountingAsync(workspace, ids, at, cancellation);
        List<AgeFigures> ages = await db
            .AgeFigures.Where(a => a.WorkspaceId == workspace && ids.Contains(a.DeliveryId))
            .ToListAsync(cancellation);
        foreach ((Delivery delivery, FigureSet figures) in read)
        {
            FigureReading reading = new(at, figures);
            FigureReading[] before = [.. earlier[delivery.Id]];
            FigureDoubt? doubt = FigureDoubts.Of(delivery.SentAt!.Value, before.LastOrDefault(), reading);
            db.Readings.Add(
                new()
                {
                    WorkspaceId = workspace,
                    DeliveryId = delivery.Id,
                    At = at,
                    Figures = figures,
                    Doubt = doubt,
                }
            );
            if (doubt is null)
                AddAges(delivery, [.. before, reading], [.. ages.Where(a => a.DeliveryId == delivery.Id).Select(a => a.AgeHours)]);
        }
    }

    /// <summary>What was read of a delivery before it was one. Saves nothing yet.</summary>
    /// <param name="readings">In order of time; there are no others.</param>
    public void TakeOver(Delivery delivery, IReadOnlyList<FigureReading> readings)
    {
        List<FigureReading> counting = [];
        foreach (FigureReading reading in readings)
        {
            FigureDoubt? doubt = FigureDoubts.Of(delivery.SentAt!.Value, counting.LastOrDefault(), reading);
            db.Readings.Add(
                new()
                {
                    WorkspaceId = delivery.WorkspaceId,
                    DeliveryId = delivery.Id,
                    At = reading.At,
                    Figures = reading.Figures,
                    Doubt = doubt,
                }
            );
            if (doubt is null)
                counting.Add(reading);
        }
        AddAges(delivery, counting, []);
    }

    /// <summary>What a person read and wrote down of deliveries of one workspace; a better witness than what stood there. Saves.</summary>
    /// <returns>When each counts as read: no two readings of a delivery at one instant.</returns>
    public async Task<IReadOnlyList<Instant>> EnterAsync(
        IReadOnlyList<(Delivery Delivery, FigureSet Figures, Instant At)> entered,
        Actor? by,
        CancellationToken cancellation
    )
    {
        if (entered.Count == 0)
            return [];
        var workspace = entered[0].Delivery.WorkspaceId;
        List<Id<Delivery>> ids = [.. entered.Select(e => e.Delivery.Id).Distinct()];
        HashSet<(Id<Delivery>, Instant)> taken =
        [
            .. (
                await db
                    .Readings.Where(r => r.WorkspaceId == workspace && ids.Contains(r.DeliveryId))
                    .Select(r => new { r.DeliveryId, r.At })
                    .ToListAsync(cancellation)
            ).Select(r => (r.DeliveryId, r.At)),
        ];
        List<Instant> times = [];
        foreach ((Delivery delivery, FigureSet figures, Instant at) in entered)
        {
            Instant free = at;
            while (!taken.Add((delivery.Id, free)))
                free += Duration.FromMilliseconds(1);
            times.Add(free);
            db.Readings.Add(
                new()
                {
                    WorkspaceId = workspace,
                    DeliveryId = delivery.Id,
                    At = free,
                    Figures = figures,
                    By = by ?? new(Guid.Empty),
                }
            );
        }
        await db.SaveChangesAsync(cancellation);
        await WorkOutAgainAsync([.. entered.Select(e => e.Delivery).DistinctBy(d => d.Id)], cancellation);
        return times;
    }

    /// <summary>Takes back what people wrote down; what the network told stays. Saves.</summary>
    /// <returns>How many were there.</returns>
    public async Task<int> ForgetAsync(IReadOnlyCollection<(Delivery Delivery, Instant At)> entered, CancellationToken cancellation)
    {
        int gone = 0;
        foreach ((Delivery delivery, Instant at) in entered)
            gone += await db
                .Readings.Where(r =>
                    r.WorkspaceId == delivery.WorkspaceId && r.DeliveryId == delivery.Id && r.At == at && r.PersonId != null
                )
                .ExecuteDeleteAsync(cancellation);
        await WorkOutAgainAsync([.. entered.Select(e => e.Delivery).DistinctBy(d => d.Id)], cancellation);
        return gone;
    }

    /// <summary>Works out anew, from all readings that count, what deliveries had earned at each age. Saves.</summary>
    private async Task WorkOutAgainAsync(IReadOnlyCollection<Delivery> deliveries, CancellationToken cancellation)
    {
        if (deliveries.Count == 0)
            return;
        var workspace = deliveries.First().WorkspaceId;
        List<Id<Delivery>> ids = [.. deliveries.Select(d => d.Id)];
        await db.AgeFigures.Where(a => a.WorkspaceId == workspace && ids.Contains(a.DeliveryId)).ExecuteDeleteAsync(cancellation);
        ILookup<Id<Delivery>, FigureReading> readings = await CountingAsync(workspace, ids, null, cancellation);
        foreach (Delivery delivery in deliveries)
            AddAges(delivery, [.. readings[delivery.Id]], []);
        await db.SaveChangesAsync(cancellation);
    }

    /// <summary>Readings that count, in order of time.</summary>
    private async Task<ILookup<Id<Delivery>, FigureReading>> CountingAsync(
        Id<Workspace> workspace,
        List<Id<Delivery>> ids,
        Instant? before,
        CancellationToken cancellation
    ) =>
        (
            await db
                .Readings.AsNoTracking()
                .Where(r => r.WorkspaceId == workspace && ids.Contains(r.DeliveryId) && r.Doubt == null)
                .Where(r => before == null || r.At < before)
                .OrderBy(r => r.At)
                .Select(r => new
                {
                    r.DeliveryId,
                    r.At,
                    r.Figures,
                })
                .ToListAsync(cancellation)
        ).ToLookup(r => r.DeliveryId, r => new FigureReading(r.At, r.Figures));

    /// <param name="readings">In order of time.</param>
    /// <param name="kept">Ages that are there already.</param>
    private void AddAges(Delivery delivery, List<FigureReading> readings, IReadOnlyCollection<int> kept)
    {
        if (readings.Count == 0)
            return;
        Instant sentAt = delivery.SentAt!.Value;
        foreach (int hours in FigureAges.Due(readings[^1].At - sentAt, kept))
        {
            if (FigureAges.At(sentAt, readings, Duration.FromHours(hours)) is { } earned)
                db.AgeFigures.Add(
                    new()
                    {
                        WorkspaceId = delivery.WorkspaceId,
                        DeliveryId = delivery.Id,
                        AgeHours = hours,
                        Figures = earned,
                    }
                );
        }
    }
}
