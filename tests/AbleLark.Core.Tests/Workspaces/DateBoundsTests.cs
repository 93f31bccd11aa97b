using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Tests.Workspaces;

public sealed class DateBoundsTests
{
    private static readonly LocalDate Today = new(2026, 3, 2);

    [Theory]
    [InlineData("1999-12-31", false)]
    [InlineData("2000-01-01", true)]
    [InlineData("2031-03-02", true)]
    [InlineData("2031-03-03", false)]
    [InlineData("-9998-01-01", false)]
    [InlineData("9999-12-31", false)]
    public void Dates_to_plan_with_lie_between_the_year_2000_and_five_years_from_now(string date, bool within)
    {
        Assert.Equal(within, DateBounds.Contains(NodaTime.Text.LocalDatePattern.Iso.Parse(date).Value, Today));
    }

    [Fact]
    public void Whoever_names_another_is_told_the_bounds()
    {
        Assert.Equal(
            "31 Dec 9999 is not a date to plan with: dates lie between 1 Jan 2000 and 2 Mar 2031. Is the year right?",
            DateBounds.Words(new(9999, 12, 31), Today)
        );
    }
}
