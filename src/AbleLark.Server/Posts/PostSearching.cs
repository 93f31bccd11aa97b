using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Posts;

/// <summary>Posts of a bank that somebody may see and that say some words.</summary>
internal static class PostSearching
{
    public static IQueryable<Post> Among(LarkDb db, Id<Workspace> workspace, string? search, Caller caller)
    {
        string words = PostSearch.Fold((search ?? "").Replace("\0", "", StringComparison.Ordinal).Trim());
        string pattern =
            "%"
            + words
                .Replace(@"\", @"\\", StringComparison.Ordinal)
                .Replace("%", @"\%", StringComparison.Ordinal)
                .Replace("_", @"\_", StringComparison.Ordinal)
            + "%";
        IQueryable<Post> posts = words.Length == 0 ? db.Posts : db.Posts.Where(p => EF.Functions.Like(p.SearchText, pattern, @"\"));
        posts = posts.AsNoTracking().Where(p => p.WorkspaceId == workspace && p.RemovedAt == null);
        // A client sees what is planned and what waits for them, not what is being written.
        return caller.SeesAll ? posts : posts.Where(p => p.Stage == Stage.Ready || p.Stage == Stage.WaitingForApproval);
    }
}
