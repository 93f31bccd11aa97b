using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Checks;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Media;

/// <summary>Pictures, videos and documents of the workspace.</summary>
public static class MediaEndpoints
{
    private const int MostOnPage = 200;

    /// <summary>Longest sides in which pictures are given smaller than they are; few, so that each is made once.</summary>
    private static readonly int[] Sides = [160, 320, 640, 1280];

    public static void MapMedia(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/media", ListAsync).Needs(Right.View);
        workspace.MapPost("/media", AddAsync).Needs(Right.Write).DisableAntiforgery();
        workspace.MapPost("/media/removal", RemoveAsync).Needs(Right.Write);
        workspace.MapGet("/media/{id}", ShowAsync).Needs(Right.View);
        workspace.MapGet("/media/{id}/facts", FactsAsync).Needs(Right.View);
        workspace.MapGet("/media/{id}/uses", UsesAsync).Needs(Right.View);
        workspace.MapGet("/media/{id}/crops", CropsAsync).Needs(Right.View);
        workspace.MapPut("/media/{id}", DescribeAsync).Needs(Right.Write);
        workspace.MapPost("/media/{id}/poster", DrawnPosterAsync).Needs(Right.Write).DisableAntiforgery();
        workspace.MapPut("/media/{id}/poster", ChosenPosterAsync).Needs(Right.Write);
    }

    private static Task<MediaPage> ListAsync(
        Id<Workspace> workspaceId,
        string? search,
        QueryWord<MediaSort>? sort,
        QueryWord<MediaShape>? shape,
        QueryWord<MediaUse>? use,
        int? skip,
        int? take,
        MediaLibrary library,
        CancellationToken cancellation
    )
    {
        if (search?.Length > 200)
            throw ProblemException.BadInput("A search has 200 characters at most. Shorten it.");
        return library.ListAsync(
            workspaceId,
            search?.Replace("\0", "", StringComparison.Ordinal),
            sort?.Value,
            shape?.Value,
            use?.Value,
            Math.Max(skip ?? 0, 0),
            Math.Clamp(take ?? 60, 1, MostOnPage),
            cancellation
        );
    }

    private static async Task<MediaView> AddAsync(
        Id<Workspace> workspaceId,
        IFormFile file,
        MediaStore store,
        CancellationToken cancellation
    )
    {
        await using Stream bytes = file.OpenReadStream();
        return MediaView.Of(await store.AddAsync(workspaceId, file.FileName, bytes, cancellation));
    }

    private static async Task<MediaView> FactsAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        LarkDb db,
        CancellationToken cancellation
    ) => MediaView.Of(await FindAsync(workspaceId, id, db, cancellation));

    private static async Task<MediaUses> UsesAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        LarkDb db,
        MediaLibrary library,
        CancellationToken cancellation
    )
    {
        await FindAsync(workspaceId, id, db, cancellation);
        return await library.UsesAsync(workspaceId, id, cancellation);
    }

    /// <summary>What each network takes of a picture, in each format that shows pictures.</summary>
    private static async Task<IReadOnlyList<CropChoice>> CropsAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        MediaFile file = await FindAsync(workspaceId, id, db, cancellation);
        if (!FileKinds.IsPicture(file.Kind))
            throw ProblemException.BadInput($"“{file.FileName}” is no picture, so nothing of it can be cut away.");
        return
        [
            .. networks.All.SelectMany(n =>
                n.Formats.Where(f => f.Pictures is not null).Select(f => CropChoice.Of(n.Key, f.Format, f.Pictures!, file))
            ),
        ];
    }

    /// <summary>Says what is in a picture; posts that say nothing else of it say the same from now on.</summary>
    private static async Task<MediaView> DescribeAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        MediaRequest request,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        if (request.Focus is { IsValid: false })
            throw ProblemException.BadInput("A picture's focus is given by two shares of its width and height, each from 0 to 1.");
        MediaFile file = await FindAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.FileDescribed, file.FileName));
        if (request.FileName is { } name)
            file.FileName = MediaStore.NameOf(name);
        (file.AltText, file.FocusX, file.FocusY) = (request.AltText.Trim(), request.Focus?.X, request.Focus?.Y);
        await StalePosts.CheckUsingAsync(workspaceId, p => p.FileIds.Contains(id), db, networks, now, cancellation);
        await db.SaveChangesAsync(cancellation);
        return MediaView.Of(file);
    }

    /// <summary>Takes files out that nothing uses; they can be brought back.</summary>
    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId,
        MediaRemoval removal,
        HttpContext http,
        LarkDb db,
        MediaLibrary library,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Id<MediaFile>[] ids = [.. removal.Files.Distinct()];
        List<MediaFile> files = await db
            .Media.Where(m => m.WorkspaceId == workspaceId && m.RemovedAt == null && ids.Contains(m.Id))
            .ToListAsync(cancellation);
        if (files.Count == 0)
            throw ProblemException.BadInput("None of these files is in the workspace's media, or no longer. Choose some that are.");
        if (await library.UsedAsync(workspaceId, ids, cancellation) is { Count: > 0 } used)
        {
            string which = used.Count == 1 ? $"“{used[0].FileName}” is" : $"{used.Count:N0} of these, “{used[0].FileName}” among them, are";
            throw ProblemException.Conflict(
                $"{which} used by a post, or went out with one. Nothing was removed: leave {(used.Count == 1 ? "it" : "those")} out."
            );
        }
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.FilesRemoved, files.Count, files[0].FileName));
        foreach (MediaFile file in files)
            file.RemovedAt = now;
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>Takes a picture that whoever sent the video has drawn from it.</summary>
    private static async Task<MediaView> DrawnPosterAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        IFormFile file,
        LarkDb db,
        MediaStore store,
        CancellationToken cancellation
    )
    {
        MediaFile video = await VideoAsync(workspaceId, id, db, cancellation);
        await using Stream bytes = file.OpenReadStream();
        await store.SetPosterAsync(video, bytes, cancellation);
        await db.SaveChangesAsync(cancellation);
        return MediaView.Of(video);
    }

    private static async Task<MediaView> ChosenPosterAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        PosterRequest request,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        MediaFile video = await VideoAsync(workspaceId, id, db, cancellation);
        MediaFile picture = await FindAsync(workspaceId, request.Picture, db, cancellation);
        if (!FileKinds.IsPicture(picture.Kind))
            throw ProblemException.BadInput($"“{picture.FileName}” is no picture. Choose one to stand for the video.");
        video.PosterHash = picture.Hash;
        await db.SaveChangesAsync(cancellation);
        return MediaView.Of(video);
    }

    private static async Task<MediaFile> VideoAsync(Id<Workspace> workspace, Id<MediaFile> id, LarkDb db, CancellationToken cancellation) =>
        await FindAsync(workspace, id, db, cancellation) is { Kind: FileKinds.Mp4 } video
            ? video
            : throw ProblemException.BadInput("Only a video has a picture that stands for it.");

    private static async Task<MediaFile> FindAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        LarkDb db,
        CancellationToken cancellation
    ) => await db.Media.FindAsync([workspaceId, id], cancellation) ?? throw ProblemException.NotFound("This file");

    /// <summary>The file as it was sent to us; with a side, a small picture of it; `sent`: as networks get it.</summary>
    /// <param name="side">One of <see cref="Sides"/>.</param>
    /// <param name="crop">With `sent`: the part of a picture, as `x,y,width,height` in pixels.</param>
    private static async Task<IResult> ShowAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        int? side,
        bool? sent,
        string? crop,
        HttpContext http,
        LarkDb db,
        IFileStore files,
        Renditions renditions,
        SentFiles sentFiles,
        CancellationToken cancellation
    )
    {
        if (side is { } wanted && !Sides.Contains(wanted))
            throw ProblemException.BadInput(
                $"There is no picture {wanted.ToString(CultureInfo.InvariantCulture)} pixels large. There are: {string.Join(", ", Sides)}."
            );
        MediaFile file = await FindAsync(workspaceId, id, db, cancellation);
        bool isPicture = FileKinds.IsPicture(file.Kind);
        string? hash = isPicture ? file.Hash : file.PosterHash;
        if (side is not null && hash is null)
            throw ProblemException.NotFound("A picture of this file");
        Rendition? shown =
            side is not null ? await renditions.GetAsync(hash!, new(MostSide: side, IsStill: true), cancellation)
            : sent == true ? await SentAsync(file, CropOf(crop), sentFiles, cancellation)
            : files.Find(MediaStore.KeyOf(file.Hash)) is { } path ? new(path, file.Kind)
            : null;
        if (shown is null)
            throw ProblemException.NotFound("The content of this file");
        // A poster may be chosen anew; all else never changes under its address.
        http.Response.Headers.CacheControl = side is not null && !isPicture ? "private, no-cache" : "private, max-age=31536000, immutable";
        return Answers.File(shown.Path, shown.Kind, enableRangeProcessing: true);
    }

    private static async Task<Rendition?> SentAsync(MediaFile file, Crop? crop, SentFiles sentFiles, CancellationToken cancellation)
    {
        if (crop is not null && !crop.FitsIn(file))
            throw ProblemException.BadInput("That part doesn't lie within the picture.");
        return await sentFiles.FindAsync(file, crop, mostBytes: null, along: [], cancellation) is { } made
            ? new(made.Path, made.Kind)
            : null;
    }

    private static Crop? CropOf(string? text)
    {
        if (text is null)
            return null;
        int[] parts =
        [
            .. text.Split(',').Select(p => int.TryParse(p, NumberStyles.None, CultureInfo.InvariantCulture, out int n) ? n : -1),
        ];
        return parts is [>= 0, >= 0, > 0, > 0]
            ? new(parts[0], parts[1], parts[2], parts[3])
            : throw ProblemException.BadInput("A part of a picture is written as x,y,width,height, in pixels.");
    }
}
