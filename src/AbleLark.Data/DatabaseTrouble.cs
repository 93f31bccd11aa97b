using Npgsql;

namespace AbleLark.Data;

/// <summary>Tells what passes by waiting from what doesn't.</summary>
public static class DatabaseTrouble
{
    /// <summary>True when something else held what was wanted for longer than one waits for it.</summary>
    public static bool IsHeld(Exception e) =>
        e is PostgresException { SqlState: PostgresErrorCodes.LockNotAvailable } || (e.InnerException is { } inner && IsHeld(inner));

    /// <summary>True when the transaction was ended from outside: it held others up for too long, or the database is stopping.</summary>
    public static bool IsEnded(Exception e) =>
        e is PostgresException { SqlState: PostgresErrorCodes.AdminShutdown } || (e.InnerException is { } inner && IsEnded(inner));

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
