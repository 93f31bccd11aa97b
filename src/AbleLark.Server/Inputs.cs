using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Problems;

namespace AbleLark.Server;

/// <summary>Small checks on what people type.</summary>
public static class Inputs
{
    /// <summary>Refuses a time the wrong way round, or longer than is answered at once.</summary>
    public static void Days(NodaTime.LocalDate first, NodaTime.LocalDate last, int most)
    {
        if (last < first)
            throw ProblemException.BadInput("The last date lies before the first. Swap them.");
        if (NodaTime.Period.DaysBetween(first, last) >= most)
            throw ProblemException.BadInput($"{most} days is the most at once. Ask for a shorter time.");
    }

    /// <summary>Refuses what would be more than a workspace may hold (see <see cref="WorkspaceLimits"/>).</summary>
    public static void Room(int there, int more, int most, string what)
    {
        if (there + more > most)
            throw ProblemException.BadInput(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"The workspace holds {there:N0} {what}, and {most:N0} is the most. Take out what is no longer used."
                )
            );
    }
}

/// <summary>Leaves out NUL characters, which the database can't keep and nobody can see.</summary>
public sealed class CleanStringConverter : JsonConverter<string>
{
    public override string? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        try
        {
            return reader.GetString()?.Replace("\0", "", StringComparison.Ordinal);
        }
        catch (InvalidOperationException e)
        {
            throw new JsonException("A text holds half a character.", e);
        }
    }

    public override void Write(Utf8JsonWriter writer, string value, JsonSerializerOptions options) => writer.WriteStringValue(value);

    public override string ReadAsPropertyName(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        Read(ref reader, typeToConvert, options)!;

    public override void WriteAsPropertyName(Utf8JsonWriter writer, string value, JsonSerializerOptions options) =>
        writer.WritePropertyName(value);
}
