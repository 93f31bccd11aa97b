using System.Collections.Concurrent;
using System.Diagnostics;
using AbleLark.Data;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using NodaTime;
using Npgsql;

namespace AbleLark.Server.Tests.Work;

/// <summary>What one workspace waits for, no other waits for; and no act holds its workspace for ever.</summary>
public sealed class LockTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private const int LimitSeconds = 1;

    [Fact]
    public async Task While_everything_of_one_workspace_is_locked_the_others_send_in_time()
    {
        (Guid mine, string account) = await PlannedAsync(installation.Ada, "free");
        (Guid theirs, _) = await PlannedAsync(installation.Ben, "locked");
        await using WebApplication server = await installation.StartServerAsync(
            "--Lark:BackgroundWork=true",
            $"--Lark:LockWaitSeconds={LimitSeconds}"
        );
        await using NpgsqlConnection connection = new(installation.Database);
        await connection.OpenAsync();
        await using (NpgsqlTransaction held = await connection.BeginTransactionAsync())
        {
            foreach (string table in await TablesAsync(connection))
                await RunAsync(
                    connection,
                    $"select 1 from \"{table}\" where workspace_id = '{installation.Ben.Workspace}' for no key update"
                );
            await RunAsync(connection, $"select 1 from workspaces where id = '{installation.Ben.Workspace}' for no key update");
            await RunAsync(connection, $"select pg_advisory_xact_lock(hashtextextended('{installation.Ben.Workspace}', 7465))");
            await installation.MoveOnAsync(Duration.FromMinutes(5));
            Stopwatch due = Stopwatch.StartNew();
            while (await installation.Ada.StateAsync(mine) != "sent" && due.Elapsed < TimeSpan.FromSeconds(30))
                await Task.Delay(50);
            Assert.InRange(due.Elapsed.TotalSeconds, 0, 5);
            Assert.Single(await installation.PostedAsync(account));
            await Task.Delay(TimeSpan.FromSeconds(Math.Max(0, (3 * LimitSeconds) - due.Elapsed.TotalSeconds)));
            Assert.NotEqual("sent", await installation.Ben.StateAsync(theirs));
        }
        Stopwatch free = Stopwatch.StartNew();
        while (await installation.Ben.StateAsync(theirs) != "sent" && free.Elapsed < TimeSpan.FromSeconds(60))
            await Task.Delay(100);
        Assert.Equal("sent", await installation.Ben.StateAsync(theirs));
    }

    [Fact]
    public async Task One_that_holds_too_long_is_ended_and_named_and_who_waits_is_told()
    {
        Lines log = new();
        await using TestInstallation other = new()
        {
            Settings = new Dictionary<string, string>
            {
                ["Lark:LockWaitSeconds"] = "1",
                ["Lark:LockHoldSeconds"] = "2",
                ["Logging:LogLevel:AbleLark"] = "Error",
            },
            Replaced = services => services.AddLogging(l => l.AddProvider(log)),
        };
        await other.InitializeAsync();
        await using AsyncServiceScope scope = other.Services.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockWorkspaceAsync(new(other.Ada.Workspace), default);
        (var status, string words) = await other.Ada.TroubleAsync(HttpMethod.Put, "calendar/filters", new { name = "Waits", query = "" });
        Assert.Equal(System.Net.HttpStatusCode.ServiceUnavailable, status);
        Assert.StartsWith("Something else is changing the same just now", words, StringComparison.Ordinal);
        await Task.Delay(TimeSpan.FromSeconds(3));
        Exception ended = await Assert.ThrowsAnyAsync<Exception>(() => db.Workspaces.CountAsync());
        Assert.True(DatabaseTrouble.IsEnded(ended), ended.ToString());
        Assert.Contains(
            log.All,
            l =>
                l.StartsWith(
                    $"{nameof(LockTests)}.{nameof(One_that_holds_too_long_is_ended_and_named_and_who_waits_is_told)} held the lock",
                    StringComparison.Ordinal
                )
        );
        await other.Ada.PutAsync("calendar/filters", new { name = "Goes on", query = "" });
    }

    private async Task<(Guid Delivery, string Account)> PlannedAsync(ApiClient who, string name)
    {
        Guid channel = await installation.ConnectAsync(who, "hearth", name);
        Guid post = (await who.PostAsync(await who.CategoryAsync($"Of {name}", channel), $"Sent while {name}")).Id();
        return ((await who.PlanAsync(installation, post, 5, channel))[0], $"hearth-{name}");
    }

    private static async Task<List<string>> TablesAsync(NpgsqlConnection connection)
    {
        List<string> tables = [];
        await using NpgsqlCommand list = new(
            "select table_name from information_schema.columns where column_name = 'workspace_id' and table_schema = 'public'",
            connection
        );
        await using NpgsqlDataReader names = await list.ExecuteReaderAsync();
        while (await names.ReadAsync())
            tables.Add(names.GetString(0));
        return tables;
    }

    private static async Task RunAsync(NpgsqlConnection connection, string sql)
    {
        await using NpgsqlCommand command = new(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    private sealed class Lines : ILoggerProvider, ILogger
    {
        public ConcurrentBag<string> All { get; } = [];

        public ILogger CreateLogger(string categoryName) => this;

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public bool IsEnabled(LogLevel logLevel) => logLevel >= LogLevel.Error;

        public void Log<TState>(
            LogLevel logLevel,
            EventId eventId,
            TState state,
            Exception? exception,
            Func<TState, Exception?, string> formatter
        ) => All.Add(formatter(state, exception));

        public void Dispose() { }
    }
}
