using System.Text.Json;
using Npgsql;

namespace AbleLark.StandIns;

/// <summary>Uploads.</summary>
public sealed partial class Store
{
    /// <summary>Keeps a file for each of the accounts, unless it has one with this key; returns what each has under it.</summary>
    public async Task<Dictionary<string, string>> AddMediaAsync(string[] accounts, string key, MediaFacts facts, byte[] bytes)
    {
        await ExecuteAsync(
            """
            insert into stand_ins.media (id, account_id, key, kind, bytes, facts)
            select 'm' || replace(gen_random_uuid()::text, '-', ''), account, $2, $3, $4, $5::jsonb from unnest($1::text[]) account
            on conflict (account_id, key) do nothing
            """,
            accounts,
            key,
            facts.Kind,
            bytes,
            JsonSerializer.Serialize(facts)
        );
        await using NpgsqlCommand command = Command(
            "select account_id, id from stand_ins.media where account_id = any($1) and key = $2",
            [accounts, key]
        );
        await using NpgsqlDataReader reader = await command.ExecuteReaderAsync();
        Dictionary<string, string> ids = [];
        while (await reader.ReadAsync())
            ids[reader.GetString(0)] = reader.GetString(1);
        return ids;
    }

    public async Task<(string Kind, byte[] Bytes)?> MediaAsync(string id)
    {
        await using NpgsqlCommand command = source.CreateCommand("select kind, bytes from stand_ins.media where id = $1");
        command.Parameters.Add(new() { Value = id });
        await using NpgsqlDataReader reader = await command.ExecuteReaderAsync();
        return await reader.ReadAsync() ? (reader.GetString(0), reader.GetFieldValue<byte[]>(1)) : null;
    }

    /// <summary>What is known of uploads, in their order; null where one isn't there.</summary>
    public async Task<IReadOnlyList<MediaFacts>?> FactsAsync(string[] ids)
    {
        Dictionary<string, MediaFacts> found = ids.Length == 0 ? [] : await AllFactsAsync(ids);
        return ids.All(found.ContainsKey) ? [.. ids.Select(i => found[i])] : null;
    }

    /// <summary>What is known of uploads, by their identities.</summary>
    public async Task<Dictionary<string, MediaFacts>> AllFactsAsync(string[] ids)
    {
        await using NpgsqlCommand command = Command("select id, kind, length(bytes), facts from stand_ins.media where id = any($1)", [ids]);
        await using NpgsqlDataReader reader = await command.ExecuteReaderAsync();
        Dictionary<string, MediaFacts> facts = [];
        while (await reader.ReadAsync())
            facts[reader.GetString(0)] = reader.IsDBNull(3)
                ? new(reader.GetString(1), reader.GetInt32(2), 0, 0)
                : JsonSerializer.Deserialize<MediaFacts>(reader.GetString(3))!;
        return facts;
    }
}
