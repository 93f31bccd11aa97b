using System.Text.Json;
using System.Text.Json.Serialization;
using AbleLark.Core;
using NodaTime;
using NodaTime.Serialization.SystemTextJson;

namespace AbleLark.Data;

/// <summary>How values are written as JSON, in the database and in the API alike.</summary>
public static class LarkJson
{
    public static JsonSerializerOptions Options { get; } = Configure(new(JsonSerializerDefaults.Web));

    public static JsonSerializerOptions Configure(JsonSerializerOptions options)
    {
        options.NumberHandling = JsonNumberHandling.Strict;
        options.ConfigureForNodaTime(DateTimeZoneProviders.Tzdb);
        options.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase, allowIntegerValues: false));
        options.Converters.Add(new IdJsonConverterFactory());
        return options;
    }

    private sealed class IdJsonConverterFactory : JsonConverterFactory
    {
        public override bool CanConvert(Type typeToConvert) =>
            typeToConvert.IsGenericType && typeToConvert.GetGenericTypeDefinition() == typeof(Id<>);

        public override JsonConverter CreateConverter(Type typeToConvert, JsonSerializerOptions options) =>
            (JsonConverter)Activator.CreateInstance(typeof(IdJsonConverter<>).MakeGenericType(typeToConvert.GetGenericArguments()))!;
    }

    private sealed class IdJsonConverter<T> : JsonConverter<Id<T>>
    {
        public override Id<T> Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) => new(reader.GetGuid());

        public override void Write(Utf8JsonWriter writer, Id<T> value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.Value);

        public override Id<T> ReadAsPropertyName(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            Guid.TryParse(reader.GetString(), out Guid id)
                ? new(id)
                : throw new JsonException($"“{reader.GetString()}” is not an identity.");

        public override void WriteAsPropertyName(Utf8JsonWriter writer, Id<T> value, JsonSerializerOptions options) =>
            writer.WritePropertyName(value.Value.ToString());
    }
}
