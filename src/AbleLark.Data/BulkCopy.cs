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
        await db.Database.OpenConnectionAsync(cancellation);
        try
        {
            NpgsqlConnection connection = (NpgsqlConnection)db.Database.GetDbConnection();
            await using NpgsqlBinaryImporter importer = await connection.BeginBinaryImportAsync(
                $"copy \"{type.GetTableName()}\" ({names}) from stdin (format binary)",
                cancellation
            );
            foreach (T row in rows)
            {
                await importer.StartRowAsync(cancellation);
                foreach ((IProperty property, _, string kind) in columns)
                {
                    object? value = property.GetGetter().GetClrValue(row);
                    if (value is not null && property.GetTypeMapping().Converter is { } converter)
                        value = converter.ConvertToProvider(value);
                    if (value is null)
                        await importer.WriteNullAsync(cancellation);
                    else
                        await importer.WriteAsync(value, kind, cancellation);
                }
            }
            await importer.CompleteAsync(cancellation);
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }
    }
}
