using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace AbleLark.Data;

/// <summary>A lock of PostgreSQL's that processes share by a number; it goes with the connection, so that no killed process keeps
/// it.</summary>
public sealed class AdvisoryLock : IAsyncDisposable
{
    public const long DemoData = 7465102;
    public const long DemoClock = 7465103;
    public const long Migration = 7465104;

    private readonly NpgsqlConnection _connection;

    private AdvisoryLock(NpgsqlConnection connection) => _connection = connection;

    /// <summary>Waits until it has the lock, on a connection of its own.</summary>
    public static Task<AdvisoryLock> TakeAsync(LarkDb db, long number, CancellationToken cancellation) =>
        TakeAsync(db, $"select pg_advisory_lock({number}) is not null", cancellation)!;

    /// <summary>The lock, or null when another process has it.</summary>
    public static Task<AdvisoryLock?> TryTakeAsync(LarkDb db, long number, CancellationToken cancellation) =>
        TakeAsync(db, $"select pg_try_advisory_lock({number})", cancellation);

    // Closing the connection gives the lock back; unpooled, so that it is closed in truth.
    public ValueTask DisposeAsync() => _connection.DisposeAsync();

    private static async Task<AdvisoryLock?> TakeAsync(LarkDb db, string sql, CancellationToken cancellation)
    {
        NpgsqlConnection connection = new(
            new NpgsqlConnectionStringBuilder(db.Database.GetConnectionString()) { Pooling = false }.ToString()
        );
        try
        {
            await connection.OpenAsync(cancellation);
            await using NpgsqlCommand command = new(sql, connection) { CommandTimeout = 0 };
            if (await command.ExecuteScalarAsync(cancellation) is true)
                return new(connection);
        }
        catch
        {
            await connection.DisposeAsync();
            throw;
        }
        await connection.DisposeAsync();
        return null;
    }
}
