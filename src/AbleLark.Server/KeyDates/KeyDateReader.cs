using AbleLark.Core;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Access;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.KeyDates;

/// <summary>A key date, one time that it comes, in the workspace's zone.</summary>
/// <param name="Occurrence">The date by which this coming is named.</param>
/// <param name="Time">Null: all day.</param>
/// <param name="IsLive">Somebody has to do something then.</param>
/// <param name="IsRead">True: it is read from a calendar, and changed there.</param>
/// <param name="Tied">How many deliveries to come stand relative to it.</param>
/// <param name="OutOfStep">How many of those it has moved away from.</param>
public sealed record KeyDateView(
    Id<KeyDate> Id,
    Id<KeyDateKind> KindId,
    LocalDate Occurrence,
    string Title,
    string Notes,
    LocalDate Date,
    LocalDate Last,
    LocalTime? Time,
    bool Recurs,
    bool IsLive,
    bool IsDone,
    bool IsRead,
    int Tied,
    int OutOfStep
);

/// <summary>The key dates of one workspace as they are shown.</summary>
public sealed class KeyDateReader(LarkDb db)
{
    /// <param name="caller">Whoever looks: clients see the kinds that are shown to them.</param>
    public async Task<List<KeyDateView>> ReadAsync(
        Workspace workspace,
        LocalDate first,
        LocalDate last,
        Caller caller,
        CancellationToken cancellation
    )
    {
        bool seesAll = caller.SeesAll;
        List<KeyDate> all = await db
            .KeyDates.AsNoTracking()
            .Where(d =>
                d.WorkspaceId == workspace.Id
                // What comes once, and is read by its date alone, needn't be looked through.
                && (d.Rule != null || (d.Date >= first.PlusDays(-KeyDate.MostDays) && d.Date <= last.PlusDays(1)))
                && (seesAll || db.KeyDateKinds.Any(k => k.WorkspaceId == d.WorkspaceId && k.Id == d.KindId && k.IsShownToClients))
            )
            .ToListAsync(cancellation);
        ILookup<Id<KeyDate>, KeyDateTie> ties = (await db.TiesToCome(workspace.Id).AsNoTracking().ToListAsync(cancellation)).ToLookup(t =>
            t.KeyDateId
        );
        return
        [
            .. all.SelectMany(d => d.Between(first, last, workspace.Zone))
                .OrderBy(c => c.Date)
                .ThenBy(c => c.Time)
                .ThenBy(c => c.KeyDate.Title, StringComparer.Ordinal)
                .Select(View),
        ];

        KeyDateView View(KeyDateComing c)
        {
            KeyDateTie[] tied = [.. ties[c.KeyDate.Id].Where(t => c.KeyDate.Rule is null || t.Occurrence == c.Occurrence)];
            return new(
                c.KeyDate.Id,
                c.KeyDate.KindId,
                c.Occurrence,
                c.KeyDate.Title,
                c.KeyDate.Notes,
                c.Date,
                c.Last,
                c.Time,
                c.KeyDate.Rule is not null,
                c.KeyDate.IsLive,
                c.IsDone,
                c.KeyDate.SourceId is not null,
                tied.Length,
                tied.Count(t => t.Stood != c.Date)
            );
        }
    }
}
