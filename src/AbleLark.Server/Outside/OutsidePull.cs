using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Work;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Outside;

/// <summary>Looks, every hour, for posts that people made on the channels themselves. Each channel apart: one that fails is put
/// aside.</summary>
public sealed partial class OutsidePull(IServiceScopeFactory scopes, ILogger<OutsidePull> log) : IBackgroundWork
{
    private static readonly Duration LookAgainAfter = Duration.FromHours(1);

    public WorkKind Kind => WorkKind.Outside;

    public TimeSpan Pause => TimeSpan.FromSeconds(5);

    public async Task RunAsync(Instant now, CancellationToken stopping)
    {
        Instant before = now - LookAgainAfter;
        foreach ((Id<Workspace> workspace, Id<Channel> channel) in await DueAsync(before, stopping))
        {
            await using AsyncServiceScope scope = scopes.CreateAsyncScope();
            PutAside aside = scope.ServiceProvider.GetRequiredService<PutAside>();
            string? trouble;
            try
            {
                trouble = await scope
                    .ServiceProvider.GetRequiredService<OutsideLook>()
                    .LookAsync(workspace, channel, before, now, stopping);
            }
            catch (Exception e) when (!stopping.IsCancellationRequested && !DatabaseTrouble.IsAway(e))
            {
                LogFailure(channel, e);
                trouble = $"Tell whoever runs Able Lark. ({e.Message})";
            }
            if (trouble is null)
                await aside.WorkedAsync(Kind, workspace, channel.Value, stopping);
            else
                await aside.FailedAsync(Kind, workspace, channel.Value, $"What is posted there can't be read. {trouble}", null, stopping);
        }
    }

    private async Task<List<(Id<Workspace>, Id<Channel>)>> DueAsync(Instant before, CancellationToken cancellation)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        var due = await db
            .Channels.Where(c =>
                c.Connection == ConnectionState.Connected
                && !db.ChannelAudiences.Any(a => a.WorkspaceId == c.WorkspaceId && a.ChannelId == c.Id && a.LookedAt > before)
            )
            .Select(c => new { c.WorkspaceId, c.Id })
            .ToListAsync(cancellation);
        return await scope
            .ServiceProvider.GetRequiredService<PutAside>()
            .WithoutAsync(Kind, [.. due.Select(c => (c.WorkspaceId, c.Id))], c => c.Item2.Value, cancellation);
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "Posts made on channel {Channel} can't be read; it is put aside for a while")]
    private partial void LogFailure(Id<Channel> channel, Exception exception);
}
