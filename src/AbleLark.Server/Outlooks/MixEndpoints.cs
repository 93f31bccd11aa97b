using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Comparison;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Results;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Access;
using AbleLark.Server.LineUps;
using AbleLark.Server.Results;
using AbleLark.Server.Time;
using NodaTime;

namespace AbleLark.Server.Outlooks;

/// <param name="Days">Weekdays, Monday 1; empty for a slot that comes round by days.</param>
public sealed record MixView(MixMove Move, IReadOnlyList<int> Days, LocalTime Time, IReadOnlyList<Id<Channel>> Channels);

/// <summary>What results say of the rota's mix: to be tried there, never done by itself.</summary>
public static class MixEndpoints
{
    public static void MapMix(this RouteGroupBuilder workspace) => workspace.MapGet("/results/mix", ShowAsync).Needs(Right.Results);

    private static async Task<List<MixView>> ShowAsync(
        Id<Workspace> workspaceId,
        [AsParameters] ResultsQuery query,
        MeasuredReader reader,
        Comparisons comparisons,
        LineUpCache lineUps,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        (List<MeasuredDelivery> deliveries, _) = await reader.ReadAsync(workspaceId, query.Question(), cancellation);
        (_, SharedLineUp lineUp) = await lineUps.GetAsync(workspaceId, cancellation);
        HashSet<Id<Category>> there = [.. lineUp.Input.Categories.Select(c => c.Id)];
        CategoryResult[] told = [.. comparisons.Of(deliveries).Categories.Where(c => there.Contains(c.CategoryId))];
        IReadOnlyList<MixMove> moves = MixAdvice.Of(
            lineUp,
            [.. Surely(Verdict.More).OrderByDescending(c => c.Adjusted!.Value).Select(c => c.CategoryId)],
            [.. Surely(Verdict.Less).OrderBy(c => c.Adjusted!.Value).Select(c => c.CategoryId)],
            await clock.NowAsync(cancellation)
        );
        Dictionary<Id<Slot>, Slot> slots = lineUp.Input.Rotas.SelectMany(r => r.Slots).ToDictionary(s => s.Id);
        return
        [
            .. moves.Select(m => new MixView(
                m,
                [.. slots[m.SlotId].Days.Select(d => (int)d)],
                slots[m.SlotId].Time,
                slots[m.SlotId].Channels
            )),
        ];

        IEnumerable<CategoryResult> Surely(Verdict verdict) => told.Where(c => c.Verdict == verdict);
    }
}
