using System.Text;
using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Kinds;
using AbleLark.Data.Rows;
using AbleLark.Data.Undoing;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata;

namespace AbleLark.Data.Changes;

/// <summary>Writes what an act changes into its change set.</summary>
public static class ChangeRecorder
{
    /// <param name="first">Number of its first change that isn't written yet.</param>
    public static void Record(ChangeSet act, ChangeTracker tracker, int first)
    {
        foreach (EntityEntry entry in tracker.Entries().ToList())
        {
            if (StoredKinds.Of(entry.Metadata.ClrType)?.Log.Name is not { } kindOfRow)
                continue;
            ChangeKind? kind = entry.State switch
            {
                EntityState.Added => ChangeKind.Added,
                EntityState.Modified => ChangeKind.Changed,
                EntityState.Deleted => ChangeKind.Removed,
                _ => null,
            };
            if (kind is null)
                continue;
            PropertyEntry[] properties =
            [
                .. entry.Properties.Where(p =>
                    (kind != ChangeKind.Changed || p.IsModified) && !LoggedValues.IsBookkeeping(p.Metadata.Name)
                ),
            ];
            if (properties.Length == 0)
                continue;
            act.Changes.Add(
                new()
                {
                    WorkspaceId = act.WorkspaceId,
                    ChangeSetId = act.Id,
                    Number = first + act.Changes.Count,
                    Kind = kind.Value,
                    Entity = kindOfRow,
                    EntityId = EntityId(entry),
                    Before = kind == ChangeKind.Added ? null : properties.ToDictionary(NameOf, p => LoggedValues.Json(p, p.OriginalValue)),
                    After = kind == ChangeKind.Removed ? null : properties.ToDictionary(NameOf, p => LoggedValues.Json(p, p.CurrentValue)),
                }
            );
        }
    }

    /// <summary>What the log says of new rows that are written past the context (see <see cref="BulkCopy"/>), in their order.</summary>
    /// <param name="first">Number of the first one.</param>
    /// <param name="documents">What is written out already.</param>
    public static PreparedRows Added(LarkDb db, ChangeSet act, IReadOnlyList<(object Row, Guid Id)> rows, int first, Documents documents)
    {
        PreparedRows prepared = db.Prepare([
            .. rows.Select(
                (r, i) =>
                    new Change
                    {
                        WorkspaceId = act.WorkspaceId,
                        ChangeSetId = act.Id,
                        Number = first + i,
                        Kind = ChangeKind.Added,
                        Entity = StoredKinds.Of(r.Row.GetType())!.Log.Name!,
                        EntityId = r.Id,
                    }
            ),
        ]);
        string after = db.Model.FindEntityType(typeof(Change))!.FindProperty(nameof(Change.After))!.GetColumnName();
        int place = prepared.Columns.ToList().FindIndex(c => c.Name == after);
        Parallel.For(0, rows.Count, i => prepared.Values[i][place] = ValuesOf(db, rows[i].Row, documents));
        return prepared;
    }

    /// <summary>All values of a row as the log keeps them, as one document.</summary>
    private static string ValuesOf(LarkDb db, object row, Documents documents)
    {
        using MemoryStream text = new();
        using (Utf8JsonWriter writer = new(text))
        {
            writer.WriteStartObject();
            foreach (IProperty property in db.Model.FindEntityType(row.GetType())!.GetProperties())
            {
                if (LoggedValues.IsBookkeeping(property.Name))
                    continue;
                object? value = property.GetGetter().GetClrValue(row);
                writer.WritePropertyName(property.GetColumnName());
                if (value is not null && property.IsDocument())
                    writer.WriteRawValue(documents.Of(property, value), skipInputValidation: true);
                else
                    JsonSerializer.Serialize(writer, value, property.ClrType, LarkJson.Options);
            }
            writer.WriteEndObject();
        }
        return Encoding.UTF8.GetString(text.GetBuffer(), 0, (int)text.Length);
    }

    /// <summary>The name of a value in the log: its column's, which stays whatever the property is called.</summary>
    private static string NameOf(PropertyEntry property) => property.Metadata.GetColumnName();

    public static Guid EntityId(EntityEntry entry)
    {
        PropertyEntry id = entry.Property("Id");
        object provided = id.Metadata.GetTypeMapping().Converter?.ConvertToProvider(id.CurrentValue) ?? id.CurrentValue!;
        return (Guid)provided;
    }
}
