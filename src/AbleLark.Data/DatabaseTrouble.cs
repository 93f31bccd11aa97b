using Npgsql;

namespace AbleLark.Data;

/// <summary>Tells what passes by waiting from what doesn't.</summary>
public static class DatabaseTrouble
{
    /// <summary>True when the database isn't there just now: no server, one that is starting or stopping, a connection that was cut, no
    /// room for another.</summary>
    public static bool IsAway(Exception e) =>
        e switch
        {
            PostgresException p => p.SqlState
                is PostgresErrorCodes.CannotConnectNow
                    or PostgresErrorCodes.AdminShutdown
                    or PostgresErrorCodes.CrashShutdown
                    or PostgresErrorCodes.TooManyConnections,
            NpgsqlException => true,
            _ => e.InnerException is { } inner && IsAway(inner),
        };
}
