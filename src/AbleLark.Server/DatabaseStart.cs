using AbleLark.Core.Networks;
using AbleLark.Data;
using AbleLark.Server.Checks;
using AbleLark.Server.Demo;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;
using Npgsql;

namespace AbleLark.Server;

/// <summary>Waits for the database, brings it up to date before anything else starts, and gives an empty demo its data. Of several
/// servers one does it.</summary>
public sealed partial class DatabaseStart(IServiceScopeFactory scopes, IOptions<LarkSettings> settings, ILogger<DatabaseStart> log)
    : IHostedService
{
    private static readonly TimeSpan FirstWait = TimeSpan.FromMilliseconds(250);
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(5);

    public async Task StartAsync(CancellationToken cancellationToken)
    {
        if (!settings.Value.MigrateOnStart && !settings.Value.Demo)
            return;
        TimeSpan wait = FirstWait;
        while (true)
        {
            try
            {
                await PrepareAsync(cancellationToken);
                return;
            }
            catch (Exception e)
                when ((DatabaseTrouble.IsAway(e) || DatabaseTrouble.IsHeld(e)) && !cancellationToken.IsCancellationRequested)
            {
                LogWaiting(wait.TotalSeconds, e.Message);
                await Task.Delay(wait, cancellationToken);
                wait = wait * 2 < LongestWait ? wait * 2 : LongestWait;
            }
        }
    }

    public Task StopAsync(CancellationToken cancellationToken) => Task.CompletedTask;

    private async Task PrepareAsync(CancellationToken cancellation)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        db.MayHoldLocks = true;
        if (settings.Value.MigrateOnStart)
            await MigrateAsync(db, scope.ServiceProvider, cancellation);
        if (!settings.Value.Demo)
            return;
        await using AdvisoryLock alone = await AdvisoryLock.TakeAsync(db, AdvisoryLock.DemoData, cancellation);
        if (await db.Workspaces.AnyAsync(cancellation))
        {
            if (!await db.BusinessTimes.AnyAsync(cancellation))
                db.BusinessTimes.Add(new());
            await db.SaveChangesAsync(cancellation);
            return;
        }
        DemoBeginning beginning = scope.ServiceProvider.GetRequiredService<DemoBeginning>();
        Instant begins = beginning.Begins();
        await beginning.SetClockAsync(begins, stillToGo: 0, cancellation);
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        await scope.ServiceProvider.GetRequiredService<DemoData>().MakeAsync(begins, DemoData.PastDays, stillToGo: 0, cancellation);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
    }

    private static async Task MigrateAsync(LarkDb db, IServiceProvider services, CancellationToken cancellation)
    {
        await MakeDatabaseAsync(db, cancellation);
        await using AdvisoryLock alone = await AdvisoryLock.TakeAsync(db, AdvisoryLock.Migration, cancellation);
        await DatabaseForm.BringUpToDateAsync(db, cancellation);
        DamageWatch watch = services.GetRequiredService<DamageWatch>();
        await watch.BeginAsync(db, cancellation);
        await StalePosts.CheckAnewAsync(
            db,
            services.GetRequiredService<NetworkBook>(),
            services.GetRequiredService<IClock>().Now(),
            cancellation,
            watch
        );
    }

    /// <summary>Makes the database where the server has none of that name, and it is ours to make.</summary>
    private static async Task MakeDatabaseAsync(LarkDb db, CancellationToken cancellation)
    {
        try
        {
            await db.Database.OpenConnectionAsync(cancellation);
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.InvalidCatalogName)
        {
            NpgsqlConnectionStringBuilder wanted = new(db.Database.GetConnectionString());
            string name = new NpgsqlCommandBuilder().QuoteIdentifier(wanted.Database!);
            wanted.Database = "postgres";
            await using NpgsqlConnection connection = new(wanted.ToString());
            await connection.OpenAsync(cancellation);
            await using NpgsqlCommand command = connection.CreateCommand();
#pragma warning disable CA2100 // The name is quoted, and comes from the settings of whoever runs the server.
            command.CommandText = $"create database {name}";
#pragma warning restore CA2100
            try
            {
                await command.ExecuteNonQueryAsync(cancellation);
            }
            catch (PostgresException another)
                when (another.SqlState is PostgresErrorCodes.DuplicateDatabase or PostgresErrorCodes.UniqueViolation)
            {
                // Another server made it at the same moment.
            }
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "The database is not there yet; looking again in {Seconds} s ({Reason})")]
    private partial void LogWaiting(double seconds, string reason);
}
