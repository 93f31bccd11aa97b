using System.Text.Json;
using System.Text.Json.Serialization;

namespace AbleLark.Core.Figures;

/// <summary>What a delivery has earned up to one moment, by kind. A figure that is missing isn't in it: missing is never nought.</summary>
[JsonConverter(typeof(Json))]
public sealed class FigureSet : IEquatable<FigureSet>
{
    private readonly Dictionary<FigureKind, double> _values;

    private FigureSet(Dictionary<FigureKind, double> values) => _values = values;

    public static FigureSet Of(params IEnumerable<(FigureKind Kind, double Value)> figures) =>
        new(figures.ToDictionary(f => f.Kind, f => f.Value));

    /// <summary>The figure of that kind; null: missing.</summary>
    public double? this[FigureKind kind] => _values.TryGetValue(kind, out double value) ? value : null;

    /// <summary>What isn't missing, in the order in which it is shown.</summary>
    public IEnumerable<(FigureKind Kind, double Value)> All => FigureKind.All.Where(_values.ContainsKey).Select(k => (k, _values[k]));

    /// <summary>The figures by their kinds' numbers, the first at index 0, so that plain SQL can sum them; null: missing.</summary>
    public double?[] ByNumber()
    {
        double?[] values = new double?[FigureKind.All.Max(k => k.Number)];
        foreach ((FigureKind kind, double value) in All)
            values[kind.Number - 1] = value;
        return values;
    }

    /// <summary>The other way round from <see cref="ByNumber"/>. Arrays from before a kind was declared are shorter.</summary>
    public static FigureSet FromNumbers(IReadOnlyList<double?> values) =>
        Of(
            FigureKind
                .All.Where(k => k.Number <= values.Count && values[k.Number - 1] is not null)
                .Select(k => (k, values[k.Number - 1]!.Value))
        );

    public bool Equals(FigureSet? other) => other is not null && All.SequenceEqual(other.All);

    public override bool Equals(object? obj) => Equals(obj as FigureSet);

    public override int GetHashCode() => All.Aggregate(0, (hash, f) => HashCode.Combine(hash, f.Kind.Number, f.Value));

    /// <summary>An object by key. What isn't a figure that we know is passed over: networks tell more than we ask.</summary>
    private sealed class Json : JsonConverter<FigureSet>
    {
        public override FigureSet Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            Dictionary<FigureKind, double> values = [];
            using JsonDocument document = JsonDocument.ParseValue(ref reader);
            if (document.RootElement.ValueKind != JsonValueKind.Object)
                throw new UnreadableException("Figures are an object of numbers by kind.");
            foreach (JsonProperty given in document.RootElement.EnumerateObject())
            {
                if (FigureKind.Find(given.Name) is not { } kind || given.Value.ValueKind == JsonValueKind.Null)
                    continue;
                values[kind] =
                    given.Value.ValueKind == JsonValueKind.Number
                        ? given.Value.GetDouble()
                        : throw new UnreadableException($"The figure “{kind.Key}” is not a number.");
            }
            return new(values);
        }

        public override void Write(Utf8JsonWriter writer, FigureSet value, JsonSerializerOptions options)
        {
            writer.WriteStartObject();
            foreach ((FigureKind kind, double figure) in value.All)
                writer.WriteNumber(kind.Key, figure);
            writer.WriteEndObject();
        }
    }
}
