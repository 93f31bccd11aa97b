using System.Collections;
using System.Text.Json;
using System.Text.Json.Serialization.Metadata;

namespace AbleLark.Server;

/// <summary>Refuses lists with nothing in one of their places: the serializer minds null values of properties, but not of items.</summary>
internal static class FullLists
{
    public static void Modify(JsonTypeInfo type)
    {
        if (type.Kind != JsonTypeInfoKind.Object || type.Type.Namespace?.StartsWith(nameof(AbleLark), StringComparison.Ordinal) != true)
            return;
        JsonPropertyInfo[] lists = [.. type.Properties.Where(p => p.Get is not null && IsList(p.PropertyType))];
        if (lists.Length == 0)
            return;
        Action<object>? before = type.OnDeserialized;
        type.OnDeserialized = read =>
        {
            before?.Invoke(read);
            foreach (JsonPropertyInfo list in lists)
            {
                if (list.Get!(read) is IEnumerable items && items.Cast<object?>().Contains(null))
                    throw new JsonException("A list holds nothing in one of its places.", $"$.{list.Name}", null, null);
            }
        };
    }

    private static bool IsList(Type type) =>
        type != typeof(string) && typeof(IEnumerable).IsAssignableFrom(type) && !typeof(IDictionary).IsAssignableFrom(type);
}
