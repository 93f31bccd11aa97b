using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Recurrences;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.KeyDates;

/// <param name="Date">The first, in its zone.</param>
/// <param name="Days">How many dates it takes.</param>
/// <param name="Time">Null: all day.</param>
/// <param name="Zone">Of its time; null: the workspace's.</param>
/// <param name="Rule">By what it comes again, as RFC 5545 writes it, such as FREQ=YEARLY; null: it doesn't.</param>
/// <param name="IsLive">Somebody has to do something then, and Today reminds of it.</param>
public sealed record KeyDateEdit(
    Id<KeyDateKind> KindId,
    [Named("the key date")] string Title,
    [StringLength(KeyDate.LongestNotes, ErrorMessage = "Notes have at most 4,000 characters. Shorten them.")] string Notes,
    LocalDate Date,
    [Range(1, KeyDate.MostDays, ErrorMessage = "A key date takes 1 to 366 days.")] int Days,
    LocalTime? Time,
    string? Zone,
    string? Rule,
    bool IsLive
);

/// <summary>A key date with all that can be changed of it.</summary>
/// <param name="From">The calendar that it is read from; null: a person made it.</param>
/// <param name="Skipped">Dates of its rule on which it isn't.</param>
/// <param name="IsGone">Its calendar no longer has it; deliveries to come stand where it was.</param>
public sealed record KeyDateDetails(
    Id<KeyDate> Id,
    Id<KeyDateKind> KindId,
    string Title,
    string Notes,
    LocalDate Date,
    int Days,
    LocalTime? Time,
    string? Zone,
    string? Rule,
    bool IsLive,
    string? From,
    IReadOnlyList<LocalDate> Skipped,
    bool IsGone
);

/// <param name="OutOfStep">Deliveries that stood relative to it and stand where they stood; see following it.</param>
public sealed record KeyDateSaved(Id<KeyDate> Id, int OutOfStep, Guid ChangeSetId);

/// <summary>What becomes of one coming of a key date. One of them.</summary>
/// <param name="MovedTo">It stands on another date.</param>
/// <param name="Time">Of the date moved to; null: all day.</param>
/// <param name="Skip">It isn't, that time.</param>
/// <param name="Done">What had to be done then was done, or (false) wasn't after all.</param>
public sealed record ComingEdit(LocalDate? MovedTo, LocalTime? Time, bool Skip, bool? Done);

/// <summary>Events, launches, newsletters, people to get in touch with, on the calendar.</summary>
public static class KeyDateEndpoints
{
    private const int Most = 5_000;

    /// <summary>Most that come again: each of them is worked out whenever the calendar is looked at.</summary>
    private const int MostRecurring = 1_000;
    private const int MostDays = 400;

    public static void MapKeyDates(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/key-dates", ListAsync).Needs(Right.View);
        workspace.MapGet("/key-dates/{id}", ShowAsync).Needs(Right.View);
        workspace.MapPost("/key-dates", AddAsync).Needs(Right.Schedule).InTurn();
        workspace.MapPut("/key-dates/{id}", EditAsync).Needs(Right.Schedule);
        workspace.MapPut("/key-dates/{id}/comings/{date}", EditComingAsync).Needs(Right.Schedule);
        workspace.MapDelete("/key-dates/{id}", RemoveAsync).Needs(Right.Schedule);
        workspace.MapKeyDateKinds();
        workspace.MapFollowing();
        workspace.MapCalendarSources();
    }

    private static async Task<List<KeyDateView>> ListAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        HttpContext http,
        LarkDb db,
        KeyDateReader reader,
        CancellationToken cancellation
    )
    {
        Inputs.Days(from.Value, to.Value, MostDays);
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        return await reader.ReadAsync(workspace, from.Value, to.Value, http.Caller(), cancellation);
    }

    private static async Task<KeyDateDetails> ShowAsync(
        Id<Workspace> workspaceId,
        Id<KeyDate> id,
        HttpContext http,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        KeyDate d = await FindAsync(workspaceId, id, db, cancellation);
        if (!http.Caller().SeesAll && !(await KeyDateKindEndpoints.FindAsync(workspaceId, d.KindId, db, cancellation)).IsShownToClients)
            throw ProblemException.NotFound("This key date");
        string? from = d.SourceId is { } source
            ? await db
                .CalendarSources.Where(s => s.WorkspaceId == workspaceId && s.Id == source)
                .Select(s => s.Name)
                .SingleAsync(cancellation)
            : null;
        return new(d.Id, d.KindId, d.Title, d.Notes, d.Date, d.Days, d.Time, d.Zone?.Id, d.Rule, d.IsLive, from, d.Skipped, d.IsGone);
    }

    private static async Task<KeyDateSaved> AddAsync(
        Id<Workspace> workspaceId,
        KeyDateEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Inputs.Room(await db.KeyDates.CountAsync(d => d.WorkspaceId == workspaceId, cancellation), 1, Most, "key dates");
        KeyDate keyDate = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<KeyDate>.New(),
            KindId = edit.KindId,
            Title = "",
            Date = edit.Date,
        };
        await TakeAsync(keyDate, edit, db, cancellation);
        var act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.KeyDateAdded, keyDate.Title));
        db.KeyDates.Add(keyDate);
        await db.SaveChangesAsync(cancellation);
        return new(keyDate.Id, 0, act.Id.Value);
    }

    /// <summary>Posts that stand relative to it stay where they are until somebody lets them follow.</summary>
    private static async Task<KeyDateSaved> EditAsync(
        Id<Workspace> workspaceId,
        Id<KeyDate> id,
        KeyDateEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        KeyDate keyDate = await FindAsync(workspaceId, id, db, cancellation);
        RefuseRead(keyDate, "Change it there; here you may let posts stand relative to it");
        var act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.KeyDateChanged, keyDate.Title));
        int days = Period.DaysBetween(keyDate.Date, edit.Date);
        await TakeAsync(keyDate, edit, db, cancellation);
        List<KeyDateTie> ties = await db.TiesToCome(workspaceId).Where(t => t.KeyDateId == id).ToListAsync(cancellation);
        if (keyDate.Rule is not null && days != 0)
            Shift(keyDate, ties, days, workspace.Zone);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(id, OutOfStep(keyDate, ties, workspace.Zone), act.Id.Value);
    }

    /// <summary>Where all its comings move by so many days, what is said of single ones goes along.</summary>
    private static void Shift(KeyDate keyDate, IEnumerable<KeyDateTie> ties, int days, DateTimeZone zone)
    {
        keyDate.Skipped = [.. keyDate.Skipped.Select(d => d.PlusDays(days))];
        keyDate.Done = [.. keyDate.Done.Select(d => d.PlusDays(days))];
        keyDate.Moved = [.. keyDate.Moved.Select(m => m with { Occurrence = m.Occurrence.PlusDays(days) })];
        foreach (KeyDateTie tie in ties)
        {
            if (keyDate.At(tie.Occurrence.PlusDays(days), zone) is not null)
                tie.Occurrence = tie.Occurrence.PlusDays(days);
        }
    }

    private static async Task<KeyDateSaved> EditComingAsync(
        Id<Workspace> workspaceId,
        Id<KeyDate> id,
        QueryDate date,
        ComingEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        KeyDate keyDate = await FindAsync(workspaceId, id, db, cancellation);
        if (keyDate.At(date.Value, workspace.Zone) is not { } coming)
            throw ProblemException.NotFound("This date of it");
        Instant now = await clock.NowAsync(cancellation);
        Act Logged(ActCode code) => new(code, keyDate.Title, coming.Date);
        Data.Rows.ChangeSet act;
        if (edit is { Done: { } done, Skip: false, MovedTo: null })
        {
            act = db.BeginAct(workspaceId, http.Actor(), now, Logged(done ? ActCode.KeyDateDone : ActCode.KeyDateUndone));
            keyDate.Done = [.. keyDate.Done.Where(d => d != coming.Occurrence).Concat(done ? [coming.Occurrence] : [])];
        }
        else
        {
            RefuseRead(keyDate, "Change it there");
            if (keyDate.Rule is null)
                throw ProblemException.BadInput("It comes once: change the key date itself.");
            if (edit is { Skip: true, MovedTo: null, Done: null })
            {
                act = db.BeginAct(workspaceId, http.Actor(), now, Logged(ActCode.KeyDateSkipped));
                keyDate.Moved = [.. keyDate.Moved.Where(m => m.Occurrence != date.Value)];
                keyDate.Skipped = [.. keyDate.Skipped, date.Value];
            }
            else if (edit is { MovedTo: { } to, Skip: false, Done: null })
            {
                act = db.BeginAct(workspaceId, http.Actor(), now, Logged(ActCode.KeyDateMoved));
                keyDate.Moved = [.. keyDate.Moved.Where(m => m.Occurrence != date.Value), new(date.Value, to, edit.Time)];
            }
            else
                throw ProblemException.BadInput("Say one thing: moved to a date, skipped, or done.");
        }
        List<KeyDateTie> ties = await db.TiesToCome(workspaceId).Where(t => t.KeyDateId == id).ToListAsync(cancellation);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(id, OutOfStep(keyDate, ties, workspace.Zone), act.Id.Value);
    }

    /// <summary>Posts that stood relative to it stay where they are.</summary>
    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId,
        Id<KeyDate> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        KeyDate keyDate = await FindAsync(workspaceId, id, db, cancellation);
        RefuseRead(keyDate, "Take it out there, or stop reading the calendar");
        var act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.KeyDateRemoved, keyDate.Title));
        await db.RemoveKeyDatesAsync(workspaceId, [keyDate], cancellation);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static int OutOfStep(KeyDate keyDate, IEnumerable<KeyDateTie> ties, DateTimeZone zone) =>
        ties.Count(t => keyDate.At(t.Occurrence, zone)?.Date != t.Stood);

    private static async Task TakeAsync(KeyDate keyDate, KeyDateEdit edit, LarkDb db, CancellationToken cancellation)
    {
        if (!await db.KeyDateKinds.AnyAsync(k => k.WorkspaceId == keyDate.WorkspaceId && k.Id == edit.KindId, cancellation))
            throw ProblemException.BadInput("This kind isn’t the workspace’s. Choose another.");
        if (edit is { Time: null, Zone: not null })
            throw ProblemException.BadInput("What takes all day does so everywhere. Give a time, or leave out the zone.");
        string? rule = edit.Rule is { } given && given.Trim().Length > 0 ? given.Trim() : null;
        DateTimeZone? own = edit.Zone is { } named ? LocalTimes.ZoneOf(named) : null;
        DateTimeZone zone =
            own ?? await db.Workspaces.Where(w => w.Id == keyDate.WorkspaceId).Select(w => w.Zone).SingleAsync(cancellation);
        if (rule is not null)
        {
            if (
                keyDate.Rule is null
                && await db.KeyDates.CountAsync(d => d.WorkspaceId == keyDate.WorkspaceId && d.Rule != null, cancellation) >= MostRecurring
            )
                throw ProblemException.BadInput($"{MostRecurring:N0} key dates that come again is the most. Take out what has ended.");
            try
            {
                rule = Recurrence.Dated(rule, edit.Date, zone, edit.Time);
            }
            catch (NotKeptException e)
            {
                throw ProblemException.BadInput(e.Message);
            }
        }
        (keyDate.KindId, keyDate.Title, keyDate.Notes, keyDate.Date) = (edit.KindId, edit.Title.Trim(), edit.Notes.Trim(), edit.Date);
        (keyDate.Days, keyDate.Time, keyDate.Zone, keyDate.Rule, keyDate.IsLive) = (edit.Days, edit.Time, own, rule, edit.IsLive);
    }

    /// <summary>What is read from a calendar is changed there.</summary>
    private static void RefuseRead(KeyDate keyDate, string instead)
    {
        if (keyDate.SourceId is not null)
            throw ProblemException.Conflict($"“{keyDate.Title}” is read from another calendar, which would bring it back. {instead}.");
    }

    internal static async Task<KeyDate> FindAsync(Id<Workspace> workspace, Id<KeyDate> id, LarkDb db, CancellationToken cancellation) =>
        await db.KeyDates.FindAsync([workspace, id], cancellation) ?? throw ProblemException.NotFound("This key date");
}
