using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Results;

/// <param name="Hours">After sending.</param>
/// <param name="Value">Engagements by then; null: a part of them is missing.</param>
/// <param name="Doubt">Why it doesn't count; null: it does.</param>
/// <param name="ByHand">True: a person wrote it down.</param>
public sealed record CurvePoint(double Hours, Instant At, double? Value, FigureSet Figures, FigureDoubt? Doubt, bool ByHand);

/// <param name="Hours">After sending.</param>
/// <param name="Median">Of what the channel's other deliveries had earned by then.</param>
public sealed record UsualPoint(double Hours, double Median, int Deliveries);

/// <param name="Points">Each reading, in order of time.</param>
/// <param name="Usual">What is usual on its channel, for each age that is kept.</param>
public sealed record DeliveryCurve(IReadOnlyList<CurvePoint> Points, IReadOnlyList<UsualPoint> Usual);

/// <param name="Figures">Those that are known, by kind; what isn't in it stays missing.</param>
public sealed record EnteredFigures(FigureSet Figures);

/// <summary>What one delivery earned as time went by, with what is usual on its channel behind it.</summary>
public static class CurveEndpoints
{
    /// <summary>What is usual is what the latest ones earned.</summary>
    private const int Latest = 200;
    private const double MostEntered = 1e10;

    public static void MapCurves(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/deliveries/{id}/figures", ShowAsync).Needs(Right.Results);
        workspace.MapPost("/deliveries/{id}/figures", EnterAsync).Needs(Right.Write);
    }

    /// <summary>Figures that a person read on the network and wrote down here. They count as of now.</summary>
    private static async Task<DeliveryCurve> EnterAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        EnteredFigures entered,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        FigureKeeping keeping,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await FindAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        if (delivery.SentAt is not { } sentAt)
            throw ProblemException.Conflict("It isn't sent yet, so it has earned nothing.");
        if (!entered.Figures.All.Any())
            throw ProblemException.BadInput("Write at least one figure.");
        if (entered.Figures.All.FirstOrDefault(f => !(f.Value >= 0) || f.Value > MostEntered) is { Kind: not null } wrong)
            throw ProblemException.BadInput($"Write {wrong.Kind.Words} as a number from 0 to 10,000,000,000.");
        if (now <= sentAt)
            throw ProblemException.Conflict("It has only just been sent. Write its figures down a little later.");
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        await keeping.EnterAsync([(delivery, entered.Figures, now)], http.Actor(), cancellation);
        await transaction.CommitAsync(cancellation);
        return await ShowAsync(workspaceId, id, db, networks, cancellation);
    }

    private static async Task<DeliveryCurve> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await FindAsync(workspaceId, id, db, cancellation);
        string network = await db
            .Channels.Where(c => c.WorkspaceId == workspaceId && c.Id == delivery.ChannelId)
            .Select(c => c.Network)
            .SingleAsync(cancellation);
        if (delivery.SentAt is not { } sentAt || !networks.Has(network))
            return new([], []);
        MeasureRule measure = MeasureRule.Of(Measure.Engagements);
        var readings = await db
            .Readings.Where(r => r.WorkspaceId == workspaceId && r.DeliveryId == id)
            .OrderBy(r => r.At)
            .Select(r => new
            {
                r.At,
                r.Figures,
                r.Doubt,
                r.PersonId,
            })
            .ToListAsync(cancellation);
        var others = await db
            .Deliveries.Where(d => d.WorkspaceId == workspaceId && d.ChannelId == delivery.ChannelId && d.Id != id && d.SentAt != null)
            .OrderByDescending(d => d.SentAt)
            .Take(Latest)
            .Join(
                db.AgeFigures,
                d => new { d.WorkspaceId, d.Id },
                a => new { a.WorkspaceId, Id = a.DeliveryId },
                (d, a) => new { a.AgeHours, a.Figures }
            )
            .ToListAsync(cancellation);
        return new(
            [
                .. readings.Select(r => new CurvePoint(
                    (r.At - sentAt).TotalHours,
                    r.At,
                    measure.Take(r.Figures, networks[network])?.Above,
                    r.Figures,
                    r.Doubt,
                    r.PersonId is not null
                )),
            ],
            [
                .. others
                    .Select(o => (o.AgeHours, measure.Take(o.Figures, networks[network])?.Above))
                    .Where(o => o.Above is not null)
                    .GroupBy(o => o.AgeHours)
                    .OrderBy(g => g.Key)
                    .Select(g => new UsualPoint(g.Key, Median.Of([.. g.Select(o => o.Above!.Value)]), g.Count())),
            ]
        );
    }

    private static async Task<Delivery> FindAsync(Id<Workspace> workspace, Id<Delivery> id, LarkDb db, CancellationToken cancellation) =>
        await db.Deliveries.AsNoTracking().SingleOrDefaultAsync(d => d.WorkspaceId == workspace && d.Id == id, cancellation)
        ?? throw ProblemException.NotFound("This delivery isn't there any more.");
}
