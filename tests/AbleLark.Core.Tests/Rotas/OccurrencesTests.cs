using AbleLark.Core.Rotas;
using CsCheck;
using NodaTime;
using static NodaTime.IsoDayOfWeek;

namespace AbleLark.Core.Tests.Rotas;

public sealed class OccurrencesTests
{
    private static DateTimeZone Zone(string name) => DateTimeZoneProviders.Tzdb[name];

    private static Instant At(string zone, int y, int m, int d, int h, int min) =>
        Occurrences.InstantOf(new(y, m, d), new(h, min), Zone(zone))!.Value;

    // Source: RFC 5545 §3.3.5, which works out these two for America/New_York.
    [Fact]
    public void A_local_time_that_does_not_occur_is_read_with_the_offset_before_the_gap()
    {
        Assert.Equal(Instant.FromUtc(2007, 3, 11, 7, 30), At("America/New_York", 2007, 3, 11, 2, 30));
    }

    [Fact]
    public void A_local_time_that_occurs_twice_is_the_first()
    {
        Assert.Equal(Instant.FromUtc(2007, 11, 4, 5, 30), At("America/New_York", 2007, 11, 4, 1, 30));
    }

    // Source: RFC 5545 §3.3.5 on the IANA tz database (through NodaTime); zones with odd rules.
    [Theory]
    [InlineData("Europe/Dublin", 2026, 3, 29, 1, 30, 1, 30)] // gap 01:00 to 02:00; before it UTC+0
    [InlineData("Europe/Dublin", 2026, 10, 25, 1, 30, 0, 30)] // twice; the first is UTC+1
    [InlineData("Australia/Lord_Howe", 2026, 10, 4, 2, 15, 15, 45)] // gap of 30 min; before it UTC+10:30 (the day before)
    [InlineData("Australia/Lord_Howe", 2026, 4, 5, 1, 45, 14, 45)] // twice within 30 min; the first is UTC+11 (the day before)
    [InlineData("America/Sao_Paulo", 2018, 11, 4, 0, 30, 3, 30)] // gap at midnight; before it UTC-3
    [InlineData("Africa/Casablanca", 2026, 2, 15, 2, 30, 1, 30)] // Ramadan: 03:00 goes back to 02:00; the first is UTC+1
    [InlineData("Asia/Kathmandu", 2026, 6, 1, 12, 0, 6, 15)] // UTC+5:45
    public void Local_times_at_odd_clock_changes(string zone, int y, int m, int d, int h, int min, int utcHour, int utcMinute)
    {
        Assert.Equal(new LocalTime(utcHour, utcMinute), At(zone, y, m, d, h, min).InUtc().TimeOfDay);
    }

    // Source: IANA tz database: Samoa had no 30 December 2011.
    [Fact]
    public void A_date_that_the_zone_left_out_has_no_occurrence()
    {
        Assert.Null(Occurrences.InstantOf(new(2011, 12, 30), new(9, 0), Zone("Pacific/Apia")));
        LocalDate[] dates = Dates(
            Weekly(Zone("Pacific/Apia"), new(9, 0), [Thursday, Friday, Saturday]),
            new(2011, 12, 28),
            new(2012, 1, 2)
        );
        Assert.Equal([new(2011, 12, 29), new(2011, 12, 31)], dates);
    }

    [Fact]
    public void A_slot_keeps_its_local_time_across_a_clock_change()
    {
        Rota rota = Weekly(Zone("Europe/Dublin"), new(9, 0), [Sunday]);
        Instant[] instants = [.. Between(rota, new(2026, 3, 22), new(2026, 4, 1)).Select(o => o.At)];
        Assert.Equal([Instant.FromUtc(2026, 3, 22, 9, 0), Instant.FromUtc(2026, 3, 29, 8, 0)], instants);
    }

    // Source: counted by calendar.
    [Theory]
    [InlineData(2021, 69)]
    [InlineData(2022, 70)]
    [InlineData(2023, 69)]
    [InlineData(2024, 70)]
    [InlineData(2025, 70)]
    public void A_pattern_over_months_has_as_many_occurrences_as_the_calendar_says(int year, int count)
    {
        Rota rota = Weekly(Zone("Europe/Dublin"), new(12, 40), [Tuesday, Thursday, Saturday, Sunday]);
        (rota.From, rota.To) = (new(year, 3, 1), new(year, 6, 30));
        Assert.Equal(count, Between(rota, new(year, 1, 1), new(year, 12, 31)).Count);
    }

    // Source: calendar.
    [Fact]
    public void Weekdays_are_those_of_the_calendar()
    {
        Assert.Equal(
            (Monday, Tuesday, Thursday, Friday),
            (
                new LocalDate(2022, 3, 14).DayOfWeek,
                new LocalDate(2022, 3, 15).DayOfWeek,
                new LocalDate(2012, 3, 15).DayOfWeek,
                new LocalDate(2027, 1, 8).DayOfWeek
            )
        );
    }

    [Fact]
    public void The_window_of_a_rota_includes_both_ends()
    {
        Rota rota = Weekly(DateTimeZone.Utc, new(9, 0), [.. Enum.GetValues<IsoDayOfWeek>().Where(d => d != None)]);
        (rota.From, rota.To) = (new(2026, 3, 10), new(2026, 3, 12));
        Assert.Equal([new(2026, 3, 10), new(2026, 3, 11), new(2026, 3, 12)], Dates(rota, new(2026, 3, 1), new(2026, 3, 31)));
    }

    [Fact]
    public void Occurrences_at_one_instant_go_by_place()
    {
        Rota rota = Weekly(DateTimeZone.Utc, new(9, 0), [Monday]);
        rota.Slots.Add(SlotOf(rota, new(9, 0), [Monday], place: 0));
        Assert.Equal([0, 1], Between(rota, new(2026, 3, 2), new(2026, 3, 3)).Select(o => o.Slot.Position));
    }

    [Fact]
    public void There_is_one_occurrence_for_each_date_and_a_cut_changes_nothing()
    {
        string[] zones =
        [
            "Europe/Dublin",
            "Australia/Lord_Howe",
            "Pacific/Apia",
            "America/Sao_Paulo",
            "Africa/Casablanca",
            "Asia/Kathmandu",
            "America/New_York",
        ];
        Gen.Select(Gen.Int[0, zones.Length - 1].Select(i => zones[i]), Gen.Int[0, 23], Gen.Int[0, 59], Gen.Int[0, 6000], Gen.Int[1, 400])
            .Sample(
                (zone, hour, minute, start, length) =>
                {
                    Rota rota = Weekly(Zone(zone), new(hour, minute), [Monday, Wednesday, Sunday]);
                    Instant from = Instant.FromUtc(2010, 1, 1, 0, 0) + Duration.FromDays(start);
                    Instant until = from + Duration.FromDays(length);
                    Instant middle = from + Duration.FromDays(length / 2);
                    IReadOnlyList<Occurrence> whole = Occurrences.Between([rota], from, until);
                    IEnumerable<Occurrence> halves = Occurrences
                        .Between([rota], from, middle)
                        .Concat(Occurrences.Between([rota], middle, until));
                    return whole.Select(o => o.Origin).SequenceEqual(halves.Select(o => o.Origin))
                        && whole.Select(o => o.Origin.Date).Distinct().Count() == whole.Count;
                }
            );
    }

    private static Rota Weekly(DateTimeZone zone, LocalTime time, List<IsoDayOfWeek> days)
    {
        Rota rota = new()
        {
            WorkspaceId = new(Guid.NewGuid()),
            Id = new(Guid.NewGuid()),
            Name = "The week",
            Zone = zone,
        };
        rota.Slots.Add(SlotOf(rota, time, days, place: 1));
        return rota;
    }

    private static Slot SlotOf(Rota rota, LocalTime time, List<IsoDayOfWeek> days, int place) =>
        new()
        {
            WorkspaceId = rota.WorkspaceId,
            Id = new(Guid.NewGuid()),
            RotaId = rota.Id,
            Days = days,
            Time = time,
            Source = SlotSource.None,
            Channels = [],
            Position = place,
        };

    private static IReadOnlyList<Occurrence> Between(Rota rota, LocalDate from, LocalDate until) =>
        Occurrences.Between([rota], rota.Zone.AtStartOfDay(from).ToInstant(), rota.Zone.AtStartOfDay(until).ToInstant());

    private static LocalDate[] Dates(Rota rota, LocalDate from, LocalDate until) =>
        [.. Between(rota, from, until).Select(o => o.Origin.Date)];
}
