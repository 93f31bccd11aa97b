using AbleLark.Core;
using AbleLark.Core.Media;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;

namespace AbleLark.Server.Media;

/// <param name="Width">Pixels.</param>
/// <param name="Height">Pixels.</param>
public sealed record MediaView(Id<MediaFile> Id, string FileName, string Kind, long Bytes, int Width, int Height)
{
    public static MediaView Of(MediaFile m) => new(m.Id, m.FileName, m.Kind, m.Bytes, m.Width, m.Height);
}

public static class MediaEndpoints
{
    public static void MapMedia(this RouteGroupBuilder workspace)
    {
        workspace.MapPost("/media", AddAsync).Needs(Right.Write).DisableAntiforgery();
        workspace.MapGet("/media/{id}", ShowAsync).Needs(Right.View);
    }

    private static async Task<MediaView> AddAsync(
        Id<Workspace> workspaceId,
        IFormFile file,
        LarkDb db,
        MediaStore store,
        CancellationToken cancellation
    )
    {
        await using Stream bytes = file.OpenReadStream();
        MediaFile kept = await store.AddAsync(workspaceId, file.FileName, bytes, cancellation);
        await db.SaveChangesAsync(cancellation);
        return MediaView.Of(kept);
    }

    private static async Task<IResult> ShowAsync(
        Id<Workspace> workspaceId,
        Id<MediaFile> id,
        HttpContext http,
        LarkDb db,
        MediaStore store,
        CancellationToken cancellation
    )
    {
        MediaFile file = await db.Media.FindAsync([workspaceId, id], cancellation) ?? throw ProblemException.NotFound("This picture");
        http.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
        return Answers.File(store.PathOf(file), file.Kind, enableRangeProcessing: true);
    }
}
