using System.Globalization;
using System.Text.Json.Serialization;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Core.Acts;

/// <summary>What was done, as it is kept: a code, and what it was done with.</summary>
public sealed record Act
{
    /// <param name="values">In the order in which the words use them: names and numbers, dates and times of the clock.</param>
    public Act(ActCode code, params IReadOnlyList<object> values)
        : this(code, [.. values.Select(Kept)], before: null) { }

    [JsonConstructor]
    public Act(ActCode code, IReadOnlyList<string> values, Act? before) => (Code, Values, Before) = (code, values ?? [], before);

    public ActCode Code { get; init; }

    /// <summary>As text: dates by ISO 8601, times as 14:30.</summary>
    public IReadOnlyList<string> Values { get; init; }

    /// <summary>The act that this one took back, or did again.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public Act? Before { get; init; }

    [JsonIgnore]
    public string Words => ActWords.Of(this);

    /// <summary>Taking this one back; of one that took something back: doing that again. However often, it names one act.</summary>
    public Act TakenBack() =>
        Code switch
        {
            ActCode.TakenBack => new(ActCode.DoneAgain, [], Before),
            ActCode.DoneAgain => new(ActCode.TakenBack, [], Before),
            _ => new(ActCode.TakenBack, [], this),
        };

    internal string Of(int value) => Values[value];

    internal int Number(int value) => int.Parse(Values[value], CultureInfo.InvariantCulture);

    private static string Kept(object value) =>
        value switch
        {
            LocalDate date => LocalDatePattern.Iso.Format(date),
            LocalTime time => time.ToString("HH:mm", CultureInfo.InvariantCulture),
            IFormattable other => other.ToString(null, CultureInfo.InvariantCulture),
            _ => value.ToString() ?? "",
        };

    public bool Equals(Act? other) =>
        other is not null && Code == other.Code && Values.SequenceEqual(other.Values) && Equals(Before, other.Before);

    public override int GetHashCode() => HashCode.Combine(Code, Values.Count);
}
