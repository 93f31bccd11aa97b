using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Channels;
using AbleLark.Data.Rows;
using AbleLark.Server.Work;
using NodaTime;

namespace AbleLark.Server.Outside;

/// <summary>Looks, every hour, for posts that people made on the channels themselves.</summary>
public sealed class OutsidePull(IServiceScopeFactory scopes, ILogger<OutsidePull> log)
    : ChannelWork(scopes, log, "What is posted there can't be read.")
{
    private static readonly Duration LookAgainAfter = Duration.FromHours(1);

    public override WorkKind Kind => WorkKind.Outside;

    public override TimeSpan Pause => TimeSpan.FromSeconds(5);

    protected override Task<List<(Id<Workspace> Workspace, Id<Channel> Channel)>> DueAsync(
        LarkDb db,
        Instant now,
        CancellationToken cancellation
    ) => db.ConnectedWithoutAsync(a => a.LookedAt > now - LookAgainAfter, cancellation);

    protected override async Task<ChannelOutcome> WorkAsync(
        IServiceProvider services,
        Id<Workspace> workspace,
        Id<Channel> channel,
        Instant now,
        CancellationToken stopping
    ) => new(await services.GetRequiredService<OutsideLook>().LookAsync(workspace, channel, now - LookAgainAfter, now, stopping));
}
