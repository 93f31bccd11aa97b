using System.Text.Json;
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
using Npgsql;

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

/// <summary>Reads sent deliveries with what they count by a measure. Past the context: there may be hundreds of thousands.</summary>
public sealed class MeasuredReader(LarkDb db, NetworkBook networks)
{
    private const string FiguresAtAge =
        "left join age_figures a on a.workspace_id = d.workspace_id and a.delivery_id = d.id and a.age_hours = @age";

    /// <summary>The latest reading of each that counts, however old it was then.</summary>
    private const string LatestFigures = """
        left join lateral (
            select figures::text from readings r
            where r.workspace_id = d.workspace_id and r.delivery_id = d.id and r.doubt is null
            order by r.at desc limit 1) a on true
        """;

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
        Dictionary<Guid, MeasureParts> parts = rules.ToDictionary(r => r.Key, r => question.Measure.PartsOn(r.Value));
        DateTimeZone zone = await db.Workspaces.Where(w => w.Id == workspace).Select(w => w.Zone).SingleAsync(cancellation);
        bool isLatest = question.Age == FigureAge.Latest;
        List<MeasuredDelivery> measured = [];
        HashSet<NetworkRules> met = [];
        await db.Database.OpenConnectionAsync(cancellation);
        try
        {
            await using NpgsqlCommand command = ((NpgsqlConnection)db.Database.GetDbConnection()).CreateCommand();
            command.CommandText = $"""
                select d.id, d.post_id, coalesce((d.facts ->> 'categoryId')::uuid, p.category_id), d.channel_id,
                    coalesce((d.facts ->> 'date')::date, d.local_date),
                    coalesce((d.facts ->> 'hour')::int, extract(hour from d.local_time)::int),
                    a.figures, d.sent_at
                from deliveries d
                join posts p on p.workspace_id = d.workspace_id and p.id = d.post_id
                {(isLatest ? LatestFigures : FiguresAtAge)}
                where d.workspace_id = @workspace and d.state = 'Sent' and d.sent_at >= @from and d.sent_at < @to
                    and d.channel_id = any (@channels) and (@lifespan::text is null or p.lifespan = @lifespan)
                """;
            command.Parameters.AddWithValue("workspace", workspace.Value);
            command.Parameters.AddWithValue("from", zone.AtStartOfDay(question.Period.From).ToInstant());
            command.Parameters.AddWithValue("to", zone.AtStartOfDay(question.Period.To.PlusDays(1)).ToInstant());
            command.Parameters.AddWithValue("channels", rules.Keys.ToArray());
            command.Parameters.AddWithValue(
                "lifespan",
                NpgsqlTypes.NpgsqlDbType.Text,
                (object?)question.Lifespan?.ToString() ?? DBNull.Value
            );
            if (!isLatest)
                command.Parameters.AddWithValue("age", question.Age.Hours());
            await using NpgsqlDataReader row = await command.ExecuteReaderAsync(cancellation);
            while (await row.ReadAsync(cancellation))
            {
                Guid channel = row.GetGuid(3);
                met.Add(rules[channel]);
                double?[]? figures =
                    row.IsDBNull(6) ? null
                    : isLatest ? JsonSerializer.Deserialize<FigureSet>(row.GetString(6), LarkJson.Options)!.ByNumber()
                    : row.GetFieldValue<double?[]>(6);
                measured.Add(
                    new(
                        new(row.GetGuid(0)),
                        new(row.GetGuid(1)),
                        new(row.GetGuid(2)),
                        new(channel),
                        row.GetFieldValue<LocalDate>(4),
                        row.GetInt32(5),
                        figures is null ? null : MeasureRule.Take(figures, parts[channel]),
                        row.GetFieldValue<Instant>(7)
                    )
                );
            }
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }
        return (measured, [.. met]);
    }
}
