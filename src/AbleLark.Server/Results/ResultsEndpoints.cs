using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Results;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Results;

/// <summary>What an earlier period brought, to hold this one against.</summary>
/// <param name="PerDay">Total ÷ days; of a rate, the rate.</param>
/// <param name="Indices">Of each category that was sent then; null: nothing was earned.</param>
public sealed record EarlierView(
    LocalDate From,
    LocalDate To,
    int Deliveries,
    double? PerDay,
    IReadOnlyDictionary<Id<Category>, double?> Indices
);

/// <param name="Total">Of what was counted; of a rate, of what stands above the line.</param>
/// <param name="Rate">Sum over sum; null for counts and when nothing stands below the line.</param>
/// <param name="PerDay">Total ÷ days; of a rate, the rate.</param>
/// <param name="Lacks">Parts of the measure that some of the networks doesn't tell, and that are left out of its sums.</param>
/// <param name="NotTold">Networks, by key, that don't tell the measure at all.</param>
public sealed record ResultsView(
    LocalDate From,
    LocalDate To,
    FigureAge Age,
    Measure Measure,
    bool IsRate,
    int Deliveries,
    int Posts,
    int LeftOut,
    double Total,
    double? Rate,
    double? PerDay,
    IReadOnlyList<CategoryResult> Categories,
    IReadOnlyList<ReversedPair> Pairs,
    IReadOnlyList<FigureKind> Lacks,
    IReadOnlyList<string> NotTold,
    EarlierView Before,
    EarlierView YearBefore
);

/// <summary>In which order deliveries are listed.</summary>
public enum DeliverySort
{
    /// <summary>Those that did better than such posts do there at that hour.</summary>
    Best,
    Worst,
    Most,
    Latest,
}

/// <param name="Value">By the measure; null: missing, and so left out.</param>
/// <param name="Expected">What such a post earns there at such an hour; null: nothing can be said.</param>
/// <param name="TimesUsual">How many times that it earned; null: much as usual, or nothing can be said.</param>
/// <param name="File">A picture that went with it; null: none.</param>
/// <param name="MadeOutside">True: somebody posted it on the network itself.</param>
public sealed record MeasuredRow(
    Id<Delivery> Id,
    Id<Post> PostId,
    string Title,
    Id<Category> CategoryId,
    Id<Channel> ChannelId,
    LocalDate Date,
    LocalTime Time,
    double? Value,
    double? Expected,
    double? TimesUsual,
    Id<MediaFile>? File,
    string? Address,
    bool MadeOutside
);

public sealed record MeasuredRows(int Total, IReadOnlyList<MeasuredRow> Rows);

/// <param name="Deliveries">Those whose measure is known.</param>
/// <param name="LeftOut">Those whose measure isn't.</param>
/// <param name="Total">Sum; of a rate, of what stands above the line.</param>
/// <param name="Index">Share earned ÷ share taken, or rate ÷ rate of all, as it stands; null: nothing was earned at all.</param>
public sealed record CategoryTotal(Id<Category> CategoryId, int Deliveries, int LeftOut, double Total, double? Rate, double? Index);

/// <summary>What the categories earned between two dates, how surely, and by which deliveries.</summary>
public static class ResultsEndpoints
{
    private const int MostRows = 200;

    public static void MapResults(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/results", ShowAsync).Needs(Right.Results);
        workspace.MapGet("/results/deliveries", ListAsync).Needs(Right.Results);
        workspace.MapGet("/results/totals", SumAsync).Needs(Right.Results);
        workspace.MapGroups();
        workspace.MapResultTables();
    }

    private static async Task<ResultsView> ShowAsync(
        Id<Workspace> workspaceId,
        [AsParameters] ResultsQuery query,
        MeasuredReader reader,
        TotalsReader sums,
        Comparisons comparisons,
        CancellationToken cancellation
    )
    {
        ResultsQuestion question = query.Question();
        (List<MeasuredDelivery> deliveries, IReadOnlyList<NetworkRules> networks) = await reader.ReadAsync(
            workspaceId,
            question,
            cancellation
        );
        CategoryComparison comparison = comparisons.Of(deliveries);
        Totals totals = Totals.Of(Totals.SumsOf(deliveries));
        MeasureRule measure = question.Measure;
        return new(
            question.Period.From,
            question.Period.To,
            question.Age,
            measure.Measure,
            measure.IsRate,
            totals.Deliveries,
            deliveries.Where(d => d.Measured is not null).Select(d => d.PostId).Distinct().Count(),
            totals.LeftOut,
            totals.Above,
            totals.Rate,
            totals.PerDay(question.Period),
            comparison.Categories,
            comparison.Pairs,
            [.. networks.Where(measure.IsOfferedBy).SelectMany(measure.Lacks).Distinct().OrderBy(k => k.Number)],
            [.. networks.Where(n => !measure.IsOfferedBy(n)).Select(n => n.Key).Order(StringComparer.Ordinal)],
            await EarlierAsync(question.Period.Before),
            await EarlierAsync(question.Period.YearBefore)
        );

        async Task<EarlierView> EarlierAsync(ResultsPeriod period)
        {
            Totals then = Totals.Of(await sums.ReadAsync(workspaceId, question with { Period = period }, cancellation));
            return new(period.From, period.To, then.Deliveries, then.PerDay(period), then.IndexByCategory);
        }
    }

    /// <summary>Sums by category alone, quick over any number of deliveries.</summary>
    private static async Task<List<CategoryTotal>> SumAsync(
        Id<Workspace> workspaceId,
        [AsParameters] ResultsQuery query,
        TotalsReader sums,
        CancellationToken cancellation
    )
    {
        IReadOnlyList<CategorySum> all = await sums.ReadAsync(workspaceId, query.Question(), cancellation);
        Totals totals = Totals.Of(all);
        return
        [
            .. all.OrderByDescending(s => s.Above)
                .ThenBy(s => s.CategoryId)
                .Select(s => new CategoryTotal(
                    s.CategoryId,
                    s.Deliveries,
                    s.LeftOut,
                    s.Above,
                    s.Rate,
                    totals.IndexByCategory[s.CategoryId]
                )),
        ];
    }

    private static async Task<MeasuredRows> ListAsync(
        Id<Workspace> workspaceId,
        [AsParameters] ResultsQuery query,
        Id<Category>? category,
        QueryWord<ResultsBy>? by,
        string? key,
        QueryWord<DeliverySort>? sort,
        int? skip,
        int? take,
        MeasuredReader reader,
        Comparisons comparisons,
        ResultsGroups groups,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        if (by is null != key is null)
            throw ProblemException.BadInput("Say both by what and which: `by` and `key`, as a group's row gives it.");
        (List<MeasuredDelivery> deliveries, _) = await reader.ReadAsync(workspaceId, query.Question(), cancellation);
        IReadOnlyDictionary<Id<Delivery>, double> expected = comparisons.Of(deliveries).Expected;
        List<MeasuredDelivery> behind = by is null
            ? deliveries
            : await groups.BehindAsync(workspaceId, deliveries, by.Value.Value, key!, cancellation);
        MeasuredDelivery[] own = [.. behind.Where(d => category is null || d.CategoryId == category)];
        DeliverySort order = sort?.Value ?? DeliverySort.Latest;
        MeasuredDelivery[] page =
        [
            .. own.OrderByDescending(Weight)
                .ThenByDescending(d => d.Date)
                .ThenByDescending(d => d.Hour)
                .ThenBy(d => d.Id)
                .Skip(Math.Max(0, skip ?? 0))
                .Take(Math.Clamp(take ?? 50, 1, MostRows)),
        ];
        List<Id<Delivery>> ids = [.. page.Select(d => d.Id)];
        var shown = await db
            .Deliveries.Where(d => d.WorkspaceId == workspaceId && ids.Contains(d.Id))
            .Select(d => new
            {
                d.Id,
                Title = db.Posts.Where(p => p.WorkspaceId == workspaceId && p.Id == d.PostId).Select(p => p.Title).First(),
                d.LocalDate,
                d.LocalTime,
                d.FileIds,
                d.Address,
                d.OriginKind,
            })
            .ToDictionaryAsync(d => d.Id, cancellation);
        return new(
            own.Length,
            [
                .. page.Select(d => new MeasuredRow(
                    d.Id,
                    d.PostId,
                    shown[d.Id].Title,
                    d.CategoryId,
                    d.ChannelId,
                    d.Date,
                    shown[d.Id].LocalTime,
                    d.Measured is { } m ? m.Above / (m.Below ?? 1) : null,
                    Expected(d),
                    d.Measured is { } known ? Usual.TimesOf(known.Above / (known.Below ?? 1), Expected(d)) : null,
                    shown[d.Id].FileIds is [var file, ..] ? file : null,
                    Delivery.Shown(shown[d.Id].Address),
                    shown[d.Id].OriginKind == OriginKind.Outside
                )),
            ]
        );

        double? Expected(MeasuredDelivery d) => expected.TryGetValue(d.Id, out double mean) ? mean / (d.Measured!.Below ?? 1) : null;

        double Weight(MeasuredDelivery d) =>
            d.Measured is not { } m
                ? double.NegativeInfinity
                : order switch
                {
                    DeliverySort.Most => m.Above / (m.Below ?? 1),
                    DeliverySort.Best => expected.TryGetValue(d.Id, out double mean) ? m.Above / mean : -1,
                    DeliverySort.Worst => expected.TryGetValue(d.Id, out double mean) ? -m.Above / mean : double.MinValue,
                    _ => 0,
                };
    }
}
