using System.Text;
using AbleLark.Core;
using AbleLark.Core.Calendars;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Links;
using AbleLark.Server.Problems;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.KeyDates;

/// <summary>What reading a calendar changed.</summary>
public sealed record SourceChanges(int Added, int Changed, int Gone);

/// <summary>Key dates that are read from calendars: from a file that somebody brings, or again and again from an address.</summary>
public sealed class CalendarSources(LarkDb db, SafeReading reading, HeavyReading heavy)
{
    /// <summary>Most key dates that are read into one workspace.</summary>
    public const int Most = 10_000;

    private static readonly Duration ReadAgainAfter = Duration.FromHours(1);

    /// <summary>A calendar that is named by its address, in a scheme of the web.</summary>
    /// <exception cref="ProblemException">It isn't one.</exception>
    public static Uri AddressOf(string text)
    {
        string given = text.Trim();
        // Under this scheme calendars are handed around; it means the web's.
        if (given.StartsWith("webcal://", StringComparison.OrdinalIgnoreCase))
            given = $"https://{given["webcal://".Length..]}";
        return given.Length <= 2_000 && Uri.TryCreate(given, UriKind.Absolute, out Uri? address) && address.Scheme is "http" or "https"
            ? new Uri(given)
            : throw ProblemException.BadInput("That is no address of a calendar. It begins with https:// and gives an .ics file.");
    }

    /// <summary>Reads a calendar from its address, before anything is locked.</summary>
    /// <exception cref="ReadingException">It can't be read.</exception>
    /// <exception cref="TooSlowException">It takes too long.</exception>
    /// <exception cref="CalendarException">It is no calendar.</exception>
    public async Task<ReadCalendar> FetchAsync(Uri address, Id<Workspace> workspace, Instant now, CancellationToken cancellation)
    {
        ReadThing thing = await reading.ReadAsync(address, CalendarReading.MostBytes + 1, "text/calendar, */*;q=0.1", cancellation);
        return await ReadAsync(thing.Bytes, workspace, now, cancellation);
    }

    /// <summary>Reads a calendar, before anything is locked.</summary>
    /// <exception cref="TooSlowException">It takes too long.</exception>
    /// <exception cref="CalendarException">It is no calendar.</exception>
    public async Task<ReadCalendar> ReadAsync(byte[] bytes, Id<Workspace> workspaceId, Instant now, CancellationToken cancellation)
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        return await heavy.RunAsync(
            workspaceId,
            ended => CalendarReading.Read(TextOf(bytes), workspace.Zone, workspace.DateOf(now), ended),
            cancellation
        );
    }

    public static CalendarException TooLong() =>
        new($"is longer than {CalendarReading.MostBytes / 1024 / 1024} MB. Export a shorter time of it.");

    /// <exception cref="CalendarException">It is too long, or no text.</exception>
    private static string TextOf(byte[] bytes)
    {
        if (bytes.Length > CalendarReading.MostBytes)
            throw TooLong();
        try
        {
            return new UTF8Encoding(false, throwOnInvalidBytes: true)
                .GetString(ContentLine.Unfolded(bytes))
                .Replace("\0", "", StringComparison.Ordinal);
        }
        catch (ArgumentException)
        {
            throw new CalendarException("is not written in UTF-8, as calendars are. Export it as an .ics file.");
        }
    }

    /// <summary>Makes the key dates of a calendar as it has them; what was done stays done. The caller saves.</summary>
    /// <exception cref="CalendarException">The workspace has no room for it.</exception>
    public async Task<SourceChanges> TakeAsync(
        CalendarSource source,
        ReadCalendar calendar,
        Workspace workspace,
        Instant now,
        CancellationToken cancellation
    )
    {
        Dictionary<string, KeyDate> there = await db
            .KeyDates.Where(d => d.WorkspaceId == workspace.Id && d.SourceId == source.Id)
            .ToDictionaryAsync(d => d.OutsideId!, StringComparer.Ordinal, cancellation);
        int others = await db.KeyDates.CountAsync(
            d => d.WorkspaceId == workspace.Id && d.SourceId != null && d.SourceId != source.Id,
            cancellation
        );
        if (others + calendar.KeyDates.Count > Most)
            throw new CalendarException($"would make more than {Most:N0} key dates that are read. Stop reading another calendar first.");
        int added = 0;
        int changed = 0;
        foreach (ReadKeyDate read in calendar.KeyDates)
        {
            if (!there.Remove(read.OutsideId, out KeyDate? keyDate))
            {
                keyDate = new()
                {
                    WorkspaceId = workspace.Id,
                    Id = Id<KeyDate>.New(),
                    KindId = source.KindId,
                    Title = "",
                    Date = read.Date,
                    SourceId = source.Id,
                    OutsideId = read.OutsideId,
                };
                db.KeyDates.Add(keyDate);
                added++;
            }
            Take(keyDate, read);
            keyDate.KindId = source.KindId;
            if (db.Entry(keyDate).State == EntityState.Modified)
                changed++;
        }
        int gone = there.Values.Count(d => !d.IsGone);
        await LetGoAsync(workspace.Id, there.Values, cancellation);
        (source.ReadAt, source.Trouble) = (now, null);
        source.LeftOut = [.. calendar.LeftOut.Take(100)];
        source.NextAt = source.Address is null ? null : now + ReadAgainAfter;
        if (source.Name.Length == 0)
            source.Name = calendar.Name is { } name ? name[..Math.Min(name.Length, NamedAttribute.Longest)] : "A calendar";
        return new(added, changed, gone);
    }

    /// <summary>What its calendar no longer has is taken off, though not before a person knows of what stands relative to it.</summary>
    private async Task LetGoAsync(Id<Workspace> workspace, IReadOnlyCollection<KeyDate> gone, CancellationToken cancellation)
    {
        List<Id<KeyDate>> ids = [.. gone.Select(d => d.Id)];
        HashSet<Id<KeyDate>> tied =
        [
            .. await db.TiesToCome(workspace).Where(t => ids.Contains(t.KeyDateId)).Select(t => t.KeyDateId).ToListAsync(cancellation),
        ];
        foreach (KeyDate keyDate in gone.Where(d => tied.Contains(d.Id)))
            keyDate.IsGone = true;
        await db.RemoveKeyDatesAsync(workspace, [.. gone.Where(d => !tied.Contains(d.Id))], cancellation);
    }

    private static void Take(KeyDate keyDate, ReadKeyDate read)
    {
        keyDate.IsGone = false;
        (keyDate.Title, keyDate.Notes, keyDate.Date, keyDate.Days) = (read.Title, read.Notes, read.Date, read.Days);
        (keyDate.Time, keyDate.Zone, keyDate.Rule) = (read.Time, read.Zone, read.Rule);
        (keyDate.Skipped, keyDate.Moved) = ([.. read.Skipped], [.. read.Moved]);
    }

    /// <summary>Says why it couldn't be read, and when it is tried again; what was read before stays.</summary>
    public static void Failed(CalendarSource source, string why, Instant now) =>
        (source.Trouble, source.NextAt) = (why, source.Address is null ? null : now + ReadAgainAfter);
}
