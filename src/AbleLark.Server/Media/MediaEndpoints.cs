using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Checks;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using NodaTime;

namespace AbleLark.Server.Media;

/// <param name="Width">Pixels.</param>
/// <param name="Height">Pixels.</param>
/// <param name="Seconds">A video's length; null: it isn't one.</param>
/// <param name="Pages">A document's; null: it isn't one.</param>
/// <param name="Focus">The point that matters most; null: nobody said.</param>
public sealed record MediaView(
    Id<MediaFile> Id,
    string FileName,
    string Kind,
    long Bytes,
    int Width,
    int Height,
    double? Seconds,
    int? Pages,
    string AltText,
    FocalPoint? Focus
)
{
    public static MediaView Of(MediaFile m) =>
        new(
            m.Id,
            m.FileName,
            m.Kind,
            m.Bytes,
            m.Width,
            m.Height,
            m.Seconds,
            m.Pages,
            m.AltText,
            m is { FocusX: { } x, FocusY: { } y } ? new(x, y) : null
        );
}

/// <param name="AltText">The picture in words; empty: none.</param>
/// <param name="Focus">The point that matters most; null: the middle.</param>
public sealed record MediaRequest([property: StringLength(Picture.MostAltText)] string AltText, FocalPoint? Focus);

public static class MediaEndpoints
{
    public static void MapMedia(this RouteGroupBuilder workspace)
    {
        workspace.MapPost("/media", AddAsync).Needs(Right.Write).DisableAntiforgery();
        workspace.MapGet("/media/{id}", ShowAsync).Needs(Right.View);
        workspace.MapGet("/media/{id}/facts", FactsAsync).Needs(Right.View);
        workspace.MapPut("/media/{id}", DescribeAsync).Needs(Right.Write);
    }

    private static async Task<MediaView> AddAsync(
        Id<Workspace> workspaceId,
        IFormFile file,
        [FromForm] int? width,
        [FromForm] int? height,
        [FromForm] double? seconds,
        [FromForm] int? pages,
        LarkDb db,
        MediaStore store,
        CancellationToken cancellation
    )
    {
        await using Stream bytes = file.OpenReadStream();
        MediaFile kept = await store.AddAsync(workspaceId, file.FileName, bytes, cancellation, new(width, height, seconds, pages));
        await db.SaveChangesAsync(cancellation);
        return MediaView.Of(kept);
    }

    private static async Task<MediaView> FactsAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        LarkDb db,
        CancellationToken cancellation
    ) => MediaView.Of(await FindAsync(workspaceId, id, db, cancellation));

    /// <summary>Says what is in a picture; posts that say nothing else of it say the same from now on.</summary>
    private static async Task<MediaView> DescribeAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        MediaRequest request,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        if (request.Focus is { IsValid: false })
            throw ProblemException.BadInput("A picture's focus is given by two shares of its width and height, each from 0 to 1.");
        MediaFile file = await FindAsync(workspaceId, id, db, cancellation);
        (file.AltText, file.FocusX, file.FocusY) = (request.AltText.Trim(), request.Focus?.X, request.Focus?.Y);
        Instant now = await clock.NowAsync(cancellation);
        await StalePosts.CheckUsingAsync(workspaceId, p => p.Content.AllFiles().Contains(id), db, networks, now, cancellation);
        await db.SaveChangesAsync(cancellation);
        return MediaView.Of(file);
    }

    private static async Task<MediaFile> FindAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        LarkDb db,
        CancellationToken cancellation
    ) => await db.Media.FindAsync([workspaceId, id], cancellation) ?? throw ProblemException.NotFound("This file");

    private static async Task<IResult> ShowAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        HttpContext http,
        LarkDb db,
        MediaStore store,
        CancellationToken cancellation
    )
    {
        MediaFile file = await FindAsync(workspaceId, id, db, cancellation);
        http.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
        return Answers.File(store.PathOf(file), file.Kind, enableRangeProcessing: true);
    }
}
