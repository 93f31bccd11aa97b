using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;

namespace AbleLark.Server.Results;

/// <summary>Sums what categories earned, in the database: the same as over what <see cref="MeasuredReader"/> reads, without reading
/// it.</summary>
public sealed class TotalsReader(LarkDb db, NetworkBook networks, MeasuredReader reader)
{
    public async Task<IReadOnlyList<CategorySum>> ReadAsync(
        Id<Workspace> workspace,
        ResultsQuestion question,
        CancellationToken cancellation
    )
    {
        // Latest readings lie in documents.
        if (question.Age == FigureAge.Latest)
            return Totals.SumsOf((await reader.ReadAsync(workspace, question, cancellation)).Deliveries);
        var channels = await db
            .Channels.Where(c => c.WorkspaceId == workspace)
            .Select(c => new { c.Id, c.Network })
            .ToListAsync(cancellation);
        var parts = channels
            .Where(c => networks.Has(c.Network))
            .Where(c => question.Channels?.Contains(c.Id) != false && (question.Network is null || c.Network == question.Network))
            .GroupBy(c => c.Network)
            .Select(g => (Parts: question.Measure.PartsOn(networks[g.Key]), Channels: g.Select(c => c.Id.Value).ToArray()))
            .ToList();
        if (parts.Count == 0)
            return [];
        DateTimeZone zone = await db.Workspaces.Where(w => w.Id == workspace).Select(w => w.Zone).SingleAsync(cancellation);
        bool isRate = question.Measure.IsRate;
        await db.Database.OpenConnectionAsync(cancellation);
        try
        {
            await using NpgsqlCommand command = ((NpgsqlConnection)db.Database.GetDbConnection()).CreateCommand();
            command.CommandText = $"""
                select category, count(*) filter (where above is not null and below is not null)::int, count(*)::int,
                    coalesce(sum(above) filter (where below is not null), 0), coalesce(sum(below) filter (where above is not null), 0)
                from (
                    select coalesce((d.facts ->> 'categoryId')::uuid, p.category_id) as category,
                        {Cases(p => Sum(p.Above))} as above, {(isRate ? Cases(p => Below(p.Below)) : "1::float8")} as below
                    from deliveries d
                    join posts p on p.workspace_id = d.workspace_id and p.id = d.post_id
                    left join age_figures a on a.workspace_id = d.workspace_id and a.delivery_id = d.id and a.age_hours = @age
                    where d.workspace_id = @workspace and d.state = 'Sent' and d.sent_at >= @from and d.sent_at < @to
                        and d.channel_id = any (@channels) and (@lifespan::text is null or p.lifespan = @lifespan)) measured
                group by category
                """;
            command.Parameters.AddWithValue("workspace", workspace.Value);
            command.Parameters.AddWithValue("from", zone.AtStartOfDay(question.Period.From).ToInstant());
            command.Parameters.AddWithValue("to", zone.AtStartOfDay(question.Period.To.PlusDays(1)).ToInstant());
            command.Parameters.AddWithValue("channels", parts.SelectMany(p => p.Channels).ToArray());
            command.Parameters.AddWithValue("age", question.Age.Hours());
            command.Parameters.AddWithValue(
                "lifespan",
                NpgsqlTypes.NpgsqlDbType.Text,
                (object?)question.Lifespan?.ToString() ?? DBNull.Value
            );
            for (int i = 0; i < parts.Count; i++)
                command.Parameters.AddWithValue($"on{i}", parts[i].Channels);
            List<CategorySum> sums = [];
            await using NpgsqlDataReader row = await command.ExecuteReaderAsync(cancellation);
            while (await row.ReadAsync(cancellation))
                sums.Add(
                    new(
                        new(row.GetGuid(0)),
                        row.GetInt32(1),
                        row.GetInt32(2) - row.GetInt32(1),
                        row.GetDouble(3),
                        isRate && row.GetInt32(1) > 0 ? row.GetDouble(4) : null
                    )
                );
            return sums;
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }

        string Cases(Func<MeasureParts, string> of) =>
            parts.Count == 1
                ? of(parts[0].Parts)
                : $"case {string.Join(' ', parts.Select((p, i) => $"when d.channel_id = any (@on{i}) then {of(p.Parts)}"))} end";
    }

    /// <summary>As <see cref="MeasureRule.Take(double?[], MeasureParts)"/>: nothing where a part is missing, below nought or beyond all
    /// numbers.</summary>
    private static string Sum(int[] numbers) =>
        numbers.Length == 0
            ? "null::float8"
            : $"case when {string.Join(" and ", numbers.Select(n => $"{Figure(n)} >= 0 and {Figure(n)} < 'Infinity'"))} "
                + $"then {string.Join(" + ", numbers.Select(Figure))} end";

    private static string Below(int? number) =>
        number is { } n ? $"case when {Figure(n)} > 0 and {Figure(n)} < 'Infinity' then {Figure(n)} end" : "1::float8";

    private static string Figure(int number) => $"a.figures[{number.ToString(CultureInfo.InvariantCulture)}]";
}
