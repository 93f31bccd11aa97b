using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.LineUps;
using AbleLark.Server.Posts;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Desk;

/// <param name="Figures">The latest reading; null: none yet.</param>
public sealed record WordingDelivery(
    Id<Delivery> Id,
    Id<Channel> ChannelId,
    LocalDate Date,
    LocalTime Time,
    DeliveryState State,
    string? Address,
    FigureSet? Figures
);

/// <summary>A place at which a wording would go out next.</summary>
public sealed record WordingPlace(Id<Channel> ChannelId, LocalDateTime At);

/// <param name="Wording">0: the post's own.</param>
/// <param name="Deliveries">The latest first.</param>
/// <param name="Next">The next on each channel, as things stand.</param>
public sealed record WordingUse(int Wording, IReadOnlyList<WordingDelivery> Deliveries, IReadOnlyList<WordingPlace> Next);

/// <summary>What became of each wording of a post, and which goes out next where: told, not judged.</summary>
public static class WordingEndpoints
{
    private const int Weeks = 12;
    private const int MostDeliveries = 200;

    public static void MapWordings(this RouteGroupBuilder workspace) =>
        workspace.MapGet("/posts/{id}/wordings", ShowAsync).Needs(Right.Results);

    private static async Task<List<WordingUse>> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        LarkDb db,
        BusinessClock clock,
        LineUpCache cache,
        CancellationToken cancellation
    )
    {
        Post post = await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
        (Workspace workspace, var lineUp) = await cache.GetAsync(workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        List<Delivery> deliveries = await db
            .Deliveries.AsNoTracking()
            .Where(d =>
                d.WorkspaceId == workspaceId && d.PostId == id && d.State != DeliveryState.Cancelled && d.State != DeliveryState.Substitute
            )
            .OrderByDescending(d => d.At)
            .Take(MostDeliveries)
            .ToListAsync(cancellation);
        List<Id<Delivery>> ids = [.. deliveries.Select(d => d.Id)];
        List<Reading> readings = await db
            .Readings.AsNoTracking()
            .Where(r => r.WorkspaceId == workspaceId && ids.Contains(r.DeliveryId))
            .GroupBy(r => r.DeliveryId)
            .Select(g => g.OrderByDescending(r => r.At).First())
            .ToListAsync(cancellation);
        Dictionary<Id<Delivery>, FigureSet> figures = readings.ToDictionary(r => r.DeliveryId, r => r.Figures);
        var next = deliveries
            .Where(d => d.State.IsToCome() && d.At > now)
            .Select(d => (d.Wording, d.ChannelId, d.At))
            .Concat(
                lineUp
                    .Project(now, now + Duration.FromDays(7 * Weeks))
                    .SelectMany(p => p.Picks.Where(k => k.PostId == id).Select(k => (k.Wording, k.ChannelId, p.Occurrence.At)))
            )
            .GroupBy(n => (n.Wording, n.ChannelId))
            .Select(g => (g.Key.Wording, g.Key.ChannelId, At: g.Min(n => n.At)))
            .ToList();
        return
        [
            .. Enumerable
                .Range(0, post.Content.Wordings.Count + 1)
                .Select(wording => new WordingUse(
                    wording,
                    [
                        .. deliveries
                            .Where(d => d.Wording == wording)
                            .Select(d => new WordingDelivery(
                                d.Id,
                                d.ChannelId,
                                d.LocalDate,
                                d.LocalTime,
                                d.State,
                                d.ShownAddress,
                                figures.GetValueOrDefault(d.Id)
                            )),
                    ],
                    [
                        .. next.Where(n => n.Wording == wording)
                            .OrderBy(n => n.At)
                            .Select(n => new WordingPlace(n.ChannelId, n.At.InZone(workspace.Zone).LocalDateTime)),
                    ]
                )),
        ];
    }
}
