using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using NodaTime;
using NodaTime.Text;
using Npgsql;

namespace AbleLark.Server.Tests.Work;

/// <summary>A row that can't be read is named, left out and listed; everything else of its workspace, and everybody else, goes on. Each
/// column of each kind of row that the plan rests on is damaged once, with nonsense by its type.</summary>
public sealed class DamageTests : IAsyncLifetime
{
    private static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private readonly TestInstallation _installation = new()
    {
        Settings = new Dictionary<string, string> { ["Lark:DamageLookSeconds"] = "0" },
    };

    private ApiClient Ada => _installation.Ada;

    public ValueTask InitializeAsync() => _installation.InitializeAsync();

    public ValueTask DisposeAsync() => _installation.DisposeAsync();

    private static readonly string[] Tables =
    [
        "rotas",
        "slots",
        "categories",
        "channels",
        "posts",
        "decisions",
        "pauses",
        "deliveries",
        "key_dates",
        "key_date_kinds",
        "media",
        "contacts",
        "channel_groups",
    ];

    /// <summary>Of these kinds, the first so many, the background work reads.</summary>
    private const int Planned = 8;

    [Fact]
    public async Task Whatever_column_of_whatever_row_is_damaged_the_rest_goes_on_and_the_row_is_named()
    {
        await FillAsync();
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        string week = $"from={Iso(today)}&to={Iso(today.PlusDays(13))}";
        string[] views =
        [
            Ada.Path($"line-up?{week}"),
            Ada.Path($"key-dates?{week}"),
            Ada.Path("rotas"),
            Ada.Path("categories"),
            Ada.Path("posts"),
            Ada.Path("runway"),
            Ada.Path("needs"),
            Ada.Path("needs/damaged"),
            "/api/overview",
        ];
        List<string> stuck = [];
        int damages = 0;
        int named = 0;
        foreach (string table in Tables)
        {
            foreach ((string column, string nonsense) in await ColumnsAsync(table))
            {
                if (await DamageAsync(table, column, nonsense) is not { } row)
                    continue;
                damages++;
                // Nobody has looked yet, and the second look is at what is left.
                foreach (string view in views)
                {
                    using HttpResponseMessage answer = await Ada.Http.GetAsync(view);
                    if ((int)answer.StatusCode >= 500)
                        stuck.Add($"{table}.{column} = {nonsense}: {view} answered {answer.StatusCode}");
                }
                await _installation.WriteAsync($"update workspaces set plan_stamp = plan_stamp + 1 where id = {Ada.Workspace}");
                if (Array.IndexOf(Tables, table) < Planned)
                    await _installation.PassAsync();
                // Where nothing failed nobody has looked: it is found all the same.
                await _installation.LookForDamageAsync();
                JsonElement[] said = (await Ada.GetAsync("needs/damaged")).List("rows");
                if (said.Any(r => r.Id() == row && r.Text("table") == table && r.Text("field") == column))
                    named++;
                else if (nonsense.Contains("::", StringComparison.Ordinal))
                    stuck.Add($"{table}.{column} = {nonsense} isn't named, but {string.Join(", ", said.Select(r => r.Text("field")))}");
                await MendAsync(table, column, row);
            }
        }
        Assert.True(stuck.Count == 0, string.Join("\n", stuck));
        Assert.True(damages > 100 && named > 50, $"{damages} damages, {named} named");
        // Mended, everything is there again.
        Assert.Equal(0, (await Ada.GetAsync("needs/damaged")).Whole("total"));
    }

    [Fact]
    public async Task A_post_that_can_t_be_read_keeps_no_server_from_starting_and_nothing_else_from_going_out()
    {
        Guid channel = await _installation.ConnectAsync(Ada, "hearth", "damaged");
        Guid category = await Ada.CategoryAsync("Damaged", channel);
        Guid bad = (await Ada.PostAsync(category, "Soon unreadable")).Id();
        (Guid delivery, _) = await _installation.DueAsync("Goes out all the same");
        await _installation.WriteAsync($"update posts set content = '[7]', checked_by = 'other rules' where id = {bad}");
        await _installation.WriteAsync($"update posts set checked_by = 'other rules'");
        await using WebApplication another = await _installation.StartServerAsync();
        await _installation.PassAsync();
        Assert.Equal("sent", await Ada.StateAsync(delivery));
        JsonElement row = (await Ada.GetAsync("needs/damaged")).List("rows").Single();
        Assert.Equal(("posts", bad, "content"), (row.Text("table"), row.Id(), row.Text("field")));
        using HttpClient http = new();
        JsonElement ready = JsonSerializer.Deserialize<JsonElement>(await http.GetStringAsync($"{_installation.Address}/readyz"));
        Assert.Equal(1, ready.GetProperty("damagedRows").GetInt32());
        Assert.Equal(HttpStatusCode.NotFound, (await Ada.TroubleAsync(HttpMethod.Get, $"posts/{bad}")).Status);
        using ApiClient writer = await _installation.MemberAsync(Core.Workspaces.Role.Writer);
        Assert.Equal(HttpStatusCode.Forbidden, (await writer.TroubleAsync(HttpMethod.Get, "needs/damaged")).Status);
    }

    /// <summary>Tables of what has no id of its own: what one row belongs to is all that it can touch.</summary>
    private static readonly string[] Belonging =
    [
        "readings",
        "age_figures",
        "post_versions",
        "link_cards",
        "changes",
        "import_edits",
        "channel_audiences",
        "channel_secrets",
    ];

    [Fact]
    public async Task What_belongs_to_another_row_stops_nothing_but_that()
    {
        await FillAsync();
        (Guid delivery, _) = await _installation.DueAsync("Read all the same");
        await _installation.PassAsync();
        await Ada.PostAsync(
            $"deliveries/{delivery}/figures",
            new
            {
                figures = new
                {
                    likes = 5,
                    comments = 1,
                    shares = 1,
                    linkClicks = 0,
                },
            }
        );
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        string week = $"from={Iso(today)}&to={Iso(today.PlusDays(13))}";
        string[] views =
        [
            Ada.Path($"line-up?{week}"),
            Ada.Path("posts"),
            Ada.Path("needs"),
            Ada.Path($"results?{week}"),
            Ada.Path($"results?{week}&age=latest"),
            Ada.Path("channels"),
            Ada.Path("imports"),
            "/api/overview",
        ];
        List<string> stuck = [];
        int damages = 0;
        foreach (string table in Belonging)
        {
            foreach ((string column, string nonsense) in await ColumnsAsync(table))
            {
                if (!await DamageAllAsync(table, column, nonsense))
                    continue;
                damages++;
                foreach (string view in views)
                {
                    using HttpResponseMessage answer = await Ada.Http.GetAsync(view);
                    if ((int)answer.StatusCode >= 500)
                        stuck.Add($"{table}.{column} = {nonsense}: {view} answered {answer.StatusCode}");
                }
                await _installation.PassAsync();
                await _installation.LookForDamageAsync();
                JsonElement[] said = (await Ada.GetAsync("needs/damaged")).List("rows");
                if (table == "readings" && column is "figures" or "doubt" && said.All(r => r.Id() != delivery || r.Text("field") != column))
                    stuck.Add($"{table}.{column} isn't named");
                await MendAllAsync(table);
            }
        }
        Assert.True(stuck.Count == 0, string.Join("\n", stuck));
        Assert.True(damages >= 10, $"{damages} damages");
        Assert.Equal(0, (await Ada.GetAsync("needs/damaged")).Whole("total"));
    }

    [Fact]
    public async Task A_workspace_whose_own_row_can_t_be_read_stops_no_other()
    {
        await FillAsync();
        ApiClient ben = _installation.Ben;
        foreach ((string column, string nonsense) in await ColumnsAsync("workspaces"))
        {
            await using NpgsqlConnection connection = new(_installation.Database);
            await connection.OpenAsync();
            await RunAsync(connection, $"create table whole as select * from workspaces where id = '{Ada.Workspace}'");
            await using NpgsqlCommand damage = new(
                $"update workspaces set \"{column}\" = {nonsense} where id = '{Ada.Workspace}'",
                connection
            );
            try
            {
                await damage.ExecuteNonQueryAsync(TestContext.Current.CancellationToken);
            }
            catch (PostgresException)
            {
                await RunAsync(connection, "drop table whole");
                continue;
            }
            await _installation.PassAsync();
            (ApiClient, string)[] views =
            [
                (ben, ben.Path("rotas")),
                (ben, ben.Path("needs")),
                (Ada, "/api/session"),
                (Ada, "/api/overview"),
            ];
            foreach ((ApiClient who, string view) in views)
            {
                using HttpResponseMessage answer = await who.Http.GetAsync(view);
                Assert.True(answer.IsSuccessStatusCode, $"{column} = {nonsense}: {view} answered {answer.StatusCode}");
            }
            using HttpResponseMessage own = await Ada.Http.GetAsync(Ada.Path("needs"));
            string said = await own.Content.ReadAsStringAsync(TestContext.Current.CancellationToken);
            if (column is "zone" or "button_verbs")
            {
                Assert.Equal(HttpStatusCode.ServiceUnavailable, own.StatusCode);
                Assert.Contains($"({column}: ", said, StringComparison.Ordinal);
            }
            await RunAsync(connection, $"update workspaces w set \"{column}\" = whole.\"{column}\" from whole where w.id = whole.id");
            await RunAsync(connection, "drop table whole; delete from work_failures");
            await _installation.LookForDamageAsync();
            using HttpResponseMessage mended = await Ada.Http.GetAsync(Ada.Path("needs"));
            Assert.Equal(HttpStatusCode.OK, mended.StatusCode);
        }
        (Guid delivery, _) = await _installation.DueAsync("Sent after all");
        await _installation.PassAsync();
        Assert.Equal("sent", await Ada.StateAsync(delivery));
    }

    [Theory]
    [InlineData("")]
    [InlineData("&age=latest")]
    [InlineData("&age=latest&measure=engagementRateByFollowers")]
    [InlineData("&measure=engagementRateByFollowers")]
    public async Task What_was_kept_with_a_delivery_and_can_t_be_read_stops_no_results(string question)
    {
        (Guid delivery, _) = await _installation.DueAsync("Followed by many");
        await _installation.PassAsync();
        await _installation.WriteAsync(
            $$"""
            update deliveries set facts = coalesce(facts, '{}') || '{"followers": "many", "categoryId": "none"}' where id = {{delivery}}
            """
        );
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        string period = $"from={Iso(today.PlusDays(-1))}&to={Iso(today)}";
        using HttpResponseMessage answer = await Ada.Http.GetAsync(Ada.Path($"results?{period}{question}"));
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken));
    }

    /// <summary>Damages a column of all rows of the workspace.</summary>
    /// <returns>False: there are none, or the database refuses it.</returns>
    private async Task<bool> DamageAllAsync(string table, string column, string nonsense)
    {
        await using NpgsqlConnection connection = new(_installation.Database);
        await connection.OpenAsync();
        try
        {
            await RunAsync(connection, "drop table if exists kept");
            await RunAsync(connection, $"create table kept as select * from \"{table}\" where workspace_id = '{Ada.Workspace}'");
            await using NpgsqlCommand damage = new(
                $"update \"{table}\" set \"{column}\" = {nonsense} where workspace_id = '{Ada.Workspace}'",
                connection
            );
            return await damage.ExecuteNonQueryAsync() > 0;
        }
        catch (PostgresException)
        {
            return false;
        }
    }

    private async Task MendAllAsync(string table)
    {
        await using NpgsqlConnection connection = new(_installation.Database);
        await connection.OpenAsync();
        await RunAsync(connection, $"delete from \"{table}\" where workspace_id = '{Ada.Workspace}'");
        await RunAsync(connection, $"insert into \"{table}\" select * from kept");
        await RunAsync(connection, "drop table kept; delete from work_failures");
        await _installation.LookForDamageAsync();
    }

    /// <summary>Something of each kind.</summary>
    private async Task FillAsync()
    {
        Guid channel = await _installation.ConnectAsync(Ada, "hearth", "filled");
        Guid other = await _installation.ConnectAsync(Ada, "jot", "also");
        Guid category = await Ada.CategoryAsync("Filled", channel);
        await Ada.CategoryAsync("Another", other);
        Guid picture = await Ada.PictureAsync();
        for (int i = 0; i < 4; i++)
            await Ada.PostAsync(category, $"Filled {i}", picture: i == 0 ? picture : null);
        Guid slot = await Ada.SlotAsync(category, "23:30", [1, 2, 3, 4, 5, 6, 7], channel);
        await Ada.SlotAsync(category, "22:15", [1, 3], channel, other);
        // A slot that comes round by days has no days of a week, and is sound.
        await Ada.PostAsync(
            "rotas/slots",
            new
            {
                rhythm = "days",
                every = 3,
                days = Array.Empty<int>(),
                time = "15:30:00",
                categories = new[] { category },
                channels = new[] { channel },
            }
        );
        await _installation.PassAsync();
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        await Ada.DecideAsync($"line-up/occurrences/{slot}/{Iso(today.PlusDays(6))}", new { note = "Ask the boatman" });
        await Ada.PlanAsync(_installation, (await Ada.PostAsync(category, "At a time")).Id(), 3 * 24 * 60, other);
        Guid kind = (
            await Ada.PostAsync(
                "key-date-kinds",
                new
                {
                    name = "Events",
                    mark = "Ev",
                    colour = "#336699",
                    isShownToClients = true,
                }
            )
        ).Id();
        await Ada.PostAsync(
            "key-dates",
            new
            {
                kindId = kind,
                title = "Market",
                notes = "",
                date = Iso(today.PlusDays(2)),
                days = 1,
                time = (string?)null,
                zone = (string?)null,
                rule = "FREQ=WEEKLY",
                isLive = false,
            }
        );
        await Ada.PostAsync("channel-groups", new { name = "Both", channels = new[] { channel, other } });
    }

    /// <summary>What is worth damaging: what is no key, and holds more than a word or a number that is as good as another.</summary>
    private async Task<List<(string Column, string Nonsense)>> ColumnsAsync(string table)
    {
        await using NpgsqlConnection connection = new(_installation.Database);
        await connection.OpenAsync();
        await using NpgsqlCommand command = new(
            "select column_name, data_type from information_schema.columns "
                + $"where table_schema = 'public' and table_name = '{table}' order by 1",
            connection
        );
        List<(string, string)> columns = [];
        await using NpgsqlDataReader reader = await command.ExecuteReaderAsync();
        while (await reader.ReadAsync())
        {
            (string column, string type) = (reader.GetString(0), reader.GetString(1));
            string? nonsense = type switch
            {
                "jsonb" => "'[[7, null], \"x\"]'::jsonb",
                "date" => "'-infinity'::date",
                "timestamp with time zone" => "'-infinity'::timestamptz",
                "timestamp without time zone" => "'infinity'::timestamp",
                "text" => "'no such thing'",
                "integer" => "-2147483648",
                _ => null,
            };
            // When figures are read next, and who is sending, is written anew by itself.
            bool isKey = column.EndsWith("_id", StringComparison.Ordinal);
            if (nonsense is not null && !isKey && column is not ("next_reading_at" or "lease_until"))
                columns.Add((column, nonsense));
        }
        return columns;
    }

    /// <returns>The row; null: there is none, or the database refuses the nonsense.</returns>
    private async Task<Guid?> DamageAsync(string table, string column, string nonsense)
    {
        await using NpgsqlConnection connection = new(_installation.Database);
        await connection.OpenAsync();
        try
        {
            await RunAsync(connection, "drop table if exists kept; drop table if exists there");
            await RunAsync(connection, "create table there as select id from deliveries");
            await RunAsync(
                connection,
                $"create table kept as select id, \"{column}\" as was from \"{table}\" "
                    + $"where workspace_id = '{Ada.Workspace}' order by id limit 1"
            );
            await using NpgsqlCommand damage = new(
                $"update \"{table}\" set \"{column}\" = {nonsense} where id = (select id from kept) returning id",
                connection
            );
            return (Guid?)await damage.ExecuteScalarAsync();
        }
        catch (PostgresException)
        {
            return null;
        }
    }

    private async Task MendAsync(string table, string column, Guid row)
    {
        await using NpgsqlConnection connection = new(_installation.Database);
        await connection.OpenAsync();
        // What was scheduled in the place of a damaged delivery makes room for it again.
        await RunAsync(connection, "delete from deliveries where id not in (select id from there)");
        await RunAsync(connection, $"update \"{table}\" set \"{column}\" = (select was from kept) where id = '{row}'");
        await RunAsync(connection, "drop table kept");
        await RunAsync(connection, "delete from work_failures");
        await _installation.LookForDamageAsync();
    }

    private static async Task RunAsync(NpgsqlConnection connection, string sql)
    {
        await using NpgsqlCommand command = new(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    private static string Iso(LocalDate date) => LocalDatePattern.Iso.Format(date);
}
