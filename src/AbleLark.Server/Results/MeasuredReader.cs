using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Results;

/// <summary>What results are asked of.</summary>
/// <param name="Channels">Null: all.</param>
public sealed record ResultsQuestion(
    ResultsPeriod Period,
    FigureAge Age,
    MeasureRule Measure,
    IReadOnlyCollection<Id<Channel>>? Channels,
    string? Network,
    Lifespan? Lifespan
);

/// <summary>Reads sent deliveries with what they count by a measure.</summary>
public sealed class MeasuredReader(LarkDb db, NetworkBook networks)
{
    /// <summary>A row as the database gives it; figures by number.</summary>
    private sealed record Row(Guid Id, Guid PostId, Guid CategoryId, Guid ChannelId, LocalDate Date, int Hour, double?[]? Figures);

    /// <summary>Deliveries sent in the period that the question is about, and the networks that they went to.</summary>
    public async Task<(List<MeasuredDelivery> Deliveries, IReadOnlyList<NetworkRules> Networks)> ReadAsync(
        Id<Workspace> workspace,
        ResultsQuestion question,
        CancellationToken cancellation
    )
    {
        Dictionary<Guid, NetworkRules> rules = (
            await db.Channels.Where(c => c.WorkspaceId == workspace).Select(c => new { c.Id, c.Network }).ToListAsync(cancellation)
        )
            .Where(c => networks.Has(c.Network))
            .Where(c => question.Channels?.Contains(c.Id) != false && (question.Network is null || c.Network == question.Network))
            .ToDictionary(c => c.Id.Value, c => networks[c.Network]);
        Guid[] channels = [.. rules.Keys];
        string? lifespan = question.Lifespan?.ToString();
        DateTimeZone zone = await db.Workspaces.Where(w => w.Id == workspace).Select(w => w.Zone).SingleAsync(cancellation);
        Instant from = zone.AtStartOfDay(question.Period.From).ToInstant(),
            to = zone.AtStartOfDay(question.Period.To.PlusDays(1)).ToInstant();
        List<Row> rows =
            question.Age == FigureAge.Latest
                ? await LatestAsync(workspace, channels, from, to, lifespan, cancellation)
                : await db
                    .Database.SqlQuery<Row>(
                        $"""
                        select d.id, d.post_id, coalesce((d.facts ->> 'categoryId')::uuid, p.category_id) as category_id, d.channel_id,
                            coalesce((d.facts ->> 'date')::date, d.local_date) as date,
                            coalesce((d.facts ->> 'hour')::int, extract(hour from d.local_time)::int) as hour, a.figures
                        from deliveries d
                        join posts p on p.workspace_id = d.workspace_id and p.id = d.post_id
                        left join age_figures a
                            on a.workspace_id = d.workspace_id and a.delivery_id = d.id and a.age_hours = {question.Age.Hours()}
                        where d.workspace_id = {workspace.Value} and d.state = 'Sent' and d.sent_at >= {from} and d.sent_at < {to}
                            and d.channel_id = any ({channels}) and ({lifespan}::text is null or p.lifespan = {lifespan})
                        """
                    )
                    .ToListAsync(cancellation);
        List<MeasuredDelivery> measured =
        [
            .. rows.Select(r => new MeasuredDelivery(
                new(r.Id),
                new(r.PostId),
                new(r.CategoryId),
                new(r.ChannelId),
                r.Date,
                r.Hour,
                r.Figures is null ? null : question.Measure.Take(FigureSet.FromNumbers(r.Figures), rules[r.ChannelId])
            )),
        ];
        return (measured, [.. rows.Select(r => r.ChannelId).Distinct().Select(c => rules[c]).Distinct()]);
    }

    /// <summary>With the latest reading of each, however old it was then.</summary>
    private async Task<List<Row>> LatestAsync(
        Id<Workspace> workspace,
        Guid[] channels,
        Instant from,
        Instant to,
        string? lifespan,
        CancellationToken cancellation
    )
    {
        var rows = await db
            .Database.SqlQuery<LatestRow>(
                $"""
                select d.id, d.post_id, coalesce((d.facts ->> 'categoryId')::uuid, p.category_id) as category_id, d.channel_id,
                    coalesce((d.facts ->> 'date')::date, d.local_date) as date,
                            coalesce((d.facts ->> 'hour')::int, extract(hour from d.local_time)::int) as hour, r.figures::text as figures
                from deliveries d
                join posts p on p.workspace_id = d.workspace_id and p.id = d.post_id
                left join lateral (
                    select figures from readings r
                    where r.workspace_id = d.workspace_id and r.delivery_id = d.id and r.doubt is null
                    order by r.at desc limit 1) r on true
                where d.workspace_id = {workspace.Value} and d.state = 'Sent' and d.sent_at >= {from} and d.sent_at < {to}
                    and d.channel_id = any ({channels}) and ({lifespan}::text is null or p.lifespan = {lifespan})
                """
            )
            .ToListAsync(cancellation);
        return
        [
            .. rows.Select(r => new Row(
                r.Id,
                r.PostId,
                r.CategoryId,
                r.ChannelId,
                r.Date,
                r.Hour,
                r.Figures is null ? null : System.Text.Json.JsonSerializer.Deserialize<FigureSet>(r.Figures, LarkJson.Options)!.ByNumber()
            )),
        ];
    }

    private sealed record LatestRow(Guid Id, Guid PostId, Guid CategoryId, Guid ChannelId, LocalDate Date, int Hour, string? Figures);
}
