using System.Collections.Concurrent;
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
    /// <param name="documents">Values that other rows hold as well are written out once.</param>
    public static PreparedRows Prepare<T>(this LarkDb db, IReadOnlyCollection<T> rows, Documents? documents = null)
        where T : class
    {
        IEntityType type = db.Model.FindEntityType(typeof(T)) ?? throw new ArgumentException($"{typeof(T).Name} is not stored.");
        IProperty[] properties = [.. type.GetProperties()];
        object?[][] values = new object?[rows.Count][];
        T[] all = [.. rows];
        Parallel.For(0, all.Length, i => values[i] = [.. properties.Select(p => ValueOf(p, all[i], documents))]);
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

    private static object? ValueOf(IProperty property, object row, Documents? documents)
    {
        object? value = property.GetGetter().GetClrValue(row);
        return value is null || property.GetTypeMapping().Converter is not { } converter ? value
            : documents is not null && property.IsDocument() ? documents.Of(property, value)
            : converter.ConvertToProvider(value);
    }

    /// <summary>True where the database keeps the value as one document.</summary>
    internal static bool IsDocument(this IProperty property) => property.GetColumnType() == "jsonb";
}

/// <summary>Rows to be copied into a table.</summary>
/// <param name="Columns">Names and PostgreSQL's types.</param>
public sealed record PreparedRows(string Table, IReadOnlyList<(string Name, string Kind)> Columns, IReadOnlyList<object?[]> Values);

/// <summary>Values as they were written out as documents: a post's content is in the post, its version and the log.</summary>
public sealed class Documents
{
    private readonly ConcurrentDictionary<object, string> _written = new(ReferenceEqualityComparer.Instance);

    internal string Of(IProperty property, object value) =>
        _written.GetOrAdd(value, v => (string)property.GetTypeMapping().Converter!.ConvertToProvider(v)!);
}
