using AbleLark.Core;
using AbleLark.Core.Figures;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Results;
using AbleLark.Server.Time;
using NodaTime;

namespace AbleLark.Server.Hours;

/// <summary>Finds what the hours of the week made of what a workspace sent within a year.</summary>
public sealed class GoodHours(MeasuredReader reader, Comparisons comparisons, BusinessClock clock)
{
    private const int Days = 364;

    public async Task<(HourBasis Basis, IReadOnlyList<HourResult> Results)> OfAsync(Workspace workspace, CancellationToken cancellation)
    {
        LocalDate today = workspace.DateOf(await clock.NowAsync(cancellation));
        ResultsQuestion question = new(
            new(today.PlusDays(-Days), today),
            FigureAges.Compared,
            MeasureRule.Of(Measure.Engagements),
            null,
            null,
            null
        );
        (List<MeasuredDelivery> deliveries, _) = await reader.ReadAsync(workspace.Id, question, cancellation);
        return WeekHours.ResultsOf(deliveries, comparisons.Of(deliveries));
    }
}
