using AbleLark.Data;
using Microsoft.Extensions.Options;

namespace AbleLark.Server.Work;

/// <summary>Ends transactions of this process that hold a workspace's lock for too long, and says what they were.</summary>
public sealed partial class LockWatch(HeldLocks held, IServiceScopeFactory scopes, IOptions<LarkSettings> settings, ILogger<LockWatch> log)
    : BackgroundService
{
    private static readonly TimeSpan Between = TimeSpan.FromMilliseconds(500);

    private readonly TimeSpan _longest = TimeSpan.FromSeconds(settings.Value.LockHoldSeconds);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                if (held.IsAnyOlder(_longest))
                    await EndAsync(stoppingToken);
            }
            catch (Exception e) when (!stoppingToken.IsCancellationRequested)
            {
                LogFailure(e.GetBaseException().Message);
            }
            await Task.Delay(Between, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    private async Task EndAsync(CancellationToken stopping)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb through = scope.ServiceProvider.GetRequiredService<LarkDb>();
        foreach (HeldLock one in await held.EndAsync(_longest, through, stopping))
            LogEnded(one.What, one.Workspace.Value, _longest.TotalSeconds);
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "{What} held the lock of workspace {Workspace} for {Seconds} s, and was ended")]
    private partial void LogEnded(string what, Guid workspace, double seconds);

    [LoggerMessage(Level = LogLevel.Warning, Message = "Long transactions can't be looked after just now ({Reason})")]
    private partial void LogFailure(string reason);
}
