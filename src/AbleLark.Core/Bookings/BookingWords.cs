using AbleLark.Core.Reasons;

namespace AbleLark.Core.Bookings;

/// <summary>The one place where warnings of a place that a person gives get their words.</summary>
public static class BookingWords
{
    /// <summary>What speaks against a place that a person gives.</summary>
    public static string Of(BookingWarning warning) =>
        (warning.Rule, warning.Closed) switch
        {
            (_, ReasonCode.TooClose) => "Nearer to another delivery than the channel's spacing.",
            (_, ReasonCode.DayFull) => "The channel has its most deliveries for that day already.",
            (Rule.Lifespan, _) => "Outside its dates.",
            (Rule.Once, _) => "It went out there already, and is to go once.",
            (Rule.Gap, _) => "Inside its repeat gap.",
            (Rule.IdenticalText, _) => "The same text too soon: the network will refuse it.",
            _ => throw new ArgumentOutOfRangeException(nameof(warning), warning, "A warning without words."),
        };
}
