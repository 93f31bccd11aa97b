using System.Text.Json;
using NodaTime;
using Npgsql;
using NpgsqlTypes;

namespace AbleLark.StandIns;

/// <summary>What the networks know, in a schema of their own.</summary>
public sealed partial class Store(NpgsqlDataSource source)
{
    private const string PostColumns = "id, network, account_id, text, link, media, created_at, under, more, shown";

    public async Task PrepareAsync()
    {
        await ExecuteAsync(Tables.Prepare);
    }

    /// <summary>Business time: the demo clock's row if there is one, else the machine's time.</summary>
    public async Task<Instant> NowAsync()
    {
        await using NpgsqlCommand exists = source.CreateCommand("select to_regclass('public.business_times') is not null");
        if (await exists.ExecuteScalarAsync() is not true)
            return SystemClock.Instance.GetCurrentInstant();
        await using NpgsqlCommand read = source.CreateCommand("select ahead from business_times where id = 1");
        object? ahead = await read.ExecuteScalarAsync();
        Duration offset = ahead is Period period ? period.ToDuration() : Duration.Zero;
        return SystemClock.Instance.GetCurrentInstant() + offset;
    }

    public async Task<IReadOnlyList<Account>> AccountsAsync(string? network = null)
    {
        await using NpgsqlCommand command = source.CreateCommand(
            """
            select id, network, handle, name, followers, interests, more from stand_ins.accounts
            where $1::text is null or network = $1 order by name
            """
        );
        command.Parameters.Add(new() { Value = (object?)network ?? DBNull.Value, NpgsqlDbType = NpgsqlDbType.Text });
        List<Account> found = [];
        await using NpgsqlDataReader reader = await command.ExecuteReaderAsync();
        while (await reader.ReadAsync())
        {
            AccountMore more = JsonSerializer.Deserialize<AccountMore>(reader.GetString(6))!;
            found.Add(
                new(
                    reader.GetString(0),
                    reader.GetString(1),
                    reader.GetString(2),
                    reader.GetString(3),
                    reader.GetInt32(4),
                    JsonSerializer.Deserialize<Dictionary<string, double>>(reader.GetString(5))!
                )
                {
                    IsBusiness = more.IsBusiness,
                    IsPerson = more.IsPerson,
                    IsGroup = more.IsGroup,
                }
            );
        }
        return found;
    }

    public async Task<Account?> AccountAsync(string id) => (await AccountsAsync()).FirstOrDefault(a => a.Id == id);

    public Task AddAccountAsync(Account account) =>
        ExecuteAsync(
            """
            insert into stand_ins.accounts (id, network, handle, name, followers, interests, more)
            values ($1, $2, $3, $4, $5, $6::jsonb, $7::jsonb)
            on conflict (id) do update set name = excluded.name, followers = excluded.followers, interests = excluded.interests,
                more = excluded.more
            """,
            account.Id,
            account.Network,
            account.Handle,
            account.Name,
            account.Followers,
            JsonSerializer.Serialize(account.Interests),
            JsonSerializer.Serialize(new AccountMore(account.IsBusiness, account.IsPerson, account.IsGroup))
        );

    public Task AddCodeAsync(string code, IEnumerable<string> accountIds, Instant expiresAt) =>
        ExecuteAsync(
            "insert into stand_ins.codes (code, account_id, expires_at) values ($1, $2, $3)",
            code,
            string.Join('\n', accountIds),
            expiresAt
        );

    /// <summary>The accounts that a code stands for; a code works once.</summary>
    public async Task<string[]> RedeemCodeAsync(string code, Instant now) =>
        await ScalarAsync("delete from stand_ins.codes where code = $1 and expires_at > $2 returning account_id", code, now) is string ids
            ? ids.Split('\n')
            : [];

    public Task AddTokensAsync(string accountId, TokenPair pair) =>
        ExecuteAsync(
            "insert into stand_ins.tokens (access, refresh, account_id, expires_at) values ($1, $2, $3, $4)",
            pair.Access,
            pair.Refresh,
            accountId,
            pair.ExpiresAt
        );

    /// <summary>The account of a refresh token that is still good; it is used up by this.</summary>
    public async Task<string?> RedeemRefreshAsync(string refresh) =>
        await ScalarAsync("delete from stand_ins.tokens where refresh = $1 and not revoked returning account_id", refresh) as string;

    public async Task<string?> AccountOfTokenAsync(string access, Instant now) =>
        await ScalarAsync("select account_id from stand_ins.tokens where access = $1 and expires_at > $2 and not revoked", access, now)
        as string;

    /// <summary>Ends tokens now; revoked ones can't be refreshed either.</summary>
    public Task EndTokensAsync(string accountId, Instant now, bool revoke) =>
        ExecuteAsync("update stand_ins.tokens set expires_at = $2, revoked = revoked or $3 where account_id = $1", accountId, now, revoke);

    private const string AddPost = """
        insert into stand_ins.posts (id, network, account_id, key, text, link, media, created_at, under, more, shown)
        values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10::jsonb, $11::jsonb) on conflict (account_id, key) do nothing
        """;

    private static object[] ValuesOf(RemotePost post, string key) =>
        [
            post.Id,
            post.Network,
            post.AccountId,
            key,
            post.Text,
            (object?)post.Link ?? DBNull.Value,
            post.Media.Select(m => m.Id).ToArray(),
            post.CreatedAt,
            (object?)post.Under ?? DBNull.Value,
            JsonSerializer.Serialize(post.More),
            JsonSerializer.Serialize(post.Media),
        ];

    /// <summary>Adds the post unless the account has one with this key; returns what the account has under it.</summary>
    public async Task<RemotePost> AddPostAsync(RemotePost post, string key)
    {
        await ExecuteAsync(AddPost, ValuesOf(post, key));
        return (await PostByKeyAsync(post.AccountId, key))!;
    }

    /// <summary>Adds posts, all or none.</summary>
    public async Task AddPostsAsync(IEnumerable<(RemotePost Post, string Key)> posts)
    {
        await using NpgsqlBatch batch = source.CreateBatch();
        foreach ((RemotePost post, string key) in posts)
        {
            NpgsqlBatchCommand command = new(AddPost);
            foreach (object value in ValuesOf(post, key))
                command.Parameters.Add(new NpgsqlParameter { Value = value });
            batch.BatchCommands.Add(command);
        }
        if (batch.BatchCommands.Count > 0)
            await batch.ExecuteNonQueryAsync();
    }

    /// <summary>Takes a post away, with all that stands under it; false when the account has none of that identity.</summary>
    public async Task<bool> DeletePostAsync(string accountId, string id) =>
        await ScalarAsync(
            """
            with recursive gone as (
              select id from stand_ins.posts where account_id = $1 and id = $2
              union all select p.id from stand_ins.posts p join gone on p.under = gone.id)
            delete from stand_ins.posts where id in (select id from gone) returning id
            """,
            accountId,
            id
        )
            is not null;

    public Task ClearPostsAsync(string accountId) => ExecuteAsync("delete from stand_ins.posts where account_id = $1", accountId);

    public async Task<RemotePost?> PostByKeyAsync(string accountId, string key) =>
        await PostsAsync($"select {PostColumns} from stand_ins.posts where account_id = $1 and key = $2", accountId, key) is [var post]
            ? post
            : null;

    /// <param name="after">Only those older than this post; null: from the newest on.</param>
    public Task<IReadOnlyList<RemotePost>> PostsOfAsync(string accountId, int most, string? after = null) =>
        after is null
            ? PostsAsync(
                $"select {PostColumns} from stand_ins.posts where account_id = $1 order by created_at desc, id desc limit $2",
                accountId,
                most
            )
            : PostsAsync(
                $"""
                select {PostColumns} from stand_ins.posts where account_id = $1 and (created_at, id) < (select created_at, id from
                    stand_ins.posts where id = $3 and account_id = $1)
                order by created_at desc, id desc limit $2
                """,
                accountId,
                most,
                after
            );

    /// <summary>What stands under a post, and under that, oldest first.</summary>
    public Task<IReadOnlyList<RemotePost>> UnderAsync(string id) =>
        PostsAsync(
            $"""
            with recursive below as (
              select * from stand_ins.posts where under = $1
              union all select p.* from stand_ins.posts p join below on p.under = below.id)
            select {PostColumns} from below order by created_at, id
            """,
            id
        );

    /// <summary>A post and all that it stands under, itself first.</summary>
    public async Task<IReadOnlyList<RemotePost>> AboveAsync(RemotePost? post)
    {
        List<RemotePost> all = [];
        for (RemotePost? at = post; at is not null; at = at.Under is { } under ? await PostAsync(under) : null)
            all.Add(at);
        return all;
    }

    public async Task<NetworkManners> MannersAsync(string network)
    {
        await using NpgsqlCommand command = Command(
            "select honours_keys, latency_ms, late_seconds from stand_ins.manners where network = $1",
            [network]
        );
        await using NpgsqlDataReader reader = await command.ExecuteReaderAsync();
        return await reader.ReadAsync() ? new(reader.GetBoolean(0), reader.GetInt32(1), reader.GetDouble(2)) : new();
    }

    public Task SetMannersAsync(string network, NetworkManners manners) =>
        ExecuteAsync(
            """
            insert into stand_ins.manners (network, honours_keys, latency_ms, late_seconds) values ($1, $2, $3, $4)
            on conflict (network) do update set honours_keys = excluded.honours_keys, latency_ms = excluded.latency_ms, late_seconds =
                excluded.late_seconds
            """,
            network,
            manners.HonoursKeys,
            manners.LatencyMilliseconds,
            manners.LateSeconds
        );

    /// <summary>Ends one connection for good.</summary>
    public Task EndTokenAsync(string access) => ExecuteAsync("delete from stand_ins.tokens where access = $1", access);

    public Task<IReadOnlyList<RemotePost>> PostsAsync(string[] ids) =>
        PostsAsync($"select {PostColumns} from stand_ins.posts where id = any($1)", [ids]);

    public async Task<RemotePost?> PostAsync(string id) =>
        await PostsAsync($"select {PostColumns} from stand_ins.posts where id = $1", id) is [var post] ? post : null;

    private async Task<IReadOnlyList<RemotePost>> PostsAsync(string sql, params object[] values)
    {
        await using NpgsqlCommand command = Command(sql, values);
        await using NpgsqlDataReader reader = await command.ExecuteReaderAsync();
        List<RemotePost> found = [];
        while (await reader.ReadAsync())
        {
            found.Add(
                new(
                    reader.GetString(0),
                    reader.GetString(1),
                    reader.GetString(2),
                    reader.GetString(3),
                    reader.IsDBNull(4) ? null : reader.GetString(4),
                    ShownIn(reader),
                    reader.GetFieldValue<Instant>(6),
                    reader.IsDBNull(7) ? null : reader.GetString(7),
                    JsonSerializer.Deserialize<Dictionary<string, string>>(reader.GetString(8))!
                )
            );
        }
        return found;
    }

    private sealed record AccountMore(bool IsBusiness = false, bool IsPerson = false, bool IsGroup = false);

    /// <summary>What was posted before alt texts and crops were kept is there by identity alone.</summary>
    private static ShownMedia[] ShownIn(NpgsqlDataReader reader)
    {
        ShownMedia[] shown = JsonSerializer.Deserialize<ShownMedia[]>(reader.GetString(9))!;
        return shown.Length > 0 ? shown : [.. reader.GetFieldValue<string[]>(5).Select(id => new ShownMedia(id))];
    }

    private async Task ExecuteAsync(string sql, params object[] values)
    {
        await using NpgsqlCommand command = Command(sql, values);
        await command.ExecuteNonQueryAsync();
    }

    private async Task<object?> ScalarAsync(string sql, params object[] values)
    {
        await using NpgsqlCommand command = Command(sql, values);
        return await command.ExecuteScalarAsync();
    }

    private NpgsqlCommand Command(string sql, object[] values)
    {
        NpgsqlCommand command = source.CreateCommand(sql);
        foreach (object value in values)
            command.Parameters.Add(new() { Value = value });
        return command;
    }
}
