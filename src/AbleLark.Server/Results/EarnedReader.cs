using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Results;

/// <summary>Reads what deliveries had earned at seven days, as their networks count engagements.</summary>
public sealed class EarnedReader(LarkDb db, NetworkBook networks)
{
    private static readonly int AgeHours = FigureAges.Compared.Hours();

    /// <param name="channels">Deliveries to these are read.</param>
    public async Task<List<Earned>> ReadAsync(
        Id<Workspace> workspace,
        IReadOnlyCollection<Channel> channels,
        CancellationToken cancellation
    )
    {
        MeasureRule measure = MeasureRule.Of(Measure.Engagements);
        Dictionary<Id<Channel>, NetworkRules> rules = channels
            .Where(c => networks.Has(c.Network))
            .ToDictionary(c => c.Id, c => networks[c.Network]);
        List<Id<Channel>> ids = [.. rules.Keys];
        var figures = await db
            .AgeFigures.Where(f => f.WorkspaceId == workspace && f.AgeHours == AgeHours)
            .Join(
                db.Deliveries,
                f => new { f.WorkspaceId, Id = f.DeliveryId },
                d => new { d.WorkspaceId, d.Id },
                (f, d) =>
                    new
                    {
                        d.PostId,
                        d.ChannelId,
                        d.SentAt,
                        f.Figures,
                    }
            )
            .Where(x => ids.Contains(x.ChannelId) && x.SentAt != null)
            .ToListAsync(cancellation);
        return
        [
            .. figures.Select(f => new Earned(f.PostId, f.ChannelId, f.SentAt!.Value, measure.Take(f.Figures, rules[f.ChannelId])?.Above)),
        ];
    }
}
