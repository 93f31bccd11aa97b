using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace AbleLark.Core.Content;

/// <summary>
/// Values of content fields, by their declarations. A field that isn't in it is as in the next layer; one that is in it as null holds
/// nothing on purpose.
/// </summary>
[JsonConverter(typeof(FieldValuesJson))]
public sealed class FieldValues : IEquatable<FieldValues>
{
    private readonly ImmutableDictionary<Field, object?> _values;

    private FieldValues(ImmutableDictionary<Field, object?> values) => _values = values;

    public static FieldValues Empty { get; } = new(ImmutableDictionary<Field, object?>.Empty);

    public bool IsEmpty => _values.IsEmpty;

    /// <summary>The fields that it says something of.</summary>
    public IEnumerable<Field> Fields => _values.Keys;

    public bool Has(Field field) => _values.ContainsKey(field);

    /// <summary>The field's value; null: nothing, or not in it (see <see cref="Has"/>).</summary>
    public T? Get<T>(Field<T> field)
        where T : class => (T?)ValueOf(field);

    /// <inheritdoc cref="Get"/>
    public object? ValueOf(Field field) => _values.GetValueOrDefault(field);

    /// <summary>False for a value that is written in a way that isn't taken in: half a web address, a date that is none.</summary>
    public bool CanBeTaken(Field field)
    {
        try
        {
            field.Tidy(ValueOf(field));
            return true;
        }
        catch (FormatException)
        {
            return false;
        }
    }

    public FieldValues With<T>(Field<T> field, T? value)
        where T : class => WithValue(field, value);

    public FieldValues Without(Field field) => new(_values.Remove(field));

    /// <summary>The same, with whatever another says in its place.</summary>
    internal FieldValues Under(FieldValues over) =>
        over.Fields.Aggregate(this, (values, field) => values.WithValue(field, over.ValueOf(field)));

    internal FieldValues WithValue(Field field, object? value) => new(_values.SetItem(field, value));

    public bool Equals(FieldValues? other) =>
        other is not null
        && _values.Count == other._values.Count
        && _values.All(v => other._values.TryGetValue(v.Key, out object? value) && Equals(v.Value, value));

    public override bool Equals(object? obj) => Equals(obj as FieldValues);

    public override int GetHashCode() => _values.Aggregate(0, (hash, v) => hash ^ HashCode.Combine(v.Key.Key, v.Value));
}

/// <summary>An object by the fields' keys.</summary>
/// <param name="fields">The fields that there are.</param>
public sealed class FieldValuesJson(IReadOnlyList<Field> fields) : JsonConverter<FieldValues>
{
    private readonly Dictionary<string, Field> _byKey = fields.ToDictionary(f => f.Key, StringComparer.Ordinal);

    public FieldValuesJson()
        : this(ContentFields.All) { }

    public override FieldValues Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType != JsonTokenType.StartObject)
            throw new UnreadableException("Content is an object of values by field.");
        FieldValues values = FieldValues.Empty;
        while (reader.Read() && reader.TokenType != JsonTokenType.EndObject)
        {
            string key = reader.GetString()!;
            if (!_byKey.TryGetValue(key, out Field? field))
                throw new UnreadableException(
                    $"There is no content field “{(key.Length > 40 ? key[..40] + "…" : key)}”. There are: {string.Join(", ", _byKey.Keys)}."
                );
            reader.Read();
            try
            {
                values = values.WithValue(field, field.Read(ref reader, options));
            }
            catch (JsonException e) when (e is not UnreadableException)
            {
                throw new UnreadableException($"The value of “{field.Key}” can't be read. Check how it is written.");
            }
        }
        return values;
    }

    public override void Write(Utf8JsonWriter writer, FieldValues value, JsonSerializerOptions options)
    {
        writer.WriteStartObject();
        foreach (Field field in value.Fields.OrderBy(f => f.Key, StringComparer.Ordinal))
        {
            writer.WritePropertyName(field.Key);
            field.Write(writer, value.ValueOf(field), options);
        }
        writer.WriteEndObject();
    }
}
