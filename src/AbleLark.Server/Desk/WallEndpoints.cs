using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
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

/// <summary>One picture on a channel's own page, or one film.</summary>
/// <param name="Key">Of its entry in the line-up.</param>
/// <param name="DeliveryId">Null: nothing is scheduled of it yet.</param>
/// <param name="Crop">The part of it that is shown; null: all of it.</param>
/// <param name="Ratio">Width ÷ height of what is shown, so that its room is kept before it is there; null: not known any more.</param>
/// <param name="IsComing">True: it isn't out yet.</param>
/// <param name="IsFilm">True: it is a film; the picture that stands for it is shown.</param>
/// <param name="HasPicture">False: it is a film for which no picture stands.</param>
public sealed record WallPicture(
    string Key,
    Id<Delivery>? DeliveryId,
    Guid MediaId,
    Crop? Crop,
    double? Ratio,
    string? AltText,
    LocalDate Date,
    bool IsComing,
    bool IsFilm,
    bool HasPicture
);

/// <summary>A channel's own page as its followers see it, or will: the first picture of each post or its film, the latest
/// first.</summary>
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
        List<WallPicture> all =
        [
            .. await ComingAsync(),
            .. from delivery in sent
            let picture = FirstOf(delivery.Sent, delivery.Id.ToString(), delivery.Id, delivery.LocalDate, isComing: false)
            where picture is not null
            select picture,
        ];
        List<Id<MediaFile>> ids = [.. all.Select(p => new Id<MediaFile>(p.MediaId)).Distinct()];
        var files = await db
            .Media.Where(m => m.WorkspaceId == workspaceId && ids.Contains(m.Id))
            .Select(m => new
            {
                m.Id,
                m.Width,
                m.Height,
                HasPoster = m.PosterHash != null,
            })
            .ToDictionaryAsync(m => m.Id.Value, cancellation);
        return
        [
            .. from picture in all
            let file = files.GetValueOrDefault(picture.MediaId)
            let size = picture.Crop is { } crop ? (crop.Width, crop.Height) : (Width: file?.Width ?? 0, Height: file?.Height ?? 0)
            select picture with
            {
                Ratio = size is { Width: > 0, Height: > 0 } ? (double)size.Width / size.Height : null,
                HasPicture = !picture.IsFilm || file is { HasPoster: true },
            },
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
                let content = post.Content.For(target, wording, sources: sources)
                let picture = FirstOf(content, entry.Key, entry.DeliveryId, entry.Date, isComing: true)
                where picture is not null
                select picture,
            ];
        }
    }

    private static WallPicture? FirstOf(ResolvedContent? content, string key, Id<Delivery>? delivery, LocalDate date, bool isComing)
    {
        if (content?.Fields.Get(ContentFields.Pictures)?.All is { Count: > 0 } pictures)
            return Of(pictures[0].MediaId, pictures[0].Crop, pictures[0].AltText, isFilm: false);
        return content?.Fields.Get(ContentFields.Video) is { } film ? Of(film.MediaId, null, null, isFilm: true) : null;

        WallPicture Of(Id<MediaFile> media, Crop? crop, string? altText, bool isFilm) =>
            new(key, delivery, media.Value, crop, Ratio: null, altText, date, isComing, isFilm, HasPicture: true);
    }
}
