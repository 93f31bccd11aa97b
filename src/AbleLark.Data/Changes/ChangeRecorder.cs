using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data.History;
using AbleLark.Data.Kinds;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata;

namespace AbleLark.Data.Changes;

/// <summary>Writes what an act changes into its change set.</summary>
public static class ChangeRecorder
{
    private static readonly HashSet<string> Bookkeeping =
    [
        nameof(Workspace.PlanStamp),
        nameof(Workspace.ScheduledStamp),
        nameof(Workspace.ScheduledThrough),
        nameof(Workspace.NextToPass),
        nameof(Delivery.Revision),
        // Worked out from the content, and anew wherever that changes: undo brings back what it follows from.
        nameof(Post.SearchText),
        nameof(Post.FileIds),
        nameof(Post.Fits),
        nameof(Post.Hashes),
        nameof(Post.CheckedBy),
    ];

    /// <summary>True for values that are no person's and follow from others.</summary>
    public static bool IsBookkeeping(string property) => Bookkeeping.Contains(property);

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
                .. entry.Properties.Where(p => (kind != ChangeKind.Changed || p.IsModified) && !Bookkeeping.Contains(p.Metadata.Name)),
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
                    Before = kind == ChangeKind.Added ? null : properties.ToDictionary(NameOf, p => Json(p, p.OriginalValue)),
                    After = kind == ChangeKind.Removed ? null : properties.ToDictionary(NameOf, p => Json(p, p.CurrentValue)),
                }
            );
        }
    }

    /// <summary>What the log says of a new row that is written past the context (see <see cref="BulkCopy"/>).</summary>
    public static Change Added(LarkDb db, ChangeSet act, object row, Guid id, int number)
    {
        IEntityType type = db.Model.FindEntityType(row.GetType())!;
        return new()
        {
            WorkspaceId = act.WorkspaceId,
            ChangeSetId = act.Id,
            Number = number,
            Kind = ChangeKind.Added,
            Entity = StoredKinds.Of(row.GetType())!.Log.Name!,
            EntityId = id,
            After = type.GetProperties()
                .Where(p => !Bookkeeping.Contains(p.Name))
                .ToDictionary(
                    p => p.GetColumnName(),
                    p => JsonSerializer.SerializeToElement(p.GetGetter().GetClrValue(row), p.ClrType, LarkJson.Options)
                ),
        };
    }

    /// <summary>The name of a value in the log: its column's, which stays whatever the property is called.</summary>
    private static string NameOf(PropertyEntry property) => property.Metadata.GetColumnName();

    public static JsonElement Json(PropertyEntry property, object? value) =>
        JsonSerializer.SerializeToElement(value, property.Metadata.ClrType, LarkJson.Options);

    public static Guid EntityId(EntityEntry entry)
    {
        PropertyEntry id = entry.Property("Id");
        object provided = id.Metadata.GetTypeMapping().Converter?.ConvertToProvider(id.CurrentValue) ?? id.CurrentValue!;
        return (Guid)provided;
    }
}
