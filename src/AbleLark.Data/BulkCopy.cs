using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Npgsql;

namespace AbleLark.Data;

/// <summary>Writes many new rows at once by PostgreSQL's COPY, as the model maps them. Nothing is tracked, told or logged.</summary>
public static class BulkCopy
{
    /// <remarks>Within the context's transaction, if it has one.</remarks>
    public static async Task CopyAsync<T>(this LarkDb db, IReadOnlyCollection<T> rows, CancellationToken cancellation)
        where T : class
    {
        IEntityType type = db.Model.FindEntityType(typeof(T)) ?? throw new ArgumentException($"{typeof(T).Name} is not stored.");
        var columns = type.GetProperties().Select(p => (Property: p, Column: p.GetColumnName(), Kind: p.GetColumnType())).ToList();
        string names = string.Join(", ", columns.Select(c => $"\"{c.Column}\""));
        // Documents are written out on all processors before the database is kept waiting.
        object?[][] values = new object?[rows.Count][];
        T[] all = [.. rows];
        Parallel.For(0, all.Length, i => values[i] = [.. columns.Select(c => ValueOf(c.Property, all[i]))]);
        await db.Database.OpenConnectionAsync(cancellation);
        try
        {
            NpgsqlConnection connection = (NpgsqlConnection)db.Database.GetDbConnection();
            await using NpgsqlBinaryImporter importer = await connection.BeginBinaryImportAsync(
                $"copy \"{type.GetTableName()}\" ({names}) from stdin (format binary)",
                cancellation
            );
            foreach (object?[] row in values)
            {
                cancellation.ThrowIfCancellationRequested();
                // What is written goes to a buffer most of the time: waiting for each value by itself would take longer than writing it.
                importer.StartRow();
                for (int i = 0; i < row.Length; i++)
                {
                    if (row[i] is { } value)
                        importer.Write(value, columns[i].Kind);
                    else
                        importer.WriteNull();
                }
            }
            await importer.CompleteAsync(cancellation);
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }
    }

    private static object? ValueOf(IProperty property, object row)
    {
        object? value = property.GetGetter().GetClrValue(row);
        return value is not null && property.GetTypeMapping().Converter is { } converter ? converter.ConvertToProvider(value) : value;
    }
}
