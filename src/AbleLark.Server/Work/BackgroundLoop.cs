using System.Diagnostics;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Time;
using NodaTime;

namespace AbleLark.Server.Work;

/// <summary>One kind of background work. Everything it rests on is in the database, so any number of processes can do it and each may be
/// killed at any time.</summary>
public interface IBackgroundWork
{
    WorkKind Kind { get; }

    /// <summary>How long its loop rests between two passes.</summary>
    TimeSpan Pause { get; }

    /// <summary>Does what is due now. What fails is put aside and stops nothing else.</summary>
    /// <param name="now">Business time.</param>
    /// <param name="stopping">Asks it to leave off soon and give back what it holds.</param>
    Task RunAsync(Instant now, CancellationToken stopping);
}

/// <summary>One pass over every kind of work in order: schedule what comes near, send what is due, read figures. For jumps of the demo's
/// clock, and for tests.</summary>
public sealed class BackgroundPass(BusinessClock clock, IEnumerable<IBackgroundWork> works)
{
    public async Task RunAsync(CancellationToken cancellation)
    {
        Instant now = await clock.NowAsync(cancellation);
        foreach (IBackgroundWork work in works.OrderBy(w => w.Kind))
            await work.RunAsync(now, cancellation);
    }
}

/// <summary>Runs one kind of work, pass after pass, and notes how it goes.</summary>
public sealed partial class BackgroundLoop<T>(T work, IServiceScopeFactory scopes, LoopHealth health, ILogger<BackgroundLoop<T>> log)
    : BackgroundService
    where T : IBackgroundWork
{
    private static readonly TimeSpan PauseAfterTrouble = TimeSpan.FromSeconds(3);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        // Leaves the thread that starts the server.
        await Task.Yield();
        while (!stoppingToken.IsCancellationRequested)
        {
            TimeSpan pause = work.Pause;
            try
            {
                await PassAsync(stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception e)
            {
                health.Failed(work.Kind, e.GetBaseException().Message);
                if (DatabaseTrouble.IsAway(e))
                    LogAway(work.Kind, e.GetBaseException().Message);
                else
                    LogFailure(work.Kind, e);
                pause = PauseAfterTrouble;
            }
            await Task.Delay(pause, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    private async Task PassAsync(CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        // While the demo's clock is being moved, one process does all work in order, instant by instant.
        if (await scope.ServiceProvider.GetRequiredService<BusinessClock>().IsMovingAsync(stopping))
        {
            health.Rested(work.Kind);
            return;
        }
        Instant now = await scope.ServiceProvider.GetRequiredService<BusinessClock>().NowAsync(stopping);
        long start = Stopwatch.GetTimestamp();
        await work.RunAsync(now, stopping);
        health.Passed(work.Kind, Stopwatch.GetElapsedTime(start));
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "A pass of {Work} failed; it is tried again soon")]
    private partial void LogFailure(WorkKind work, Exception exception);

    [LoggerMessage(Level = LogLevel.Warning, Message = "{Work} waits for the database ({Reason})")]
    private partial void LogAway(WorkKind work, string reason);
}
