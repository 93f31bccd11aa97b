using AbleLark.Data;
using AbleLark.Server.Demo;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace AbleLark.Server;

/// <summary>Brings the database up to date before anything else starts, and gives an empty demo its data.</summary>
public sealed class DatabaseStart(IServiceScopeFactory scopes, IOptions<LarkSettings> settings) : IHostedService
{
    public async Task StartAsync(CancellationToken cancellationToken)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        if (settings.Value.MigrateOnStart) await db.Database.MigrateAsync(cancellationToken);
        if (!settings.Value.Demo) return;
        await using var transaction = await db.Database.BeginTransactionAsync(cancellationToken);
        await db.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock(7465102)", cancellationToken);
        if (!await db.Workspaces.AnyAsync(cancellationToken)) await scope.ServiceProvider.GetRequiredService<DemoData>().MakeAsync(cancellationToken);
        else if (!await db.BusinessTimes.AnyAsync(cancellationToken)) db.BusinessTimes.Add(new());
        await db.SaveChangesAsync(cancellationToken);
        await transaction.CommitAsync(cancellationToken);
    }

    public Task StopAsync(CancellationToken cancellationToken) => Task.CompletedTask;
}
