using AbleLark.Core;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>When a server has started, it works the line-up of its large workspaces out once, so that whoever looks first waits for less
/// than all of it.</summary>
public sealed partial class LineUpWarming(IServiceScopeFactory scopes, ILogger<LineUpWarming> log) : BackgroundService
{
    /// <summary>From so many posts on it takes long enough to be noticed.</summary>
    private const int Large = 1000;

    /// <summary>The largest; more would push each other out.</summary>
    private const int Most = 20;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        try
        {
            foreach (Id<Workspace> id in await LargeOnesAsync(stoppingToken))
            {
                await using AsyncServiceScope scope = scopes.CreateAsyncScope();
                (_, SharedLineUp lineUp) = await scope.ServiceProvider.GetRequiredService<LineUpCache>().GetAsync(id, stoppingToken);
                Instant now = await scope.ServiceProvider.GetRequiredService<BusinessClock>().NowAsync(stoppingToken);
                lineUp.Project(now, now + Duration.FromDays(1));
            }
        }
        catch (Exception e) when (!stoppingToken.IsCancellationRequested)
        {
            // Whoever looks first reads it, and hears of the trouble if it lasts.
            LogFailure(e);
        }
    }

    private async Task<List<Id<Workspace>>> LargeOnesAsync(CancellationToken cancellation)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        return await scope
            .ServiceProvider.GetRequiredService<LarkDb>()
            .Posts.Where(p => p.RemovedAt == null)
            .GroupBy(p => p.WorkspaceId)
            .Where(g => g.Count() > Large)
            .OrderByDescending(g => g.Count())
            .Select(g => g.Key)
            .Take(Most)
            .ToListAsync(cancellation);
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "The line-ups could not be worked out ahead; whoever looks first waits for them")]
    private partial void LogFailure(Exception exception);
}
