using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Workspaces;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data.Posts;

/// <summary>Reads what content rests on outside of itself.</summary>
public static class Sources
{
    /// <param name="files">The files that the content names; those that are not the workspace's are not there.</param>
    public static async Task<ContentSources> SourcesAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        IEnumerable<Id<MediaFile>> files,
        CancellationToken cancellation
    )
    {
        List<Id<MediaFile>> ids = [.. files.Distinct()];
        // What an act has just added or changed counts; what it has removed is not among the local ones.
        if (ids.Count > 0)
            await db.Media.Where(m => m.WorkspaceId == workspace && ids.Contains(m.Id)).LoadAsync(cancellation);
        Dictionary<Id<MediaFile>, MediaFile> media = db.Media.Local.Where(m => m.WorkspaceId == workspace).ToDictionary(m => m.Id);
        await db.Contacts.Where(c => c.WorkspaceId == workspace).LoadAsync(cancellation);
        IReadOnlyList<string> verbs =
            db.Workspaces.Local.FirstOrDefault(w => w.Id == workspace)?.ButtonVerbs
            ?? await db.Workspaces.Where(w => w.Id == workspace).Select(w => w.ButtonVerbs).SingleAsync(cancellation);
        return new(media.GetValueOrDefault)
        {
            Contacts = [.. db.Contacts.Local.Where(c => c.WorkspaceId == workspace)],
            ButtonVerbs = verbs,
        };
    }
}
