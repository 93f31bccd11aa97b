using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Results;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Hours;

/// <param name="Zone">In which the hours are read.</param>
/// <param name="Hours">All of the week, Monday 00:00 first.</param>
/// <param name="Basis">What posts at an hour are held against.</param>
public sealed record HoursView(string Zone, IReadOnlyList<WeekHour> Hours, HourBasis Basis);

/// <summary>When followers are online, and when posts did well: for some channels, or all together.</summary>
public static class HoursEndpoints
{
    public static void MapHours(this RouteGroupBuilder workspace) => workspace.MapGet("/hours", ShowAsync).Needs(Right.Results);

    private static async Task<HoursView> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Channel>[] channel,
        LarkDb db,
        GoodHours good,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        List<Channel> channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == workspaceId && (channel.Length == 0 || channel.Contains(c.Id)))
            .ToListAsync(cancellation);
        if (channels.Count < channel.Distinct().Count())
            throw ProblemException.NotFound("This channel");
        List<Id<Channel>> ids = [.. channels.Select(c => c.Id)];
        var online = await db
            .ChannelAudiences.AsNoTracking()
            .Where(a => a.WorkspaceId == workspaceId && ids.Contains(a.ChannelId))
            .Select(a => a.Online)
            .ToListAsync(cancellation);
        (HourBasis basis, IReadOnlyList<HourResult> results) = await good.OfAsync(workspace, cancellation);
        HourResult[] own = [.. results.Where(r => ids.Contains(r.ChannelId))];
        DateTimeZone zone = (channel.Length == 1 ? channels[0].Zone : null) ?? workspace.Zone;
        return new(
            zone.Id,
            WeekHours.Of([.. online.Where(o => o.Count > 0)], own, zone, await clock.NowAsync(cancellation)),
            own.Length == 0 ? HourBasis.None : basis
        );
    }
}
