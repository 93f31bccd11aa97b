using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
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
    private const string Columns = $"""
        d.id, d.post_id, {MeasuredQuery.KeptCategory}, d.channel_id, coalesce((d.facts ->> 'date')::date, d.local_date),
            coalesce((d.facts ->> 'hour')::int, extract(hour from d.local_time)::int), d.sent_at
        """;

    /// <summary>Deliveries sent in the period that the question is about, and the networks that they went to.</summary>
    public async Task<(List<MeasuredDelivery> Deliveries, IReadOnlyList<NetworkRules> Networks)> ReadAsync(
        Id<Workspace> workspace,
        ResultsQuestion question,
        CancellationToken cancellation
    )
    {
        MeasuredQuery query = await MeasuredQuery.OfAsync(workspace, question, db, networks, cancellation);
        List<MeasuredDelivery> measured = [];
        if (query.Channels.Count == 0)
            return (measured, []);
        HashSet<Guid> met = [];
        List<int> uncategorised = [];
        await db.Database.OpenConnectionAsync(cancellation);
        try
        {
            await using NpgsqlCommand command = query.Select(
                $"{Columns}, {(query.IsLatest ? "a.figures" : query.Measured)}",
                (NpgsqlConnection)db.Database.GetDbConnection()
            );
            await using NpgsqlDataReader row = await command.ExecuteReaderAsync(cancellation);
            while (await row.ReadAsync(cancellation))
            {
                Guid channel = row.GetGuid(3);
                met.Add(channel);
                Id<Category>? category = MeasuredQuery.Read(row.IsDBNull(2) ? null : row.GetString(2));
                if (category is null)
                    uncategorised.Add(measured.Count);
                measured.Add(
                    new(
                        new(row.GetGuid(0)),
                        new(row.GetGuid(1)),
                        category ?? default,
                        new(channel),
                        row.GetFieldValue<LocalDate>(4),
                        row.GetInt32(5),
                        Measured(row, channel),
                        row.GetFieldValue<Instant>(6)
                    )
                );
            }
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }
        await CategoriseAsync(workspace, measured, uncategorised, cancellation);
        return (measured, [.. met.Select(c => query.Channels[c]).Distinct()]);

        Measured? Measured(NpgsqlDataReader row, Guid channel) =>
            row.IsDBNull(7) ? null
            : query.IsLatest
                ? question.Measure.Take(JsonSerializer.Deserialize<FigureSet>(row.GetString(7), LarkJson.Options)!, query.Channels[channel])
            : row.IsDBNull(8) ? null
            : new(row.GetDouble(7), question.Measure.IsRate ? row.GetDouble(8) : null);
    }

    /// <summary>Deliveries with which no category was kept count under their posts'.</summary>
    private async Task CategoriseAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> measured,
        List<int> these,
        CancellationToken cancellation
    )
    {
        if (these.Count == 0)
            return;
        Id<Post>[] posts = [.. these.Select(i => measured[i].PostId).Distinct()];
        // Of these posts one value is read; whether the others can be doesn't matter.
        Dictionary<Id<Post>, Id<Category>> categories = await db
            .Posts.IgnoreQueryFilters()
            .Where(p => p.WorkspaceId == workspace && posts.Contains(p.Id))
            .Select(p => new { p.Id, p.CategoryId })
            .ToDictionaryAsync(p => p.Id, p => p.CategoryId, cancellation);
        foreach (int i in these)
            measured[i] = measured[i] with { CategoryId = categories[measured[i].PostId] };
    }
}
