using System.Reflection;
using System.Text.Json;
using Microsoft.AspNetCore.Http.Metadata;

namespace AbleLark.Server.Problems;

/// <summary>Names the value of an address that can't be read, where the framework only says that one can't.</summary>
internal static class UnreadableValues
{
    /// <returns>Null when each can be read.</returns>
    public static string? WordsFor(HttpContext http)
    {
        foreach (IParameterBindingMetadata parameter in http.GetEndpoint()?.Metadata.GetOrderedMetadata<IParameterBindingMetadata>() ?? [])
        {
            if (!parameter.HasTryParse)
                continue;
            Type given = parameter.ParameterInfo.ParameterType;
            Type type = Nullable.GetUnderlyingType(given) ?? given.GetElementType() ?? given;
            IEnumerable<string?> values = http.Request.RouteValues.TryGetValue(parameter.Name, out object? part)
                ? [part?.ToString()]
                : http.Request.Query[parameter.Name];
            string? unreadable = values.FirstOrDefault(v => !string.IsNullOrEmpty(v) && !Reads(type, v));
            // Some are properties in the code; in addresses all begin small.
            if (unreadable is not null)
                return $"“{unreadable}” is not a value that “{JsonNamingPolicy.CamelCase.ConvertName(parameter.Name)}” can have.";
        }
        return null;
    }

    private static bool Reads(Type type, string value)
    {
        if (type.IsEnum)
            return Enum.TryParse(type, value, ignoreCase: true, out _);
        foreach (MethodInfo tryParse in type.GetMethods(BindingFlags.Public | BindingFlags.Static).Where(m => m.Name == "TryParse"))
        {
            ParameterInfo[] takes = tryParse.GetParameters();
            if (takes[0].ParameterType != typeof(string))
                continue;
            if (takes.Length == 2)
                return (bool)tryParse.Invoke(null, [value, null])!;
            if (takes.Length == 3 && takes[1].ParameterType == typeof(IFormatProvider))
                return (bool)tryParse.Invoke(null, [value, null, null])!;
        }
        return true;
    }
}
