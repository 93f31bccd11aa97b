using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;

namespace AbleLark.Server.Posts;

/// <param name="Content">What the post says now.</param>
/// <param name="Picture">The picture that it shows no longer.</param>
/// <param name="By">The picture that comes in its place.</param>
public sealed record ReplaceRequest(PostContent Content, Id<MediaFile> Picture, Id<MediaFile> By);

/// <param name="Content">What the post says then.</param>
/// <param name="Crops">What became of each crop of the old picture.</param>
public sealed record ReplacedView(PostContent Content, IReadOnlyList<CarriedCrop> Crops);

/// <summary>Pictures within what a post says.</summary>
public static class PictureEndpoints
{
    public static void MapPictures(this RouteGroupBuilder workspace) =>
        workspace.MapPost("/posts/picture-replacement", ReplaceAsync).Needs(Right.Write);

    /// <summary>What a post says when it shows another picture wherever it showed one. Nothing is saved.</summary>
    private static async Task<ReplacedView> ReplaceAsync(
        Id<Workspace> workspaceId,
        ReplaceRequest request,
        LarkDb db,
        PostChecking checking,
        CancellationToken cancellation
    )
    {
        MediaFile old = await FindAsync(request.Picture);
        MediaFile by = await FindAsync(request.By);
        if (!FileKinds.IsPicture(by.Kind))
            throw ProblemException.BadInput($"“{by.FileName}” is no picture. Choose one to stand in the place of another.");
        (PostContent content, IReadOnlyList<CarriedCrop> crops) = PictureReplacement.Replace(checking.Tidy(request.Content), old, by);
        return new(content, crops);

        async Task<MediaFile> FindAsync(Id<MediaFile> id) =>
            await db.Media.FindAsync([workspaceId, id], cancellation) ?? throw ProblemException.NotFound("This file");
    }
}
