using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Npgsql;

namespace AbleLark.Data;

/// <summary>Writes many new rows at once by PostgreSQL's COPY, as the model maps them. Nothing is tracked, told or logged.</summary>
public static class BulkCopy
{
    /// <remarks>Within the context's transaction, if it has one.</remarks>
    public static Task CopyAsync<T>(this LarkDb db, IReadOnlyCollection<T> rows, CancellationToken cancellation)
        where T : class => db.CopyAsync(db.Prepare(rows), cancellation);

    /// <summary>Rows as the database takes them: their documents are written out, on all processors, while it need not wait.</summary>
    public static PreparedRows Prepare<T>(this LarkDb db, IReadOnlyCollection<T> rows)
        where T : class
    {
        IEntityType type = db.Model.FindEntityType(typeof(T)) ?? throw new ArgumentException($"{typeof(T).Name} is not stored.");
        IProperty[] properties = [.. type.GetProperties()];
        object?[][] values = new object?[rows.Count][];
        T[] all = [.. rows];
        Parallel.For(0, all.Length, i => values[i] = [.. properties.Select(p => ValueOf(p, all[i]))]);
        return new(type.GetTableName()!, [.. properties.Select(p => (p.GetColumnName(), p.GetColumnType()))], values);
    }

    /// <inheritdoc cref="CopyAsync{T}"/>
    public static async Task CopyAsync(this LarkDb db, PreparedRows rows, CancellationToken cancellation)
    {
        string names = string.Join(", ", rows.Columns.Select(c => $"\"{c.Name}\""));
        await db.Database.OpenConnectionAsync(cancellation);
        try
        {
            NpgsqlConnection connection = (NpgsqlConnection)db.Database.GetDbConnection();
            await using NpgsqlBinaryImporter importer = await connection.BeginBinaryImportAsync(
                $"copy \"{rows.Table}\" ({names}) from stdin (format binary)",
                cancellation
            );
            foreach (object?[] row in rows.Values)
            {
                cancellation.ThrowIfCancellationRequested();
                // What is written goes to a buffer most of the time: waiting for each value by itself would take longer than writing it.
                importer.StartRow();
                for (int i = 0; i < row.Length; i++)
                {
                    if (row[i] is { } value)
                        importer.Write(value, rows.Columns[i].Kind);
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

/// <summary>Rows to be copied into a table.</summary>
/// <param name="Columns">Names and PostgreSQL's types.</param>
public sealed record PreparedRows(string Table, IReadOnlyList<(string Name, string Kind)> Columns, IReadOnlyList<object?[]> Values);
