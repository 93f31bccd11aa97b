using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Results;

/// <summary>Keeps readings as they come in, and what deliveries had earned at each age that they have passed.</summary>
public sealed class FigureKeeping(LarkDb db)
{
    /// <summary>Of deliveries of one workspace; what is doubtful is kept and counts for nothing. Saves nothing yet.</summary>
    /// <param name="by">Who wrote the figures down, in place of what was known by then; null: the network told them.</param>
    public async Task KeepAsync(
        IReadOnlyCollection<(Delivery Delivery, FigureSet Figures)> read,
        Instant at,
        Guid? by,
        CancellationToken cancellation
    )
    {
        if (read.Count == 0)
            return;
        var workspace = read.First().Delivery.WorkspaceId;
        List<Id<Delivery>> ids = [.. read.Select(r => r.Delivery.Id)];
        ILookup<Id<Delivery>, FigureReading> earlier = (
            await db
                .Readings.AsNoTracking()
                .Where(r => r.WorkspaceId == workspace && ids.Contains(r.DeliveryId) && r.Doubt == null && r.At < at)
                .OrderBy(r => r.At)
                .Select(r => new
                {
                    r.DeliveryId,
                    r.At,
                    r.Figures,
                })
                .ToListAsync(cancellation)
        ).ToLookup(r => r.DeliveryId, r => new FigureReading(r.At, r.Figures));
        List<AgeFigures> ages = await db
            .AgeFigures.Where(a => a.WorkspaceId == workspace && ids.Contains(a.DeliveryId))
            .ToListAsync(cancellation);
        foreach ((Delivery delivery, FigureSet figures) in read)
        {
            Instant sentAt = delivery.SentAt!.Value;
            FigureReading reading = new(at, figures);
            FigureReading[] before = [.. earlier[delivery.Id]];
            FigureDoubt? doubt = by is null ? FigureDoubts.Of(sentAt, before.LastOrDefault(), reading) : null;
            db.Readings.Add(
                new()
                {
                    WorkspaceId = workspace,
                    DeliveryId = delivery.Id,
                    At = at,
                    Figures = figures,
                    Doubt = doubt,
                    EnteredBy = by,
                }
            );
            if (doubt is not null)
                continue;
            AgeFigures[] kept = [.. ages.Where(a => a.DeliveryId == delivery.Id)];
            // A person's figures are a better witness of every age than what stood there.
            if (by is not null)
            {
                db.AgeFigures.RemoveRange(kept);
                await db.SaveChangesAsync(cancellation);
                kept = [];
            }
            foreach (int hours in FigureAges.Due(at - sentAt, [.. kept.Select(a => a.AgeHours)]))
            {
                if (FigureAges.At(sentAt, [.. before, reading], Duration.FromHours(hours)) is { } earned)
                    db.AgeFigures.Add(
                        new()
                        {
                            WorkspaceId = workspace,
                            DeliveryId = delivery.Id,
                            AgeHours = hours,
                            Figures = earned,
                        }
                    );
            }
        }
    }
}
