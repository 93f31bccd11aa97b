using AbleLark.Core;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Links;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.KeyDates;

/// <summary>Reads, every hour, the calendars that are named by an address. One that can't be read says why, and keeps what was read
/// before.</summary>
public sealed partial class CalendarPull(IServiceScopeFactory scopes, ILogger<CalendarPull> log) : IBackgroundWork
{
    private const int MostAtOnce = 20;

    public WorkKind Kind => WorkKind.Calendars;

    public TimeSpan Pause => TimeSpan.FromSeconds(20);

    public async Task RunAsync(Instant now, CancellationToken stopping)
    {
        foreach ((Id<Workspace> workspace, Id<CalendarSource> source) in await DueAsync(now, stopping))
        {
            try
            {
                await ReadAsync(workspace, source, now, stopping);
            }
            catch (Exception e) when (!stopping.IsCancellationRequested && !DatabaseTrouble.IsAway(e))
            {
                LogFailure(source, e);
                await SayAsync(workspace, source, $"can’t be read: tell whoever runs Able Lark ({e.Message})", now, stopping);
            }
        }
    }

    private async Task ReadAsync(Id<Workspace> workspaceId, Id<CalendarSource> id, Instant now, CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        CalendarSources sources = scope.ServiceProvider.GetRequiredService<CalendarSources>();
        string? address = await db
            .CalendarSources.Where(s => s.WorkspaceId == workspaceId && s.Id == id)
            .Select(s => s.Address)
            .SingleOrDefaultAsync(stopping);
        if (address is null)
            return;
        try
        {
            // Nobody waits for the workspace while an address is asked, and while what it gave is read.
            ReadCalendar calendar = await sources.FetchAsync(new(address), workspaceId, now, stopping);
            await using var transaction = await db.Database.BeginTransactionAsync(stopping);
            Workspace workspace = await db.LockWorkspaceAsync(workspaceId, stopping);
            if (await db.CalendarSources.FindAsync([workspaceId, id], stopping) is not { } source || source.NextAt > now)
                return;
            await sources.TakeAsync(source, calendar, workspace, now, stopping);
            await db.SaveChangesAsync(stopping);
            await transaction.CommitAsync(stopping);
        }
        catch (Exception e) when (e is ReadingException or TooSlowException or CalendarException)
        {
            await SayAsync(workspaceId, id, e.Message, now, stopping);
        }
    }

    private async Task SayAsync(Id<Workspace> workspace, Id<CalendarSource> id, string why, Instant now, CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        if (await db.CalendarSources.FindAsync([workspace, id], stopping) is not { } source)
            return;
        CalendarSources.Failed(source, why, now);
        await db.SaveChangesAsync(stopping);
    }

    private async Task<List<(Id<Workspace>, Id<CalendarSource>)>> DueAsync(Instant now, CancellationToken cancellation)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        var due = await scope
            .ServiceProvider.GetRequiredService<LarkDb>()
            .CalendarSources.Where(s => s.NextAt <= now)
            .OrderBy(s => s.NextAt)
            .Take(MostAtOnce)
            .Select(s => new { s.WorkspaceId, s.Id })
            .ToListAsync(cancellation);
        return [.. due.Select(s => (s.WorkspaceId, s.Id))];
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "Calendar {Source} can't be read")]
    private partial void LogFailure(Id<CalendarSource> source, Exception exception);
}
