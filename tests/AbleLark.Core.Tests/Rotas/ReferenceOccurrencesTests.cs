using AbleLark.Core.Rotas;
using CsCheck;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using NodaTime;

namespace AbleLark.Core.Tests.Rotas;

/// <summary>
/// Local dates of random slots beside those of the same rule in RFC 5545's words, as Ical.Net 5.2 (NuGet) works them out, over
/// ten years in ten zones. Instants are left to OccurrencesTests: that is where the RFC leaves a choice to us.
/// </summary>
public sealed class ReferenceOccurrencesTests
{
    private static readonly string[] Zones =
    [
        "Europe/Dublin",
        "America/New_York",
        "Australia/Lord_Howe",
        "Pacific/Apia",
        "Asia/Kathmandu",
        "America/St_Johns",
        "Africa/Casablanca",
        "Asia/Tehran",
        "Pacific/Auckland",
        "UTC",
    ];

    private static readonly string[] DayNames = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"];

    [Fact]
    public void A_slot_comes_round_on_the_dates_of_its_recurrence_rule()
    {
        var slots = Gen.Select(
            Gen.Int[0, 9].Select(i => Zones[i]),
            Gen.Bool,
            Gen.Int[1, 6],
            Gen.Int[1, 127],
            Gen.Int[0, 400],
            Gen.Int[0, 23]
        );
        slots.Sample(
            (zone, byDays, every, mask, anchorAhead, hour) =>
            {
                DateTimeZone rules = DateTimeZoneProviders.Tzdb[zone];
                LocalDate anchor = new LocalDate(2016, 1, 1).PlusDays(anchorAhead);
                int[] days = [.. Enumerable.Range(0, 7).Where(d => (mask & (1 << d)) != 0)];
                Rota rota = new()
                {
                    WorkspaceId = new(Guid.NewGuid()),
                    Id = new(Guid.NewGuid()),
                    Name = "The week",
                    Zone = rules,
                };
                rota.Slots.Add(
                    new()
                    {
                        WorkspaceId = rota.WorkspaceId,
                        Id = new(Guid.NewGuid()),
                        RotaId = rota.Id,
                        Days = byDays ? [] : [.. days.Select(d => (IsoDayOfWeek)(d + 1))],
                        Rhythm = byDays ? Rhythm.Days : Rhythm.Weeks,
                        Every = every,
                        Anchor = anchor,
                        Time = new(hour, 30),
                        Source = SlotSource.None,
                        Channels = [],
                    }
                );
                LocalDate end = new(2026, 1, 1);
                LocalDate[] ours =
                [
                    .. Occurrences
                        .Between([rota], rules.AtStartOfDay(anchor).ToInstant(), rules.AtStartOfDay(end).ToInstant())
                        .Select(o => o.Origin.Date),
                ];

                string rule = byDays
                    ? $"FREQ=DAILY;INTERVAL={every}"
                    : $"FREQ=WEEKLY;INTERVAL={every};WKST=MO;BYDAY={string.Join(',', days.Select(d => DayNames[d]))}";
                // Without a zone: a floating time has the rule's dates, whatever clocks do.
                CalendarEvent reference = new()
                {
                    Start = new CalDateTime(anchor.Year, anchor.Month, anchor.Day, hour, 30, 0),
                    RecurrenceRule = new(rule),
                };
                LocalDate[] theirs =
                [
                    .. reference
                        .GetOccurrences(reference.Start)
                        .Select(o => LocalDate.FromDateTime(o.Period.StartTime.Value))
                        .TakeWhile(d => d < end)
                        // Start counts as an occurrence there even when the rule leaves it out (RFC 5545 §3.8.5.3); here it doesn't.
                        .Where(d => byDays || days.Contains((int)d.DayOfWeek - 1))
                        // Samoa left out a date; nothing can go out on it.
                        .Where(d => !(zone == "Pacific/Apia" && d == new LocalDate(2011, 12, 30))),
                ];
                Assert.Equal(theirs, ours);
            },
            iter: Effort.Of(300)
        );
    }

    [Fact]
    public void The_number_of_an_occurrence_counts_those_before_it_from_the_anchor()
    {
        Gen.Select(Gen.Bool, Gen.Int[1, 5], Gen.Int[1, 127], Gen.Int[0, 20])
            .Sample(
                (byDays, every, mask, anchorAhead) =>
                {
                    LocalDate anchor = new LocalDate(2026, 3, 2).PlusDays(anchorAhead);
                    Slot slot = new()
                    {
                        WorkspaceId = new(Guid.NewGuid()),
                        Id = new(Guid.NewGuid()),
                        RotaId = new(Guid.NewGuid()),
                        Days = byDays
                            ? []
                            : [.. Enumerable.Range(0, 7).Where(d => (mask & (1 << d)) != 0).Select(d => (IsoDayOfWeek)(d + 1))],
                        Rhythm = byDays ? Rhythm.Days : Rhythm.Weeks,
                        Every = every,
                        Anchor = anchor,
                        Time = default,
                        Source = SlotSource.None,
                        Channels = [],
                    };
                    LocalDate[] dates = [.. Enumerable.Range(-30, 200).Select(i => anchor.PlusDays(i)).Where(slot.ComesRoundOn)];
                    Assert.Equal(Enumerable.Range(0, dates.Length), dates.Select(slot.NumberOf));
                }
            );
    }
}
