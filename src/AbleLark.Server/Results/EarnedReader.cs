using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Figures;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Server.Results;

/// <summary>Reads what deliveries had earned at seven days, ever, as their networks count engagements.</summary>
public sealed class EarnedReader(MeasuredReader reader)
{
    private static readonly ResultsPeriod Ever = new(new LocalDate(1970, 1, 1), new LocalDate(2200, 1, 1));

    /// <param name="channels">Deliveries to these are read.</param>
    public async Task<List<Earned>> ReadAsync(
        Id<Workspace> workspace,
        IReadOnlyCollection<Channel> channels,
        CancellationToken cancellation
    )
    {
        ResultsQuestion question = new(
            Ever,
            FigureAges.Compared,
            MeasureRule.Of(Measure.Engagements),
            [.. channels.Select(c => c.Id)],
            null,
            null
        );
        (List<MeasuredDelivery> deliveries, _) = await reader.ReadAsync(workspace, question, cancellation);
        return [.. deliveries.Select(d => new Earned(d.PostId, d.ChannelId, d.SentAt, d.Measured?.Above))];
    }
}
