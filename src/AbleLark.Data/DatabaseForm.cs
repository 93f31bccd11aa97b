using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace AbleLark.Data;

/// <summary>A database has been through steps that this program doesn't have; its message says what to do.</summary>
public sealed class UnknownFormException(string message) : Exception(message);

/// <summary>Which steps of migration a database has been through, and whether this program can go on from there.</summary>
public static class DatabaseForm
{
    /// <summary>Brings a database to the present form; one that was made by other steps is left as it is.</summary>
    /// <exception cref="UnknownFormException">It was made before the first step, or by a later program.</exception>
    public static async Task BringUpToDateAsync(LarkDb db, CancellationToken cancellation)
    {
        IHistoryRepository history = db.GetService<IHistoryRepository>();
        if (await history.ExistsAsync(cancellation))
        {
            IReadOnlyList<string> known = [.. db.Database.GetMigrations()];
            string? unknown = (await history.GetAppliedMigrationsAsync(cancellation))
                .Select(row => row.MigrationId)
                .FirstOrDefault(step => !known.Contains(step));
            if (unknown is not null)
                throw new UnknownFormException(WordsFor(unknown, isLater: string.CompareOrdinal(unknown, known[^1]) > 0));
        }
        // Made here first, since asking a table that isn't there yet would be an error in the database's log and ours.
        await db.Database.ExecuteSqlRawAsync(history.GetCreateIfNotExistsScript(), cancellation);
        await db.Database.MigrateAsync(cancellation);
    }

    private static string WordsFor(string step, bool isLater) =>
        isLater
            ? $"This database was made by a later Able Lark (step {step}). Nothing in it was changed. "
                + "Run that one, or put back a backup made with this one."
            : $"This database was made before Able Lark's first form (step {step}), and can't be brought up to date. "
                + "Nothing in it was changed. "
                + "For the demo: ./lark demo --fresh makes its data anew. Otherwise name an empty database.";
}
