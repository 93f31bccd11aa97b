using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Figures;
using AbleLark.Core.Results;
using AbleLark.Server.Problems;
using Microsoft.AspNetCore.Mvc;

namespace AbleLark.Server.Results;

/// <summary>What is asked, in the address.</summary>
/// <param name="Channel">May stand there several times; none: all channels.</param>
public sealed record ResultsQuery(
    [FromQuery(Name = "from")] QueryDate From,
    [FromQuery(Name = "to")] QueryDate To,
    [FromQuery(Name = "age")] QueryWord<FigureAge>? Age,
    [FromQuery(Name = "measure")] QueryWord<Measure>? Measure,
    [FromQuery(Name = "channel")] Guid[]? Channel,
    [FromQuery(Name = "network")] string? Network,
    [FromQuery(Name = "lifespan")] QueryWord<Lifespan>? Lifespan
)
{
    private const int LongestDays = 3_700;

    internal ResultsQuestion Question()
    {
        ResultsPeriod period = new(From.Value, To.Value);
        if (period.To < period.From)
            throw ProblemException.BadInput("The last date lies before the first. Swap them.");
        if (period.Days > LongestDays)
            throw ProblemException.BadInput("Ten years are the most that is compared at once. Choose a shorter time.");
        return new(
            period,
            Age?.Value ?? FigureAges.Compared,
            MeasureRule.Of(Measure?.Value ?? Core.Results.Measure.Engagements),
            Channel is { Length: > 0 } channels ? [.. channels.Select(c => new Id<Channel>(c))] : null,
            string.IsNullOrEmpty(Network) ? null : Network,
            Lifespan?.Value
        );
    }
}
