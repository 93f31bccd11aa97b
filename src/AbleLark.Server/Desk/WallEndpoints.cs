using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.Access;
using AbleLark.Server.LineUps;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Desk;

/// <summary>One picture on a channel's own page.</summary>
/// <param name="Key">Of its entry in the line-up.</param>
/// <param name="DeliveryId">Null: nothing is scheduled of it yet.</param>
/// <param name="Crop">The part of it that is shown; null: all of it.</param>
/// <param name="IsComing">True: it isn't out yet.</param>
public sealed record WallPicture(
    string Key,
    Id<Delivery>? DeliveryId,
    Guid MediaId,
    Crop? Crop,
    string? AltText,
    LocalDate Date,
    bool IsComing
);

/// <summary>A channel's own page as its followers see it, or will: the first picture of each post, the latest first.</summary>
public static class WallEndpoints
{
    private const int Most = 24;
    private const int MostAhead = WorkspaceLimits.LineUpDays - 1;

    public static void MapWalls(this RouteGroupBuilder workspace) => workspace.MapGet("/channels/{id}/wall", ShowAsync).Needs(Right.View);

    /// <param name="ahead">For how many days from now what is to come stands there as well; none unless said.</param>
    private static async Task<List<WallPicture>> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Channel> id,
        int? ahead,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        LineUpViews views,
        CancellationToken cancellation
    )
    {
        if (ahead is < 0 or > MostAhead)
            throw ProblemException.BadInput($"Look ahead by 0 to {MostAhead} days.");
        Channel channel =
            await db.Channels.AsNoTracking().SingleOrDefaultAsync(c => c.WorkspaceId == workspaceId && c.Id == id, cancellation)
            ?? throw ProblemException.NotFound("This channel");
        List<Delivery> sent = await db
            .Deliveries.AsNoTracking()
            .Where(d => d.WorkspaceId == workspaceId && d.ChannelId == id && d.State == DeliveryState.Sent)
            .OrderByDescending(d => d.At)
            .Take(Most)
            .ToListAsync(cancellation);
        return
        [
            .. await ComingAsync(),
            .. from delivery in sent
            let picture = FirstOf(delivery.Sent)
            where picture is not null
            select new WallPicture(
                delivery.Id.ToString(),
                delivery.Id,
                picture.MediaId.Value,
                picture.Crop,
                picture.AltText,
                delivery.LocalDate,
                IsComing: false
            ),
        ];

        async Task<List<WallPicture>> ComingAsync()
        {
            if (ahead is not { } days || !networks.Has(channel.Network))
                return [];
            Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
            LocalDate today = workspace.DateOf(await clock.NowAsync(cancellation));
            LineUpEntry[] coming =
            [
                .. (await views.ReadAsync(workspaceId, today, today.PlusDays(days), false, cancellation)).Entries.Where(e =>
                    e.ChannelId == id
                    && e.PostId is not null
                    && e.State is null or DeliveryState.Planned or DeliveryState.WaitingForApproval or DeliveryState.Sending
                ),
            ];
            List<Id<Post>> ids = [.. coming.Select(e => e.PostId!.Value).Distinct()];
            Dictionary<Id<Post>, Post> posts = await db
                .Posts.AsNoTracking()
                .Where(p => p.WorkspaceId == workspaceId && ids.Contains(p.Id))
                .ToDictionaryAsync(p => p.Id, cancellation);
            List<Id<Delivery>> planned = [.. coming.Select(e => e.DeliveryId).OfType<Id<Delivery>>()];
            Dictionary<Id<Delivery>, int> wordings = await db
                .Deliveries.Where(d => d.WorkspaceId == workspaceId && planned.Contains(d.Id))
                .ToDictionaryAsync(d => d.Id, d => d.Wording, cancellation);
            ContentSources sources = await db.SourcesAsync(
                workspaceId,
                [.. posts.Values.SelectMany(p => p.Content.AllFiles()).Distinct()],
                cancellation
            );
            Target target = new(networks.For(channel), channel.Id);
            return
            [
                .. from entry in coming.Reverse()
                let post = posts.GetValueOrDefault(entry.PostId!.Value)
                where post is not null
                let wording = entry.DeliveryId is { } d ? wordings[d] : post.FitOn(channel)?.FirstWording ?? 0
                let picture = FirstOf(post.Content.For(target, wording, sources: sources))
                where picture is not null
                select new WallPicture(
                    entry.Key,
                    entry.DeliveryId,
                    picture.MediaId.Value,
                    picture.Crop,
                    picture.AltText,
                    entry.Date,
                    IsComing: true
                ),
            ];
        }
    }

    private static Picture? FirstOf(ResolvedContent? content) =>
        content?.Fields.Get(ContentFields.Pictures)?.All is { Count: > 0 } all ? all[0] : null;
}
