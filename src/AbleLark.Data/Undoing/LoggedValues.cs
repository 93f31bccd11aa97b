using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata;

namespace AbleLark.Data.Undoing;

/// <summary>Reads what the change log holds.</summary>
public static class LoggedValues
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

    /// <summary>What the log holds under columns' names, by property. A value whose column is gone is left out.</summary>
    internal static Dictionary<string, JsonElement> ByProperty(this LarkDb db, Type type, Dictionary<string, JsonElement> logged) =>
        db
            .Model.FindEntityType(type)!
            .GetProperties()
            .Where(p => logged.ContainsKey(p.GetColumnName()) && !IsBookkeeping(p.Name))
            .ToDictionary(p => p.Name, p => logged[p.GetColumnName()]);

    /// <summary>A value as the log keeps it.</summary>
    public static JsonElement Json(PropertyEntry property, object? value) =>
        JsonSerializer.SerializeToElement(value, property.Metadata.ClrType, LarkJson.Options);

    internal static T Read<T>(JsonElement json, IProperty property) => (T)json.Deserialize(property.ClrType, LarkJson.Options)!;
}
