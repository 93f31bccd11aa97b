using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Figures;
using AbleLark.Core.Results;
using AbleLark.Server.Problems;
using Microsoft.AspNetCore.Mvc;

namespace AbleLark.Server.Results;

/// <summary>What is asked, in the address.</summary>
public sealed record ResultsQuery
{
    [FromQuery(Name = "from")]
    public QueryDate From { get; init; }

    [FromQuery(Name = "to")]
    public QueryDate To { get; init; }

    [FromQuery(Name = "age")]
    public QueryWord<FigureAge>? Age { get; init; }

    [FromQuery(Name = "measure")]
    public QueryWord<Measure>? Measure { get; init; }

    /// <summary>May stand there several times; none: all channels.</summary>
    [FromQuery(Name = "channel")]
    public Guid[]? Channel { get; init; }

    [FromQuery(Name = "network")]
    public string? Network { get; init; }

    [FromQuery(Name = "lifespan")]
    public QueryWord<Lifespan>? Lifespan { get; init; }

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
