using NodaTime;

namespace AbleLark.Core.Results;

/// <summary>A part of the day, by local time.</summary>
public enum PartOfDay
{
    /// <summary>From 22:00 to 6:00.</summary>
    Night,

    /// <summary>From 6:00 to 11:00.</summary>
    Morning,

    /// <summary>From 11:00 to 14:00.</summary>
    Midday,

    /// <summary>From 14:00 to 18:00.</summary>
    Afternoon,

    /// <summary>From 18:00 to 22:00.</summary>
    Evening,
}

/// <summary>When in the week something goes out, as coarsely as it is compared. Common practice, no source.</summary>
public readonly record struct Daypart(PartOfDay Part, bool IsWeekend)
{
    /// <summary>Its level in a comparison: 0 to 9.</summary>
    public int Level => (2 * (int)Part) + (IsWeekend ? 1 : 0);

    /// <summary>Coarser levels, for few posts: without the weekend, then none.</summary>
    public static IReadOnlyList<Func<int, int>> Merged { get; } = [level => level / 2, _ => 0];

    public static Daypart Of(LocalDate date, int hour) =>
        new(
            hour switch
            {
                < 6 or >= 22 => PartOfDay.Night,
                < 11 => PartOfDay.Morning,
                < 14 => PartOfDay.Midday,
                < 18 => PartOfDay.Afternoon,
                _ => PartOfDay.Evening,
            },
            date.DayOfWeek is IsoDayOfWeek.Saturday or IsoDayOfWeek.Sunday
        );

    public static Daypart OfLevel(int level) => new((PartOfDay)(level / 2), level % 2 == 1);
}
