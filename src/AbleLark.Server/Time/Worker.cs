using AbleLark.Server.Deliveries;
using AbleLark.Server.Demo;
using AbleLark.Server.Hours;
using AbleLark.Server.LineUps;
using AbleLark.Server.Results;
using NodaTime;

namespace AbleLark.Server.Time;

/// <summary>The background work of one round, in order: settle what comes near, send what is due, pull figures.</summary>
public sealed class Round(BusinessClock clock, Settling settling, Sending sending, FigurePull figures, AudiencePull audiences)
{
    public async Task RunAsync(CancellationToken cancellation)
    {
        Instant now = await clock.NowAsync(cancellation);
        await settling.SettleDueAsync(now, cancellation);
        await sending.SendDueAsync(now, cancellation);
        await figures.PullDueAsync(now, cancellation);
        await audiences.PullDueAsync(now, cancellation);
    }
}

/// <summary>Runs one round after another. Everything it rests on is in the database, so it may be killed at any time.</summary>
public sealed partial class Worker(IServiceScopeFactory scopes, ILogger<Worker> log) : BackgroundService
{
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(500);
    private static readonly TimeSpan PauseAfterTrouble = TimeSpan.FromSeconds(3);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            TimeSpan pause = Pause;
            try
            {
                await using AsyncServiceScope scope = scopes.CreateAsyncScope();
                bool jumped = await scope.ServiceProvider.GetRequiredService<DemoClock>().StepAsync(stoppingToken);
                await scope.ServiceProvider.GetRequiredService<Round>().RunAsync(stoppingToken);
                if (jumped) pause = TimeSpan.Zero;
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception e)
            {
                LogTrouble(e);
                pause = PauseAfterTrouble;
            }
            await Task.Delay(pause, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "A round of background work failed; it is tried again soon")]
    private partial void LogTrouble(Exception exception);
}
