using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Desk;

/// <summary>What somebody left of a post's content when they had written for a while.</summary>
/// <param name="By">Null: not a person.</param>
/// <param name="Changed">Which fields were changed while they wrote; empty: the first.</param>
public sealed record VersionLine(int Number, Instant MadeAt, string? By, string Changed);

/// <summary>The versions of a post's content. To restore one, its content is saved as any other.</summary>
public static class VersionEndpoints
{
    /// <summary>What one person saves within this of what they saved before is one line: the page saves by itself at every pause.</summary>
    private static readonly Duration Sitting = Duration.FromMinutes(10);
    private const int Most = 500;

    public static void MapVersions(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/posts/{id}/versions", ListAsync).Needs(Right.Write);
        workspace.MapGet("/posts/{id}/versions/{number}", ShowAsync).Needs(Right.Write);
    }

    private static async Task<List<VersionLine>> ListAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
        List<PostVersion> versions = await db
            .PostVersions.AsNoTracking()
            .Where(v => v.WorkspaceId == workspaceId && v.PostId == id)
            .OrderByDescending(v => v.Number)
            .Take(Most)
            .ToListAsync(cancellation);
        versions.Reverse();
        ActorNames names = await ActorNames.ReadAsync(db, workspaceId, versions.Select(v => v.By), cancellation);
        List<PostVersion> kept = [.. versions.Where((v, i) => i + 1 == versions.Count || !GoesOn(v, versions[i + 1]))];
        return
        [
            .. kept.Select(
                    (v, i) =>
                        new VersionLine(
                            v.Number,
                            v.MadeAt,
                            names.Of(v.By),
                            i == 0
                                ? ""
                                : ContentDifference.Summary(kept[i - 1].Content.DifferencesTo(v.Content, ContentSources.None), networks)
                        )
                )
                .Reverse(),
        ];

        static bool GoesOn(PostVersion one, PostVersion next) => one.By == next.By && next.MadeAt - one.MadeAt < Sitting;
    }

    private static async Task<PostContent> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        int number,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
        PostVersion version =
            await db
                .PostVersions.AsNoTracking()
                .SingleOrDefaultAsync(v => v.WorkspaceId == workspaceId && v.PostId == id && v.Number == number, cancellation)
            ?? throw ProblemException.NotFound("This version");
        return version.Content;
    }
}
