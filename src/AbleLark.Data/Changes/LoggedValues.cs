using System.Text.Json;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data.Changes;

/// <summary>Reads what the change log holds.</summary>
internal static class LoggedValues
{
    /// <summary>What the log holds under columns' names, by property. A value whose column is gone is left out.</summary>
    public static Dictionary<string, JsonElement> ByProperty(this LarkDb db, Type type, Dictionary<string, JsonElement> logged) =>
        db
            .Model.FindEntityType(type)!
            .GetProperties()
            .Where(p => logged.ContainsKey(p.GetColumnName()) && !ChangeRecorder.IsBookkeeping(p.Name))
            .ToDictionary(p => p.Name, p => logged[p.GetColumnName()]);
}
