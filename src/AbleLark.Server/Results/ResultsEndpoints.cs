using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Results;

/// <param name="NotOffered">Parts of engagements that none of the networks offers, by name.</param>
public sealed record ResultsView(
    LocalDate From,
    LocalDate To,
    FigureAge Age,
    int Deliveries,
    int LeftOut,
    double Engagements,
    double? Reach,
    IReadOnlyList<CategoryResult> Categories,
    IReadOnlyList<FigureKind> NotOffered
);

/// <summary>What the categories earned between two dates.</summary>
public static class ResultsEndpoints
{
    public static void MapResults(this RouteGroupBuilder workspace) => workspace.MapGet("/results", ShowAsync).Needs(Right.Results);

    private static async Task<ResultsView> ShowAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        QueryWord<FigureAge>? age,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        (LocalDate first, LocalDate last) = (from.Value, to.Value);
        if (last < first)
            throw ProblemException.BadInput("The last date lies before the first. Swap them.");
        var sent = await db
            .Deliveries.Where(d =>
                d.WorkspaceId == workspaceId && d.State == DeliveryState.Sent && d.LocalDate >= first && d.LocalDate <= last
            )
            .Select(d => new
            {
                d.Id,
                d.Facts,
                PostCategory = db.Posts.Where(p => p.WorkspaceId == workspaceId && p.Id == d.PostId).Select(p => p.CategoryId).First(),
                Network = db.Channels.Where(c => c.WorkspaceId == workspaceId && c.Id == d.ChannelId).Select(c => c.Network).First(),
            })
            .ToListAsync(cancellation);
        FigureAge wanted = age?.Value ?? FigureAge.Latest;
        Dictionary<Id<Delivery>, FigureSet> figures = await FiguresAsync(workspaceId, first, last, wanted, db, cancellation);
        List<MeasuredDelivery> measured =
        [
            .. sent.Select(d => new MeasuredDelivery(
                d.Id,
                d.Facts?.CategoryId ?? d.PostCategory,
                figures.GetValueOrDefault(d.Id),
                Offered(d.Network)
            )),
        ];
        IReadOnlyList<CategoryResult> rows = ResultsByCategory.Of(measured);
        HashSet<FigureKind> offered = [.. sent.SelectMany(d => Offered(d.Network))];
        return new(
            first,
            last,
            wanted,
            rows.Sum(r => r.Deliveries),
            rows.Sum(r => r.LeftOut),
            rows.Sum(r => r.Engagements),
            rows.Any(r => r.Reach is not null) ? rows.Sum(r => r.Reach ?? 0) : null,
            rows,
            sent.Count == 0 ? [] : [.. FigureKind.Engagements.Where(p => !offered.Contains(p))]
        );

        IReadOnlyCollection<FigureKind> Offered(string network) => networks.Has(network) ? networks[network].Figures : [];
    }

    private static async Task<Dictionary<Id<Delivery>, FigureSet>> FiguresAsync(
        Id<Workspace> workspace,
        LocalDate from,
        LocalDate to,
        FigureAge age,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        IQueryable<Delivery> sent = db.Deliveries.Where(d =>
            d.WorkspaceId == workspace && d.State == DeliveryState.Sent && d.LocalDate >= from && d.LocalDate <= to
        );
        if (age == FigureAge.Latest)
        {
            return await sent.Join(
                    db.Readings,
                    d => new { d.WorkspaceId, d.Id },
                    r => new { r.WorkspaceId, Id = r.DeliveryId },
                    (d, r) => r
                )
                .Where(r => r.At == db.Readings.Where(o => o.WorkspaceId == r.WorkspaceId && o.DeliveryId == r.DeliveryId).Max(o => o.At))
                .ToDictionaryAsync(r => r.DeliveryId, r => r.Figures, cancellation);
        }
        int hours = age.Hours();
        return await sent.Join(db.AgeFigures, d => new { d.WorkspaceId, d.Id }, a => new { a.WorkspaceId, Id = a.DeliveryId }, (d, a) => a)
            .Where(a => a.AgeHours == hours)
            .ToDictionaryAsync(a => a.DeliveryId, a => a.Figures, cancellation);
    }
}
