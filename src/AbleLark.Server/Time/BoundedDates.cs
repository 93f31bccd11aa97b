using System.Text.Json;
using System.Text.Json.Serialization;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Problems;
using NodaTime;
using NodaTime.Serialization.SystemTextJson;

namespace AbleLark.Server.Time;

/// <summary>Reads dates in requests within <see cref="DateBounds"/>; wherever a body holds a date, this is what reads it.</summary>
public static class BoundedDates
{
    public static void AddTo(JsonSerializerOptions options, TimeAhead time)
    {
        options.Converters.Insert(0, new Bounded<LocalDate>(NodaConverters.LocalDateConverter, date => date, time));
        options.Converters.Insert(0, new Bounded<LocalDateTime>(NodaConverters.LocalDateTimeConverter, moment => moment.Date, time));
    }

    private sealed class Bounded<T>(JsonConverter<T> plain, Func<T, LocalDate> date, TimeAhead time) : JsonConverter<T>
    {
        public override T? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            T value = plain.Read(ref reader, typeToConvert, options)!;
            return DateBounds.Contains(date(value), time.Today)
                ? value
                : throw new DateOutOfBoundsException(DateBounds.Words(date(value), time.Today));
        }

        public override void Write(Utf8JsonWriter writer, T value, JsonSerializerOptions options) => plain.Write(writer, value, options);
    }
}
