using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Links;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.KeyDates;

/// <param name="Address">Null: from a file, when somebody brings one.</param>
/// <param name="Trouble">Why it couldn't be read the last time.</param>
/// <param name="LeftOut">What of it is not kept, each by name and with the reason.</param>
public sealed record CalendarSourceView(
    Id<CalendarSource> Id,
    string Name,
    Id<KeyDateKind> KindId,
    string? Address,
    int KeyDates,
    Instant? ReadAt,
    string? Trouble,
    IReadOnlyList<string> LeftOut
);

/// <param name="Address">Of an .ics file; it is read every hour from now on.</param>
public sealed record CalendarSourceRequest(Id<KeyDateKind> KindId, string Address);

/// <param name="ChangeSetId">Null: nothing was changed.</param>
public sealed record CalendarRead(
    Id<CalendarSource> Id,
    string Name,
    int Added,
    int Changed,
    int Gone,
    IReadOnlyList<string> LeftOut,
    Guid? ChangeSetId
);

/// <summary>Calendars that key dates are read from.</summary>
public static class SourceEndpoints
{
    private const int Most = 20;

    public static void MapCalendarSources(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/calendar-sources", ListAsync).Needs(Right.Schedule);
        workspace.MapPost("/calendar-sources", AddAsync).Needs(Right.Schedule);
        workspace.MapPost("/calendar-sources/files", ReadFileAsync).DisableAntiforgery().Needs(Right.Schedule);
        workspace.MapPost("/calendar-sources/{id}/read", ReadAgainAsync).Needs(Right.Schedule);
        workspace.MapDelete("/calendar-sources/{id}", RemoveAsync).Needs(Right.Schedule);
    }

    private static Task<List<CalendarSourceView>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        db
            .CalendarSources.Where(s => s.WorkspaceId == workspaceId)
            .OrderBy(s => s.Name)
            .Select(s => new CalendarSourceView(
                s.Id,
                s.Name,
                s.KindId,
                s.Address,
                db.KeyDates.Count(d => d.WorkspaceId == s.WorkspaceId && d.SourceId == s.Id),
                s.ReadAt,
                s.Trouble,
                s.LeftOut
            ))
            .ToListAsync(cancellation);

    private static async Task<CalendarRead> AddAsync(
        Id<Workspace> workspaceId,
        CalendarSourceRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CalendarSources sources,
        CancellationToken cancellation
    )
    {
        await KeyDateKindEndpoints.FindAsync(workspaceId, request.KindId, db, cancellation);
        Uri address = CalendarSources.AddressOf(request.Address);
        Instant now = await clock.NowAsync(cancellation);
        ReadCalendar read = await WordsAsync(address.Host, () => sources.FetchAsync(address, workspaceId, now, cancellation));
        return await TakeAsync(workspaceId, null, request.KindId, address.AbsoluteUri, read, "", http, db, clock, sources, cancellation);
    }

    /// <summary>Reads a file; where one of that name was read before, as that calendar's newer state.</summary>
    private static async Task<CalendarRead> ReadFileAsync(
        Id<Workspace> workspaceId,
        IFormFile file,
        [FromForm] Guid kindId,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CalendarSources sources,
        CancellationToken cancellation
    )
    {
        Id<KeyDateKind> kind = new(kindId);
        await KeyDateKindEndpoints.FindAsync(workspaceId, kind, db, cancellation);
        string name = Path.GetFileNameWithoutExtension(file.FileName).Trim();
        name = name.Length == 0 ? "A calendar" : name[..Math.Min(name.Length, NamedAttribute.Longest)];
        Instant now = await clock.NowAsync(cancellation);
        if (file.Length > CalendarReading.MostBytes)
            throw ProblemException.BadInput($"{file.FileName} {CalendarSources.TooLong().Message}");
        ReadCalendar read = await WordsAsync(
            name,
            async () => await sources.ReadAsync(await file.BytesAsync(cancellation), workspaceId, now, cancellation)
        );
        Id<CalendarSource>? known = await db
            .CalendarSources.Where(s => s.WorkspaceId == workspaceId && s.Address == null && s.Name == name)
            .Select(s => (Id<CalendarSource>?)s.Id)
            .FirstOrDefaultAsync(cancellation);
        return await TakeAsync(workspaceId, known, kind, null, read, name, http, db, clock, sources, cancellation);
    }

    private static async Task<CalendarRead> ReadAgainAsync(
        Id<Workspace> workspaceId,
        Id<CalendarSource> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CalendarSources sources,
        CancellationToken cancellation
    )
    {
        CalendarSource source = await FindAsync(workspaceId, id, db, cancellation);
        if (source.Address is not { } address)
            throw ProblemException.Conflict($"“{source.Name}” came as a file. Bring the newer one.");
        Instant now = await clock.NowAsync(cancellation);
        ReadCalendar read = await WordsAsync(source.Name, () => sources.FetchAsync(new(address), workspaceId, now, cancellation));
        return await TakeAsync(workspaceId, id, source.KindId, address, read, source.Name, http, db, clock, sources, cancellation);
    }

    private static async Task<CalendarRead> TakeAsync(
        Id<Workspace> workspaceId,
        Id<CalendarSource>? known,
        Id<KeyDateKind> kind,
        string? address,
        ReadCalendar read,
        string name,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CalendarSources sources,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // Two who read the same calendar are one after the other.
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        CalendarSource? source = known is { } id
            ? await FindAsync(workspaceId, id, db, cancellation)
            : await db.CalendarSources.SingleOrDefaultAsync(
                s => s.WorkspaceId == workspaceId && s.Address != null && s.Address == address,
                cancellation
            );
        Instant now = await clock.NowAsync(cancellation);
        if (source is null)
        {
            Inputs.Room(await db.CalendarSources.CountAsync(s => s.WorkspaceId == workspaceId, cancellation), 1, Most, "calendars");
            source = new()
            {
                WorkspaceId = workspaceId,
                Id = Id<CalendarSource>.New(),
                Name = name,
                KindId = kind,
                Address = address,
            };
            db.CalendarSources.Add(source);
        }
        source.KindId = kind;
        var act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.CalendarRead));
        SourceChanges changes = await WordsAsync(
            name.Length > 0 ? name : new Uri(address!).Host,
            () => sources.TakeAsync(source, read, workspace, now, cancellation)
        );
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(source.Id, source.Name, changes.Added, changes.Changed, changes.Gone, source.LeftOut, act.Id.Value);
    }

    /// <summary>Takes its key dates off the calendar; what stood relative to them stays where it is.</summary>
    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId,
        Id<CalendarSource> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        await db.LockWorkspaceAsync(workspaceId, cancellation);
        CalendarSource source = await FindAsync(workspaceId, id, db, cancellation);
        var act = db.BeginAct(
            workspaceId,
            http.Actor(),
            await clock.NowAsync(cancellation),
            new(ActCode.CalendarSourceRemoved, source.Name)
        );
        await db.RemoveSourceAsync(source, cancellation);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>Says of what whatever went wrong went wrong.</summary>
    private static async Task<T> WordsAsync<T>(string what, Func<Task<T>> act)
    {
        try
        {
            return await act();
        }
        catch (Exception e) when (e is ReadingException or TooSlowException or CalendarException)
        {
            throw ProblemException.BadInput($"{what} {e.Message.TrimEnd('.')}.");
        }
    }

    private static async Task<CalendarSource> FindAsync(
        Id<Workspace> workspace,
        Id<CalendarSource> id,
        LarkDb db,
        CancellationToken cancellation
    ) => await db.CalendarSources.FindAsync([workspace, id], cancellation) ?? throw ProblemException.NotFound("This calendar");
}
