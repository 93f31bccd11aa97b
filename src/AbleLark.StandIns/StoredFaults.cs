using Npgsql;

namespace AbleLark.StandIns;

/// <content>Faults that were ordered and have still to happen.</content>
public sealed partial class Store
{
    public Task AddFaultAsync(string? accountId, string kind, int times) =>
        ExecuteAsync(
            "insert into stand_ins.faults (account_id, kind, remaining) values ($1, $2, $3)",
            (object?)accountId ?? DBNull.Value,
            kind,
            times
        );

    public Task ClearFaultsAsync() => ExecuteAsync("delete from stand_ins.faults");

    /// <summary>Takes one use of the oldest fault that concerns the account; null when none does.</summary>
    public async Task<string?> TakeFaultAsync(string accountId) =>
        await ScalarAsync(
            """
            update stand_ins.faults set remaining = remaining - 1
            where id = (select id from stand_ins.faults where remaining > 0 and (account_id is null or account_id = $1) order by id
                limit 1 for update)
            returning kind
            """,
            accountId
        ) as string;

    public async Task<IReadOnlyList<(string? Account, string Kind, int Remaining)>> FaultsAsync()
    {
        await using NpgsqlCommand command = source.CreateCommand(
            "select account_id, kind, remaining from stand_ins.faults where remaining > 0 order by id"
        );
        await using NpgsqlDataReader reader = await command.ExecuteReaderAsync();
        List<(string?, string, int)> found = [];
        while (await reader.ReadAsync())
            found.Add((reader.IsDBNull(0) ? null : reader.GetString(0), reader.GetString(1), reader.GetInt32(2)));
        return found;
    }
}
