using AbleLark.Core;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
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
        MeasuredQuery query = await MeasuredQuery.OfAsync(workspace, question, db, networks, cancellation);
        if (query.Channels.Count == 0)
            return [];
        await db.Database.OpenConnectionAsync(cancellation);
        try
        {
            ILookup<bool, Sum> kept = (await SumsAsync(MeasuredQuery.KeptCategory, null)).ToLookup(s =>
                MeasuredQuery.Read(s.Category) is not null
            );
            IEnumerable<Sum> others = kept[false].Any()
                ? await SumsAsync(PostsCategory, [.. kept[false].Select(s => s.Category ?? "")])
                : [];
            return
            [
                .. kept[true]
                    .Concat(others)
                    .GroupBy(s => MeasuredQuery.Read(s.Category)!.Value)
                    .Select(g => new CategorySum(
                        g.Key,
                        g.Sum(s => s.Known),
                        g.Sum(s => s.Deliveries - s.Known),
                        g.Sum(s => s.Above),
                        question.Measure.IsRate && g.Any(s => s.Known > 0) ? g.Sum(s => s.Below) : null
                    )),
            ];
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }

        // By what is kept, as it is: what of it can be read is found out of the few that there are, not of each delivery.
        async Task<List<Sum>> SumsAsync(string category, string[]? ofKept)
        {
            await using NpgsqlCommand command = query.Select(
                $"{category} as category, {query.Measured}",
                (NpgsqlConnection)db.Database.GetDbConnection()
            );
            if (ofKept is not null)
            {
                command.CommandText += $" and coalesce({MeasuredQuery.KeptCategory}, '') = any (@kept)";
                command.Parameters.AddWithValue("kept", ofKept);
            }
            command.CommandText = $"""
                select category, count(*) filter (where above is not null and below is not null)::int, count(*)::int,
                    coalesce(sum(above) filter (where below is not null), 0), coalesce(sum(below) filter (where above is not null), 0)
                from ({command.CommandText}) measured
                group by category
                """;
            List<Sum> sums = [];
            await using NpgsqlDataReader row = await command.ExecuteReaderAsync(cancellation);
            while (await row.ReadAsync(cancellation))
                sums.Add(
                    new(row.IsDBNull(0) ? null : row.GetString(0), row.GetInt32(1), row.GetInt32(2), row.GetDouble(3), row.GetDouble(4))
                );
            return sums;
        }
    }

    private const string PostsCategory =
        "(select p.category_id::text from posts p where p.workspace_id = d.workspace_id and p.id = d.post_id)";

    /// <param name="Known">Of the deliveries, those whose measure is known.</param>
    private sealed record Sum(string? Category, int Known, int Deliveries, double Above, double Below);
}
