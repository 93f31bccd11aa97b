using AbleLark.Core.Reasons;
using AbleLark.Core.Recurrences;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.KeyDates;

/// <summary>What sort of thing a key date is: the workspace names its own.</summary>
public sealed class KeyDateKind
{
    public const int MostMark = 2;

    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<KeyDateKind> Id { get; init; }
    public required string Name { get; set; }

    /// <summary>One or two characters that stand for it.</summary>
    public required string Mark { get; set; }

    /// <summary>As #rrggbb.</summary>
    public required string Colour { get; set; }

    /// <summary>Whether clients see key dates of this kind.</summary>
    public bool IsShownToClients { get; set; } = true;
}

/// <summary>One coming of a recurring key date that was put elsewhere than the rule has it.</summary>
/// <param name="Occurrence">The date that the rule has.</param>
/// <param name="Date">The date that it stands on.</param>
/// <param name="Time">Null: all day.</param>
public sealed record MovedKeyDate(LocalDate Occurrence, LocalDate Date, LocalTime? Time);

/// <summary>An event, a launch, somebody to get in touch with: on the calendar, and nothing that is sent.</summary>
public sealed class KeyDate
{
    public const int LongestTitle = 200;
    public const int LongestNotes = 4_000;
    public const int MostDays = 366;

    /// <summary>Most dates of its rule that are left out, and most that are put elsewhere.</summary>
    public const int MostExceptions = 2_000;

    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<KeyDate> Id { get; init; }
    public required Id<KeyDateKind> KindId { get; set; }
    public required string Title { get; set; }
    public string Notes { get; set; } = "";

    /// <summary>On which it is, or first is, in its zone.</summary>
    public required LocalDate Date { get; set; }

    /// <summary>How many dates it takes, each time.</summary>
    public int Days { get; set; } = 1;

    /// <summary>Null: all day, wherever that is.</summary>
    public LocalTime? Time { get; set; }

    /// <summary>The zone of its time; null takes the workspace's.</summary>
    public DateTimeZone? Zone { get; set; }

    /// <summary>By what it comes again, as RFC 5545 writes it (see <see cref="Recurrence"/>); null: it doesn't.</summary>
    public string? Rule { get; set; }

    /// <summary>Dates of its rule on which it isn't.</summary>
    public List<LocalDate> Skipped { get; set; } = [];

    /// <summary>Dates of its rule that were put elsewhere.</summary>
    public List<MovedKeyDate> Moved { get; set; } = [];

    /// <summary>Somebody has to do something then: Today reminds of it.</summary>
    public bool IsLive { get; set; }

    /// <summary>Comings, by their dates in the rule, for which that was done.</summary>
    public List<LocalDate> Done { get; set; } = [];

    /// <summary>The calendar that it is read from; null: a person made it.</summary>
    public Id<CalendarSource>? SourceId { get; init; }

    /// <summary>What its calendar calls it.</summary>
    public string? OutsideId { get; init; }

    /// <summary>Its calendar no longer has it: it comes no more, and is kept only while deliveries to come stand where it was.</summary>
    public bool IsGone { get; set; }

    /// <summary>Its comings that touch any date from one to another, both included, in order.</summary>
    /// <param name="zone">The workspace's: in it the dates are counted.</param>
    public IEnumerable<KeyDateComing> Between(LocalDate from, LocalDate to, DateTimeZone zone)
    {
        if (IsGone)
            return [];
        // What is told in another zone may be a date earlier or later here.
        LocalDate earliest = from.PlusDays(-Days - 1);
        LocalDate latest = to.PlusDays(1);
        IEnumerable<LocalDate> dates = Rule is null ? [Date] : Recurrence.Parse(Rule, Zone ?? zone, Time).Between(Date, earliest, latest);
        HashSet<LocalDate> elsewhere = [.. Moved.Select(m => m.Occurrence), .. Skipped];
        return dates
            .Where(d => !elsewhere.Contains(d))
            .Select(d => Coming(d, d, Time, zone))
            .Concat(Moved.Select(m => Coming(m.Occurrence, m.Date, m.Time, zone)))
            .Where(c => c.Last >= from && c.Date <= to)
            .OrderBy(c => c.Date)
            .ThenBy(c => c.Time);
    }

    /// <summary>One of its comings, by its date in the rule; null: there is none. What comes once is found by any date.</summary>
    public KeyDateComing? At(LocalDate occurrence, DateTimeZone zone)
    {
        if (IsGone)
            return null;
        if (Rule is null)
            return Coming(Date, Date, Time, zone);
        if (Moved.Find(m => m.Occurrence == occurrence) is { } moved)
            return Coming(occurrence, moved.Date, moved.Time, zone);
        bool isThere = Recurrence.Parse(Rule, Zone ?? zone, Time).Between(Date, occurrence, occurrence).Any();
        return isThere && !Skipped.Contains(occurrence) ? Coming(occurrence, occurrence, Time, zone) : null;
    }

    private KeyDateComing Coming(LocalDate occurrence, LocalDate date, LocalTime? time, DateTimeZone zone)
    {
        LocalDateTime? here =
            time is { } at && Zone is { } own && own != zone ? (date + at).InZoneLeniently(own).WithZone(zone).LocalDateTime
            : time is { } same ? date + same
            : null;
        LocalDate first = here?.Date ?? date;
        return new(this, occurrence, first, first.PlusDays(Days - 1), here?.TimeOfDay);
    }
}

/// <summary>A key date, one time that it comes.</summary>
/// <param name="Occurrence">The date that its rule has, by which it is named.</param>
/// <param name="Date">Its first date, in the workspace's zone.</param>
/// <param name="Last">Its last date.</param>
/// <param name="Time">In the workspace's zone; null: all day.</param>
public sealed record KeyDateComing(KeyDate KeyDate, LocalDate Occurrence, LocalDate Date, LocalDate Last, LocalTime? Time)
{
    public bool IsDone => KeyDate.Done.Contains(Occurrence);
}
