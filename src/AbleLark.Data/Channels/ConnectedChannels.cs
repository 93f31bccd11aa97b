using System.Linq.Expressions;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data.Channels;

/// <summary>Channels that something is to be asked about.</summary>
public static class ConnectedChannels
{
    /// <summary>Connected channels, of all workspaces, of which nothing is known that meets a condition.</summary>
    public static async Task<List<(Id<Workspace> Workspace, Id<Channel> Channel)>> ConnectedWithoutAsync(
        this LarkDb db,
        Expression<Func<ChannelAudience, bool>> condition,
        CancellationToken cancellation
    )
    {
        IQueryable<ChannelAudience> known = db.ChannelAudiences.Where(condition);
        var found = await db
            .Channels.Where(c =>
                c.Connection == ConnectionState.Connected && !known.Any(a => a.WorkspaceId == c.WorkspaceId && a.ChannelId == c.Id)
            )
            .Select(c => new { c.WorkspaceId, c.Id })
            .ToListAsync(cancellation);
        return [.. found.Select(c => (c.WorkspaceId, c.Id))];
    }
}
