using AbleLark.Core.KeyDates;
using AbleLark.Core.Recurrences;
using CsCheck;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using NodaTime;
using CalendarEvent = Ical.Net.CalendarComponents.CalendarEvent;

namespace AbleLark.Core.Tests.KeyDates;

public sealed class CalendarReadingTests
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private static readonly LocalDate Today = new(2026, 11, 20);

    // ---- Comings that differ, zones of the file's own

    [Fact]
    public void A_coming_with_another_title_or_length_or_without_its_series_is_kept_by_itself()
    {
        ReadCalendar read = Read(
            """
            BEGIN:VCALENDAR
            BEGIN:VEVENT
            UID:market
            SUMMARY:Quay market
            DTSTART;VALUE=DATE:20261201
            RRULE:FREQ=WEEKLY
            END:VEVENT
            BEGIN:VEVENT
            UID:market
            RECURRENCE-ID;VALUE=DATE:20261208
            SUMMARY:Quay market, by lantern
            DTSTART;VALUE=DATE:20261208
            END:VEVENT
            BEGIN:VEVENT
            UID:market
            RECURRENCE-ID;VALUE=DATE:20261215
            DTSTART;VALUE=DATE:20261215
            DTEND;VALUE=DATE:20261218
            END:VEVENT
            BEGIN:VEVENT
            UID:market
            RECURRENCE-ID;VALUE=DATE:20261222
            SUMMARY:Quay market
            DTSTART;VALUE=DATE:20261223
            END:VEVENT
            BEGIN:VEVENT
            UID:elsewhere
            RECURRENCE-ID;VALUE=DATE:20261210
            SUMMARY:One of a series
            DTSTART;VALUE=DATE:20261210
            END:VEVENT
            END:VCALENDAR
            """
        );
        Assert.Empty(read.LeftOut);
        ReadKeyDate market = read.KeyDates[0];
        Assert.Equal([new(2026, 12, 8), new(2026, 12, 15)], market.Skipped);
        Assert.Equal([new(new(2026, 12, 22), new(2026, 12, 23), null)], market.Moved);
        Assert.Equal(
            [
                ("Quay market, by lantern", new LocalDate(2026, 12, 8), 1),
                ("Quay market", new(2026, 12, 15), 3),
                ("One of a series", new(2026, 12, 10), 1),
            ],
            read.KeyDates.Skip(1).Select(k => (k.Title, k.Date, k.Days))
        );
        Assert.Equal(4, read.KeyDates.Select(k => k.OutsideId).Distinct().Count());
    }

    [Theory]
    [InlineData("20261210T190000", "Europe/Paris", 18)]
    [InlineData("20270710T190000", "Europe/Paris", 17)]
    public void A_zone_that_the_file_defines_is_read(string start, string alike, int utc)
    {
        ReadCalendar read = Read(
            $"""
            BEGIN:VCALENDAR
            BEGIN:VTIMEZONE
            TZID:Custom harbour time
            BEGIN:STANDARD
            DTSTART:16011028T030000
            RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=10
            TZOFFSETFROM:+0200
            TZOFFSETTO:+0100
            END:STANDARD
            BEGIN:DAYLIGHT
            DTSTART:16010325T020000
            RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=3
            TZOFFSETFROM:+0100
            TZOFFSETTO:+0200
            END:DAYLIGHT
            END:VTIMEZONE
            BEGIN:VEVENT
            UID:fair
            SUMMARY:Boat fair
            DTSTART;TZID=Custom harbour time:{start}
            END:VEVENT
            END:VCALENDAR
            """
        );
        Assert.Empty(read.LeftOut);
        ReadKeyDate fair = Assert.Single(read.KeyDates);
        Instant at = (fair.Date + fair.Time!.Value).InZoneStrictly(fair.Zone!).ToInstant();
        Assert.Equal(utc, at.InUtc().Hour);
        Assert.Equal(DateTimeZoneProviders.Tzdb[alike].GetUtcOffset(at), fair.Zone!.GetUtcOffset(at));
        Assert.NotNull(DateTimeZoneProviders.Tzdb.GetZoneOrNull(fair.Zone.Id));
    }

    [Fact]
    public void A_zone_without_changes_is_one_of_a_fixed_offset_and_one_like_no_other_is_named()
    {
        const string zone = """
            BEGIN:VCALENDAR
            BEGIN:VTIMEZONE
            TZID:Own
            BEGIN:STANDARD
            DTSTART:20000101T000000
            TZOFFSETFROM:OFFSET
            TZOFFSETTO:OFFSET
            END:STANDARD
            MORE
            END:VTIMEZONE
            BEGIN:VEVENT
            UID:fair
            SUMMARY:Boat fair
            DTSTART;TZID=Own:20261210T190000
            END:VEVENT
            END:VCALENDAR
            """;
        ReadCalendar read = Read(
            zone.Replace("OFFSET\n", "+0730\n", StringComparison.Ordinal).Replace("MORE\n", "", StringComparison.Ordinal)
        );
        Assert.Empty(read.LeftOut);
        ReadKeyDate fair = Assert.Single(read.KeyDates);
        Assert.Equal("UTC+07:30", fair.Zone!.Id);
        ReadCalendar odd = Read(
            zone.Replace("OFFSET\n", "+0730\n", StringComparison.Ordinal)
                .Replace(
                    "MORE\n",
                    "BEGIN:DAYLIGHT\nDTSTART:20000110T000000\nRRULE:FREQ=YEARLY\nTZOFFSETFROM:+0730\nTZOFFSETTO:+0315\nEND:DAYLIGHT\n"
                        + "BEGIN:STANDARD\nDTSTART:20000710T000000\nRRULE:FREQ=YEARLY\nTZOFFSETFROM:+0315\n"
                        + "TZOFFSETTO:+0730\nEND:STANDARD\n",
                    StringComparison.Ordinal
                )
        );
        Assert.Contains("zone that nobody knows: Own", Assert.Single(odd.LeftOut), StringComparison.Ordinal);
    }

    [Fact]
    public void A_line_that_is_folded_within_a_letter_is_read()
    {
        byte[] bytes = System.Text.Encoding.UTF8.GetBytes("BEGIN:VEVENT\r\nSUMMARY:Möwen 🐦 am Kai\r\nX: y\nEND:VEVENT");
        foreach (int at in Enumerable.Range(14, 20))
        {
            byte[] folded = [.. bytes[..at], (byte)'\r', (byte)'\n', (byte)' ', .. bytes[at..]];
            Assert.Equal(bytes, AbleLark.Core.Calendars.ContentLine.Unfolded(folded));
        }
    }

    [Fact]
    public void Events_become_key_dates_with_their_rules_lengths_and_exceptions()
    {
        ReadCalendar read = Read(
            """
            BEGIN:VCALENDAR
            VERSION:2.0
            X-WR-CALNAME:Harbour\, and more
            BEGIN:VTIMEZONE
            TZID:Europe/Dublin
            BEGIN:STANDARD
            DTSTART:19961027T020000
            RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=10
            END:STANDARD
            END:VTIMEZONE
            BEGIN:VEVENT
            UID:market
            SUMMARY;LANGUAGE=en:Quay market\, with a title so long that it is
              folded\; twice
             \nover
            DTSTART;TZID="Europe/Dublin":20261201T190000
            DTEND;TZID=Europe/Dublin:20261202T010000
            RRULE:FREQ=MONTHLY;BYDAY=1TU
            EXDATE;TZID=Europe/Dublin:20270105T190000,20270202T190000
            BEGIN:VALARM
            TRIGGER:-PT15M
            DESCRIPTION:not this
            END:VALARM
            END:VEVENT
            BEGIN:VEVENT
            UID:market
            RECURRENCE-ID;TZID=Europe/Dublin:20270302T190000
            DTSTART;TZID=Europe/Dublin:20270303T183000
            END:VEVENT
            BEGIN:VEVENT
            UID:market
            RECURRENCE-ID;TZID=Europe/Dublin:20270406T190000
            STATUS:CANCELLED
            END:VEVENT
            BEGIN:VEVENT
            UID:fair
            SUMMARY:Boat fair
            DTSTART;VALUE=DATE:20270701
            DURATION:P3D
            DESCRIPTION:Bring:\nropes
            END:VEVENT
            END:VCALENDAR
            """
        );
        Assert.Equal("Harbour, and more", read.Name);
        Assert.Empty(read.LeftOut);
        Assert.Equal(2, read.KeyDates.Count);
        ReadKeyDate market = read.KeyDates[0];
        Assert.Equal("Quay market, with a title so long that it is folded; twice\nover", market.Title);
        Assert.Equal((new LocalDate(2026, 12, 1), 2, new LocalTime(19, 0)), (market.Date, market.Days, market.Time));
        Assert.Equal(("Europe/Dublin", "FREQ=MONTHLY;BYDAY=1TU"), (market.Zone!.Id, market.Rule));
        Assert.Equal([new(2027, 1, 5), new(2027, 2, 2), new(2027, 4, 6)], market.Skipped);
        Assert.Equal([new(new(2027, 3, 2), new(2027, 3, 3), new(18, 30))], market.Moved);
        ReadKeyDate fair = read.KeyDates[1];
        Assert.Equal((new LocalDate(2027, 7, 1), 3, (LocalTime?)null, "Bring:\nropes"), (fair.Date, fair.Days, fair.Time, fair.Notes));
    }

    [Theory]
    [InlineData("20261201T190000", "", null, "2026-12-01 19:00")]
    [InlineData("20261201T190000Z", "", "UTC", "2026-12-01 19:00")]
    [InlineData("20261201T190000", ";TZID=W. Europe Standard Time", "Europe/Berlin", "2026-12-01 19:00")]
    [InlineData("20261201T190000", ";TZID=/someone.example/2026/Asia/Kathmandu", "Asia/Kathmandu", "2026-12-01 19:00")]
    public void A_time_is_told_in_the_zone_that_its_calendar_names(string value, string parameter, string? zone, string local)
    {
        ReadKeyDate read = Assert.Single(Read(Event($"UID:a\nDTSTART{parameter}:{value}")).KeyDates);
        Assert.Equal(zone, read.Zone?.Id);
        Assert.Equal(local, $"{read.Date:uuuu-MM-dd} {read.Time:HH:mm}");
    }

    [Theory]
    [InlineData("UID:a\nSUMMARY:Tide\nDTSTART:20261301T190000", "“Tide”: DTSTART is no date that is known: 20261301T190000.")]
    [InlineData("UID:a\nSUMMARY:Tide\nDTSTART;TZID=Nowhere/Far:20261201T190000", "in a zone that nobody knows: Nowhere/Far.")]
    [InlineData("UID:a\nSUMMARY:Tide\nDTSTART:20261201\nRRULE:FREQ=HOURLY", "“Tide”: It comes more often than once a day (FREQ=HOURLY)")]
    [InlineData("UID:a\nSUMMARY:Tide\nDTSTART:20261201\nRDATE:20261203", "(RDATE, EXRULE)")]
    [InlineData("UID:a\nSUMMARY:Tide\nDTSTART:20261201\nRRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30", "never comes")]
    [InlineData("UID:a\nSUMMARY:Tide\nDTSTART:20200101\nRRULE:FREQ=DAILY;COUNT=9", "1 that lies more than a year back.")]
    [InlineData("UID:a\nSUMMARY:Tide\nDTSTART:20261201\nDURATION:P99999999999999999W", "“Tide”")]
    [InlineData("UID:a\nSUMMARY:Tide\nDTSTART:20261201\nDURATION:P2000000W", "longer than there are dates for")]
    [InlineData("SUMMARY:Tide\nDTSTART:20261201", "“Tide” has no identity (UID)")]
    [InlineData("UID:a\nSUMMARY:Tide", "when it begins (DTSTART)")]
    [InlineData("UID:a\nSUMMARY:Tide\nDTSTART:20240201", "1 that lies more than a year back.")]
    public void What_cannot_be_kept_is_left_out_by_name_and_the_rest_is_read(string lines, string words)
    {
        string both = Event(lines).Replace("END:VCALENDAR", "", StringComparison.Ordinal);
        ReadCalendar read = Read($"{both}BEGIN:VEVENT\nUID:b\nSUMMARY:Ebb\nDTSTART:20261202\nEND:VEVENT\nEND:VCALENDAR");
        Assert.Equal("Ebb", Assert.Single(read.KeyDates).Title);
        Assert.Contains(words, Assert.Single(read.LeftOut), StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_no_calendar_or_too_much_of_one_is_refused_in_words()
    {
        Assert.Contains("no calendar", Refused("hello"), StringComparison.Ordinal);
        Assert.Contains("no calendar", Refused(""), StringComparison.Ordinal);
        Assert.Contains("breaks off", Refused("BEGIN:VCALENDAR\nBEGIN:VEVENT\nUID:a"), StringComparison.Ordinal);
        Assert.Contains(
            "inside each other",
            Refused("BEGIN:VCALENDAR\n" + string.Concat(Enumerable.Repeat("BEGIN:VEVENT\n", 100_000))),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "more than 5,000 events",
            Refused("BEGIN:VCALENDAR\n" + string.Concat(Enumerable.Repeat("BEGIN:VEVENT\nEND:VEVENT\n", 5_001)) + "END:VCALENDAR"),
            StringComparison.Ordinal
        );

        static string Refused(string file) => Assert.Throws<CalendarException>(() => Read(file)).Message;
    }

    /// <summary>Written by ical.js 2.2 (npm): the page's tests write it again.</summary>
    [Fact]
    public void A_file_of_a_program_of_another_make_is_read_as_it_was_meant()
    {
        ReadCalendar read = Read(File.ReadAllText(Path.Combine(Repository.Root, "tests", "Shared", "read.ics")));
        Assert.Empty(read.LeftOut);
        ReadKeyDate market = read.KeyDates[0];
        Assert.Equal("Quay market; ropes, nets and a title that is folded since no line is as long as this one is ⚓️", market.Title);
        Assert.Equal("Bring:\nropes\\nets", market.Notes);
        Assert.Equal(
            (new LocalDate(2026, 12, 1), new LocalTime(19, 0), "Europe/Dublin"),
            (market.Date, market.Time!.Value, market.Zone!.Id)
        );
        Assert.Equal([new LocalDate(2027, 1, 5)], market.Skipped);
        Assert.Equal("FREQ=MONTHLY;BYDAY=1TU;UNTIL=20270504", market.Rule);
        Assert.Equal(
            (new LocalDate(2027, 7, 1), 3, (LocalTime?)null),
            (read.KeyDates[1].Date, read.KeyDates[1].Days, read.KeyDates[1].Time)
        );
    }

    /// <summary>Written by Ical.Net 5.2 (NuGet), whatever stands in the texts.</summary>
    [Fact]
    public void What_another_program_writes_is_read_as_it_was_meant()
    {
        Gen.Select(Gen.String[Gen.Char[' ', '\u24FF'], 0, 150], Gen.Int[0, 300], Gen.Bool, Gen.Int[1, 9])
            .Sample(
                (title, ahead, allDay, days) =>
                {
                    LocalDate date = Today.PlusDays(ahead);
                    CalendarEvent written = new()
                    {
                        Uid = "one",
                        Summary = title,
                        Start = allDay
                            ? new CalDateTime(date.Year, date.Month, date.Day)
                            : new CalDateTime(date.Year, date.Month, date.Day, 9, 30, 0, "Europe/Dublin"),
                        End = allDay
                            ? new CalDateTime(date.PlusDays(days).Year, date.PlusDays(days).Month, date.PlusDays(days).Day)
                            : new CalDateTime(date.Year, date.Month, date.Day, 10, 0, 0, "Europe/Dublin"),
                        RecurrenceRule = new("FREQ=MONTHLY;COUNT=5"),
                    };
                    Ical.Net.Calendar calendar = new();
                    calendar.Events.Add(written);
                    ReadKeyDate read = Assert.Single(Read(new CalendarSerializer(calendar).SerializeToString()!).KeyDates);
                    string expected = title.Trim() is { Length: > 0 } said ? said : "Without a title";
                    Assert.Equal(expected, read.Title);
                    Assert.Equal((date, allDay ? days : 1), (read.Date, read.Days));
                    Assert.Equal(allDay ? null : new LocalTime(9, 30), read.Time);
                    Assert.Equal(5, Recurrence.Parse(read.Rule!, Zone, read.Time).Between(date, date, date.PlusYears(9)).Count());
                },
                iter: Effort.Of(400)
            );
    }

    [Fact]
    public void Whatever_stands_in_a_file_it_is_read_or_refused()
    {
        string[] pieces =
        [
            "BEGIN:VEVENT",
            "END:VEVENT",
            "BEGIN:VALARM",
            "END",
            "DTSTART",
            ":",
            ";",
            "\"",
            "TZID=",
            "RRULE:FREQ=",
            "YEARLY",
            "BYDAY=-53MO",
            "20261201",
            "T190000Z",
            "EXDATE:,",
            "RECURRENCE-ID:20261201",
            "DURATION:PT99999999999S",
            "UID:a",
            "\\",
            "\n",
            "\r\n ",
            "\ud800",
        ];
        Gen.Int[0, pieces.Length - 1]
            .Array[0, 60]
            .Sample(
                chosen =>
                {
                    try
                    {
                        Read($"BEGIN:VCALENDAR\n{string.Concat(chosen.Select(i => pieces[i]))}\nEND:VCALENDAR");
                    }
                    catch (CalendarException) { }
                },
                iter: Effort.Of(5_000)
            );
    }

    private static string Event(string lines) => $"BEGIN:VCALENDAR\nBEGIN:VEVENT\n{lines}\nEND:VEVENT\nEND:VCALENDAR";

    private static ReadCalendar Read(string file) => CalendarReading.Read(file, Zone, Today);
}
