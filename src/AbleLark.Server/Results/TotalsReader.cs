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
        bool isRate = question.Measure.IsRate;
        await db.Database.OpenConnectionAsync(cancellation);
        try
        {
            await using NpgsqlCommand command = query.Select(
                $"{MeasuredQuery.KeptCategory} as kept, case when {MeasuredQuery.KeptCategory} is null then d.post_id end as post, "
                    + query.Measured,
                (NpgsqlConnection)db.Database.GetDbConnection()
            );
            // By post where no category was kept, and posts are asked once all is summed: so the database sums with several processes.
            command.CommandText = $"""
                select coalesce(kept, (select p.category_id from posts p where p.workspace_id = @workspace and p.id = post)) as category,
                    sum(known)::int, sum(deliveries)::int, sum(above), sum(below)
                from (
                    select kept, post, count(*) filter (where above is not null and below is not null) as known, count(*) as deliveries,
                        coalesce(sum(above) filter (where below is not null), 0) as above,
                        coalesce(sum(below) filter (where above is not null), 0) as below
                    from ({command.CommandText}) measured
                    group by kept, post) summed
                group by category
                """;
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
    }
}
