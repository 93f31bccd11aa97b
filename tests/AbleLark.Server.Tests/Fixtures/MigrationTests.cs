using System.Collections;
using System.IO.Compression;
using AbleLark.Data;
using AbleLark.Data.Kinds;
using AbleLark.Server.Demo;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using Npgsql;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>
/// Each step of migration is kept from the first one on, and takes the data of the one before with it: of each step,
/// `forms/STEP.sql.gz` holds what a demo stored in its form. A new step's is written by
/// `LARK_WRITE_FORM=1 ./lark test server --filter newest_step`.
/// </summary>
public sealed class MigrationTests
{
    private static readonly string Forms = Path.Combine(AppContext.BaseDirectory, "forms");

    private static CancellationToken Cancellation => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Each_step_takes_what_was_stored_before_it_along()
    {
        string[] steps = [.. Known()];
        Assert.NotEmpty(steps);
        foreach (string step in steps)
        {
            string connection = await Databases.EmptyAsync();
            await using (LarkDb before = Databases.Open(connection))
                await before.GetService<IMigrator>().MigrateAsync(step, Cancellation);
            int stored = await FillAsync(connection, step);
            await using LarkDb db = Databases.Open(connection);
            await DatabaseForm.BringUpToDateAsync(db, Cancellation);
            int read = 0;
            foreach (StoredKind kind in StoredKinds.All)
                read += ((ICollection)await AllAsync(db, kind.Type)).Count;
            Assert.True(stored > 1000 && read > stored / 2, $"Of {stored} rows in the form of {step} {read} are read.");
        }
    }

    [Fact]
    public async Task The_data_of_the_newest_step_is_kept_for_the_next()
    {
        string newest = Known().Last();
        if (Environment.GetEnvironmentVariable("LARK_WRITE_FORM") is { Length: > 0 })
            await WriteAsync(Path.Combine(Repository(), "tests", "AbleLark.Server.Tests", "forms", $"{newest}.sql.gz"));
        else
            Assert.True(
                File.Exists(Path.Combine(Forms, $"{newest}.sql.gz")),
                $"Keep what {newest} stores: LARK_WRITE_FORM=1 ./lark test server --filter newest_step"
            );
    }

    [Theory]
    [InlineData("20261124051142_Spine", "was made before Able Lark's first form", "./lark demo --fresh")]
    [InlineData("29990101000000_Later", "was made by a later Able Lark", "Run that one")]
    public async Task A_database_of_a_form_that_is_not_known_is_refused_in_words_and_left_as_it_is(string step, string why, string what)
    {
        string connection = await OfFormAsync(step);
        await using WebApplication server = LarkServer.Create([
            $"--ConnectionStrings:Lark={connection}",
            $"--Lark:DataFolder={Path.GetTempPath()}",
            "--urls=http://127.0.0.1:0",
            "--Logging:LogLevel:Default=None",
        ]);
        UnknownFormException refused = await Assert.ThrowsAsync<UnknownFormException>(() => server.StartAsync(Cancellation));
        Assert.Contains(why, refused.Message, StringComparison.Ordinal);
        Assert.Contains(what, refused.Message, StringComparison.Ordinal);
        Assert.Equal(["__EFMigrationsHistory", "business_times", "posts"], await TablesAsync(connection));
    }

    /// <summary>A database as a program with other steps leaves it.</summary>
    internal static async Task<string> OfFormAsync(string step)
    {
        string connection = await Databases.EmptyAsync();
        await using LarkDb db = Databases.Open(connection);
        IHistoryRepository history = db.GetService<IHistoryRepository>();
        await db.Database.ExecuteSqlRawAsync(history.GetCreateIfNotExistsScript(), Cancellation);
        await db.Database.ExecuteSqlRawAsync(history.GetInsertScript(new(step, "10.0.0")), Cancellation);
        await db.Database.ExecuteSqlRawAsync(
            "create table posts (id uuid); create table business_times (id int, ahead interval)",
            Cancellation
        );
        return connection;
    }

    private static async Task<List<string>> TablesAsync(string connection)
    {
        await using LarkDb db = Databases.Open(connection);
        return await db
            .Database.SqlQuery<string>(
                $"select table_name::text as \"Value\" from information_schema.tables where table_schema = 'public' order by 1"
            )
            .ToListAsync(Cancellation);
    }

    private static IEnumerable<string> Known()
    {
        using LarkDb db = Databases.Open("Host=127.0.0.1;Database=none");
        return db.Database.GetMigrations();
    }

    private static async Task<IEnumerable> AllAsync(LarkDb db, Type type) =>
        await (Task<IEnumerable>)
            typeof(MigrationTests)
                .GetMethod(nameof(ListAsync), System.Reflection.BindingFlags.NonPublic | System.Reflection.BindingFlags.Static)!
                .MakeGenericMethod(type)
                .Invoke(null, [db])!;

    private static async Task<IEnumerable> ListAsync<T>(LarkDb db)
        where T : class => await db.Set<T>().AsNoTracking().ToListAsync(Cancellation);

    /// <returns>How many rows came in.</returns>
    private static async Task<int> FillAsync(string connection, string step)
    {
        await using GZipStream packed = new(File.OpenRead(Path.Combine(Forms, $"{step}.sql.gz")), CompressionMode.Decompress);
        using StreamReader reader = new(packed);
        await using NpgsqlConnection open = new(connection);
        await open.OpenAsync(Cancellation);
        await using NpgsqlCommand command = open.CreateCommand();
#pragma warning disable CA2100 // Kept with the tests, and written by them.
        command.CommandText = await reader.ReadToEndAsync(Cancellation);
#pragma warning restore CA2100
        return await command.ExecuteNonQueryAsync(Cancellation);
    }

    /// <summary>A demo with a short past, as statements that insert its rows.</summary>
    private static async Task WriteAsync(string path)
    {
        await using TestInstallation installation = new();
        await installation.InitializeAsync();
        await using (AsyncServiceScope scope = installation.Services.CreateAsyncScope())
        {
            DemoData demo = scope.ServiceProvider.GetRequiredService<DemoData>();
            Instant begins = await installation.NowAsync();
            DemoBeginning beginning = scope.ServiceProvider.GetRequiredService<DemoBeginning>();
            await beginning.SetClockAsync(begins, stillToGo: 0, Cancellation);
            await demo.MakeAsync(begins, days: 12, stillToGo: 0, Cancellation);
        }
        NpgsqlConnectionStringBuilder to = new(installation.Database);
        string programs = Directory.GetDirectories("/usr/lib/postgresql").Order().Last() + "/bin";
        using System.Diagnostics.Process dump = new()
        {
            StartInfo = new(
                $"{programs}/pg_dump",
                [
                    .. "-a --disable-triggers --inserts --rows-per-insert=200 -n public -T \"__EFMigrationsHistory\"".Split(' '),
                    .. new[] { "-h", to.Host!, "-p", $"{to.Port}", "-U", to.Username!, "-d", to.Database! },
                ]
            )
            {
                RedirectStandardOutput = true,
            },
        };
        dump.Start();
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        await using (GZipStream packed = new(File.Create(path), CompressionLevel.SmallestSize))
        await using (StreamWriter writer = new(packed))
        {
            while (await dump.StandardOutput.ReadLineAsync(Cancellation) is { } line)
            {
                // Words to PostgreSQL's own shell.
                if (!line.StartsWith('\\'))
                    await writer.WriteLineAsync(line);
            }
        }
        await dump.WaitForExitAsync(Cancellation);
        Assert.Equal(0, dump.ExitCode);
    }

    private static string Repository()
    {
        string folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "AbleLark.slnx")))
            folder = Path.GetDirectoryName(folder)!;
        return folder;
    }
}
