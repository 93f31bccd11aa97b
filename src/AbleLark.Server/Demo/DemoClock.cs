using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Rows;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Demo;

public enum Jump
{
    Hour,
    Day,
    Week,
}

public sealed record JumpRequest(Jump By);

/// <param name="Target">Where a jump is on its way to; null while none is.</param>
public sealed record DemoTime(Instant Now, Instant? Target);

/// <summary>Moves the demo's time on. A jump halts at each instant at which something is due, so that all happens in order.</summary>
public sealed class DemoClock(LarkDb db, BusinessClock clock, IClock machine, IOptions<LarkSettings> settings)
{
    public async Task<DemoTime> ReadAsync(CancellationToken cancellation)
    {
        BusinessTime time = await db.BusinessTimes.AsNoTracking().SingleAsync(cancellation);
        return new(await clock.NowAsync(cancellation), time.Target);
    }

    public async Task<DemoTime> JumpAsync(Duration by, CancellationToken cancellation)
    {
        Instant target = await clock.NowAsync(cancellation) + by;
        int moved = await db.Database.ExecuteSqlAsync(
            $"update business_times set target = {target} where id = 1 and target is null",
            cancellation
        );
        if (moved == 0)
            throw ProblemException.Conflict("The clock is on its way already. Wait until it has arrived.");
        return await ReadAsync(cancellation);
    }

    /// <summary>Tries of a delivery for which a jump waits; after that time passes on, as it does outside.</summary>
    private const int WaitedForTries = 4;

    /// <summary>
    /// Moves on to the next due instant, or to the jump's end. False when it didn't move: no jump is under way, or something
    /// due is still being tried, which takes machine time (a network that asks to be left alone for a while).
    /// </summary>
    public async Task<bool> StepAsync(CancellationToken cancellation)
    {
        if (!settings.Value.Demo)
            return false;
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // Only one process moves the hand at a time.
        BusinessTime time = await db
            .BusinessTimes.FromSql($"select * from business_times where id = 1 for update")
            .SingleAsync(cancellation);
        if (time.Target is not { } target)
            return false;
        if (await db.Deliveries.AnyAsync(d => d.State == DeliveryState.Sending && d.Attempts < WaitedForTries, cancellation))
            return false;
        Instant now = machine.Now() + time.Ahead;
        // A channel whose network hiccuped is waited for as well; after that time passes on.
        if (
            await db.Deliveries.AnyAsync(
                d =>
                    d.State == DeliveryState.Planned
                    && d.At <= now
                    && db.WorkFailures.Any(f =>
                        f.Work == WorkKind.Sending && f.Subject == (Guid)(object)d.ChannelId && f.Count < WaitedForTries
                    ),
                cancellation
            )
        )
            return false;
        Instant next = await NextDueAsync(now, cancellation) is { } due && due < target ? due : target;
        if (next > now)
            time.Ahead = next - machine.Now();
        if (next >= target || now >= target)
            time.Target = null;
        await db.SaveChangesAsync(cancellation);
        await ChangeNotification.TellClockAsync(db, cancellation);
        await transaction.CommitAsync(cancellation);
        return true;
    }

    private async Task<Instant?> NextDueAsync(Instant now, CancellationToken cancellation)
    {
        // What waits for approval is answered at its time as well.
        Instant? delivery = await db
            .Deliveries.Where(d =>
                d.At > now
                && (d.State == DeliveryState.Planned || d.State == DeliveryState.WaitingForApproval || d.State == DeliveryState.Substitute)
            )
            .MinAsync(d => (Instant?)d.At, cancellation);
        Instant? reading = await db.Deliveries.Where(d => d.NextReadingAt > now).MinAsync(d => d.NextReadingAt, cancellation);
        List<Workspace> workspaces = await db.Workspaces.AsNoTracking().ToListAsync(cancellation);
        IEnumerable<Instant?> schedulings = workspaces.Select(w =>
            (Instant?)(w.StartOf(w.DateOf(now + w.ScheduleAhead).PlusDays(1)) - w.ScheduleAhead)
        );
        return schedulings.Append(delivery).Append(reading).Where(i => i > now).Min();
    }
}

/// <summary>Moves the clock while a jump is under way: instant by instant, all work of each done before the next.</summary>
public sealed partial class DemoClockLoop(IServiceScopeFactory scopes, ILogger<DemoClockLoop> log) : BackgroundService
{
    private static readonly TimeSpan LookEvery = TimeSpan.FromMilliseconds(250);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        while (!stoppingToken.IsCancellationRequested)
        {
            bool moved = false;
            try
            {
                moved = await MoveAsync(stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception e)
            {
                LogFailure(e);
            }
            if (!moved)
                await Task.Delay(LookEvery, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    /// <summary>Moves all the way to the jump's end. False when none is under way, or another process does it.</summary>
    private async Task<bool> MoveAsync(CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        DemoClock clock = scope.ServiceProvider.GetRequiredService<DemoClock>();
        BusinessClock time = scope.ServiceProvider.GetRequiredService<BusinessClock>();
        if (!await time.IsMovingAsync(stopping))
            return false;
        // One process at a time: another must not move the hand while the work of this instant is being done.
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        await using AdvisoryLock? hand = await AdvisoryLock.TryTakeAsync(db, AdvisoryLock.DemoClock, stopping);
        if (hand is null)
            return false;
        do
        {
            if (!await clock.StepAsync(stopping))
                await Task.Delay(LookEvery, stopping);
            await scope.ServiceProvider.GetRequiredService<BackgroundPass>().RunAsync(stopping);
            db.ChangeTracker.Clear();
        } while (await time.IsMovingAsync(stopping));
        return true;
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "The demo's clock could not be moved; it is tried again")]
    private partial void LogFailure(Exception exception);
}

public static class DemoEndpoints
{
    /// <param name="isDemo">False hides the clock: in production business time is the machine's and can't be moved.</param>
    public static void MapDemo(this IEndpointRouteBuilder api, bool isDemo)
    {
        RouteGroupBuilder demo = api.MapGroup("/demo/clock").RequireAuthorization();
        demo.AddEndpointFilter((context, next) => isDemo ? next(context) : throw ProblemException.NotFound("The demo's clock"));
        demo.MapGet("/", (DemoClock clock, CancellationToken cancellation) => clock.ReadAsync(cancellation));
        demo.MapPost(
            "/",
            (JumpRequest request, DemoClock clock, CancellationToken cancellation) =>
                clock.JumpAsync(
                    request.By switch
                    {
                        Jump.Hour => Duration.FromHours(1),
                        Jump.Day => Duration.FromDays(1),
                        _ => Duration.FromDays(7),
                    },
                    cancellation
                )
        );
    }
}
