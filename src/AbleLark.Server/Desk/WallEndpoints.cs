using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Desk;

/// <summary>One picture on a channel's own page.</summary>
/// <param name="Crop">The part of it that is shown; null: all of it.</param>
public sealed record WallPicture(Id<Delivery> DeliveryId, Guid MediaId, Crop? Crop, string? AltText, LocalDate Date);

/// <summary>A channel's own page as its followers see it: the first picture of each post, the latest first.</summary>
public static class WallEndpoints
{
    private const int Most = 24;

    public static void MapWalls(this RouteGroupBuilder workspace) => workspace.MapGet("/channels/{id}/wall", ShowAsync).Needs(Right.View);

    private static async Task<List<WallPicture>> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Channel> id,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        if (!await db.Channels.AnyAsync(c => c.WorkspaceId == workspaceId && c.Id == id, cancellation))
            throw ProblemException.NotFound("This channel");
        List<Delivery> sent = await db
            .Deliveries.AsNoTracking()
            .Where(d => d.WorkspaceId == workspaceId && d.ChannelId == id && d.State == DeliveryState.Sent)
            .OrderByDescending(d => d.At)
            .Take(Most)
            .ToListAsync(cancellation);
        return
        [
            .. from delivery in sent
            let pictures = delivery.Sent?.Fields.Get(ContentFields.Pictures)?.All
            where pictures is { Count: > 0 }
            let picture = pictures[0]
            select new WallPicture(delivery.Id, picture.MediaId.Value, picture.Crop, picture.AltText, delivery.LocalDate),
        ];
    }
}
