using System.Text;
using AbleLark.Core.Calendars;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Calendars;

public sealed class CalendarFileTests
{
    private static readonly Instant Written = Instant.FromUtc(2026, 11, 20, 8, 0);

    /// <summary>The same file is read with ical.js by the page's tests.</summary>
    [Fact]
    public void It_is_written_as_the_kept_sample_has_it()
    {
        string file = CalendarFile.Write(
            "Marram & Slip, all of it",
            [
                new(
                    "post-1@marram.able-lark",
                    "Ropes; nets, and “splices” with a title that goes on and on until no line could hold all of it ⚓️",
                    "Jot: planned\nHearth: planned\nback\\slash",
                    Instant.FromUtc(2026, 11, 24, 9, 30),
                    new(2026, 11, 24),
                    new(2026, 11, 24),
                    "https://example.org/a?b=c,d"
                ),
                new("fair-20261201@marram.able-lark", "Boat fair", "", null, new(2026, 12, 1), new(2026, 12, 3)),
            ],
            Written
        );
        Assert.Equal(File.ReadAllText(Path.Combine(Repository.Root, "tests", "Shared", "written.ics")), file);
    }

    /// <summary>Read back by Ical.Net 5.2 (NuGet).</summary>
    [Fact]
    public void Another_program_reads_what_was_meant_and_no_line_is_too_long()
    {
        Gen.Select(
                Gen.String[Gen.Char[' ', '\u2FFF'], 1, 200],
                Gen.String[Gen.Char[' ', '\u00FF'], 0, 300],
                Gen.Int[0, 1_000_000],
                Gen.Bool
            )
            .Sample(
                (title, details, minutes, allDay) =>
                {
                    Instant at = Written + Duration.FromMinutes(minutes);
                    LocalDate date = at.InUtc().Date;
                    string file = CalendarFile.Write(
                        title,
                        [new("a@b", title, details, allDay ? null : at, date, date.PlusDays(2))],
                        Written
                    );
                    Assert.All(file.Split("\r\n"), line => Assert.InRange(Encoding.UTF8.GetByteCount(line), 0, 75));
                    var read = Assert.Single(Ical.Net.Calendar.Load(file)!.Events);
                    Assert.Equal((Said(title), "a@b"), (read.Summary ?? "", read.Uid));
                    Assert.Equal(Said(details), read.Description ?? "");
                    Assert.Equal(allDay ? date.ToDateTimeUnspecified() : at.ToDateTimeUtc(), read.Start!.Value);
                    Assert.Equal(allDay, read.IsAllDay);
                    if (allDay)
                        Assert.Equal(date.PlusDays(3).ToDateTimeUnspecified(), read.End!.Value);
                },
                iter: Effort.Of(400)
            );
    }

    /// <summary>Without what no value may hold.</summary>
    private static string Said(string text) => string.Concat(text.ReplaceLineEndings("\n").Where(c => c == '\n' || !char.IsControl(c)));
}
