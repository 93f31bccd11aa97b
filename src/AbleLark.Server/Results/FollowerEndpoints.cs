using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Results;

public sealed record FollowerPoint(LocalDate Date, int Followers);

/// <param name="Points">Of each date on which something went out there, and of today.</param>
public sealed record ChannelFollowers(Id<Channel> ChannelId, IReadOnlyList<FollowerPoint> Points);

/// <summary>How many follow each channel, as it was known whenever something went out there.</summary>
public static class FollowerEndpoints
{
    public static void MapFollowers(this RouteGroupBuilder workspace) =>
        workspace.MapGet("/results/followers", ShowAsync).Needs(Right.Results);

    private static async Task<List<ChannelFollowers>> ShowAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        if (to.Value < from.Value)
            throw ProblemException.BadInput("The last date lies before the first. Swap them.");
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        Instant first = workspace.StartOf(from.Value),
            end = workspace.StartOf(to.Value.PlusDays(1));
        List<Told> told = await db
            .Database.SqlQuery<Told>(
                $"""
                select channel_id as "Channel", facts ->> 'date' as "Date", max((facts ->> 'followers')::int) as "Followers"
                from deliveries
                where workspace_id = {workspaceId.Value} and state = {nameof(DeliveryState.Sent)}
                    and sent_at >= {first} and sent_at < {end} and facts ->> 'followers' is not null
                group by 1, 2
                """
            )
            .ToListAsync(cancellation);
        ILookup<Guid, FollowerPoint> points = told.ToLookup(
            t => t.Channel,
            t => new FollowerPoint(NodaTime.Text.LocalDatePattern.Iso.Parse(t.Date).Value, t.Followers)
        );
        LocalDate today = workspace.DateOf(await clock.NowAsync(cancellation));
        List<Channel> channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == workspaceId)
            .OrderBy(c => c.Position)
            .ToListAsync(cancellation);
        return
        [
            .. channels
                .Select(c => new ChannelFollowers(
                    c.Id,
                    [
                        .. points[c.Id.Value]
                            .Where(p => p.Date != today)
                            .Concat(c.Followers is { } now && today >= from.Value && today <= to.Value ? [new(today, now)] : [])
                            .OrderBy(p => p.Date),
                    ]
                ))
                .Where(c => c.Points.Count > 0),
        ];
    }

    private sealed record Told(Guid Channel, string Date, int Followers);
}
