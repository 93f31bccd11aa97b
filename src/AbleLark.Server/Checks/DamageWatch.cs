using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Damage;
using AbleLark.Data.Rows;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Checks;

/// <summary>Looks for damaged rows where something of a workspace failed that never should.</summary>
public sealed partial class DamageWatch(
    IServiceScopeFactory scopes,
    DamagedRows rows,
    TimeProvider time,
    IOptions<LarkSettings> settings,
    ILogger<DamageWatch> log
)
{
    /// <summary>Looking through a workspace takes a while, and what fails for another reason fails again and again.</summary>
    private readonly TimeSpan _between = TimeSpan.FromSeconds(settings.Value.DamageLookSeconds);

    private readonly ConcurrentDictionary<Id<Workspace>, long> _lookedAt = new();

    /// <summary>What may come of a damaged row; not what a caller, another caller or the machine is at fault for.</summary>
    public static bool MayBeDamage(Exception e) =>
        e is not (OperationCanceledException or DbUpdateException or IOException or BadHttpRequestException)
        && !DatabaseTrouble.IsAway(e)
        && !DatabaseTrouble.IsHeld(e)
        && !DatabaseTrouble.IsEnded(e);

    /// <returns>True when other rows are left out than before, so that what failed may be tried again.</returns>
    public async Task<bool> LookAsync(Id<Workspace> workspace, CancellationToken cancellation)
    {
        if (_lookedAt.TryGetValue(workspace, out long at) && time.GetElapsedTime(at) < _between)
            return false;
        _lookedAt[workspace] = time.GetTimestamp();
        try
        {
            return await FindAsync(workspace, cancellation);
        }
        catch (Exception e) when (!cancellation.IsCancellationRequested)
        {
            // What made somebody look is said by whoever failed.
            LogFailure(workspace.Value, e.GetBaseException().Message);
            return false;
        }
    }

    /// <summary>Looks for workspaces whose own rows can't be read, where something failed that reads them all.</summary>
    /// <returns>True when others are left out than before.</returns>
    public async Task<bool> LookAtAllAsync(CancellationToken cancellation)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        bool isOther = false;
        foreach (Id<Workspace> id in await DamageSearch.WorkspacesAsync(scope.ServiceProvider.GetRequiredService<LarkDb>(), cancellation))
            isOther |= await LookAsync(id, cancellation);
        return isOther;
    }

    private async Task<bool> FindAsync(Id<Workspace> workspace, CancellationToken cancellation)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        Instant now = scope.ServiceProvider.GetRequiredService<IClock>().Now();
        bool isOther = await DamageSearch.RunAsync(db, workspace, rows, now, cancellation);
        if (isOther)
        {
            // The next fault is another one: it is looked for at once.
            _lookedAt.TryRemove(workspace, out _);
            foreach (
                DamagedRow row in await db
                    .DamagedRows.AsNoTracking()
                    .Where(d => d.WorkspaceId == workspace)
                    .Take(20)
                    .ToListAsync(cancellation)
            )
                LogRow(row.Table, row.RowId, row.Field, row.Words);
        }
        return isOther;
    }

    /// <summary>Takes over what was found before, and looks whether it has been mended.</summary>
    public async Task BeginAsync(LarkDb db, CancellationToken cancellation)
    {
        await DamageSearch.ReadAsync(db, rows, cancellation);
        foreach (Id<Workspace> id in await db.DamagedRows.Select(d => d.WorkspaceId).Distinct().ToListAsync(cancellation))
            await LookAsync(id, cancellation);
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "Workspace {Workspace} couldn't be looked through for damaged rows ({Reason})")]
    private partial void LogFailure(Guid workspace, string reason);

    [LoggerMessage(Level = LogLevel.Error, Message = "Row {Id} of {Table} is put aside: {Field} can't be used ({Words})")]
    private partial void LogRow(string table, Guid id, string field, string words);
}

/// <summary>Tries once more what failed because of a damaged row, without it.</summary>
public static class DamageRetry
{
    public static void UseDamageRetry(this IApplicationBuilder app) =>
        app.Use(
            async (context, next) =>
            {
                try
                {
                    await next(context);
                }
                catch (Exception e) when (IsWorthALook(context, e))
                {
                    if (!await LookAsync(context) || !HttpMethods.IsGet(context.Request.Method))
                        throw;
                    context.Response.Clear();
                    context.RequestServices.GetRequiredService<LarkDb>().ChangeTracker.Clear();
                    await next(context);
                }
            }
        );

    private static bool IsWorthALook(HttpContext context, Exception e) =>
        !context.Response.HasStarted
        && e is not Problems.ProblemException
        && DamageWatch.MayBeDamage(e)
        && WorkspaceOf(context) is not null;

    private static Id<Workspace>? WorkspaceOf(HttpContext context) =>
        Id<Workspace>.TryParse((string?)context.Request.RouteValues["workspaceId"], null, out Id<Workspace> id) ? id : null;

    private static async Task<bool> LookAsync(HttpContext context)
    {
        // By a scope of its own: the one of the request may be in the middle of what failed.
        DamageWatch watch = context.RequestServices.GetRequiredService<DamageWatch>();
        return await watch.LookAsync(WorkspaceOf(context)!.Value, context.RequestAborted);
    }
}
