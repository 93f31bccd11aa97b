using NodaTime;

namespace AbleLark.Core.Results;

/// <summary>The deliveries sent from one local date to another, both counted.</summary>
public sealed record ResultsPeriod(LocalDate From, LocalDate To)
{
    private const int YearDays = 364;

    public int Days => Period.DaysBetween(From, To) + 1;

    /// <summary>
    /// What it is held against: months with the months before, other periods shifted back by the least whole number of weeks that isn't
    /// shorter, so that weekdays meet their like.
    /// </summary>
    public ResultsPeriod Before
    {
        get
        {
            if (WholeMonths is { } months)
                return new(From.PlusMonths(-months), From.PlusDays(-1));
            int weeks = (Days + 6) / 7;
            return Shifted(weeks * 7);
        }
    }

    /// <summary>The same 364 days earlier; whole months, the same months of the year before.</summary>
    public ResultsPeriod YearBefore =>
        WholeMonths is { } months ? new(From.PlusYears(-1), From.PlusYears(-1).PlusMonths(months).PlusDays(-1)) : Shifted(YearDays);

    /// <summary>How many whole calendar months it is; null: it isn't.</summary>
    private int? WholeMonths
    {
        get
        {
            if (From.Day != 1 || To.PlusDays(1).Day != 1)
                return null;
            LocalDate after = To.PlusDays(1);
            int months = (12 * (after.Year - From.Year)) + after.Month - From.Month;
            return months > 0 ? months : null;
        }
    }

    private ResultsPeriod Shifted(int days) => new(From.PlusDays(-days), To.PlusDays(-days));
}
