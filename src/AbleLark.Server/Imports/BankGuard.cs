using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Imports;

/// <summary>Minds that what rows were held against is still so when they are imported.</summary>
internal static class BankGuard
{
    /// <summary>Refuses where the workspace has become another since the sheet was held against it.</summary>
    public static async Task CheckAsync(ImportRun run, OpenImport open, LarkDb db, ImportsInMemory memory, CancellationToken cancellation)
    {
        bool imported = open.Imported != await ImportedAsync(run.WorkspaceId, db, cancellation);
        List<Category> categories = await db
            .Categories.AsNoTracking()
            .Where(c => c.WorkspaceId == run.WorkspaceId)
            .ToListAsync(cancellation);
        List<Channel> channels = await db.Channels.AsNoTracking().Where(c => c.WorkspaceId == run.WorkspaceId).ToListAsync(cancellation);
        if (!imported && Shape(categories, channels) == Shape(open.Context.Categories, open.Context.Channels))
            return;
        memory.Forget(run.WorkspaceId, run.Id);
        throw ProblemException.Conflict(
            imported
                ? "Something else was imported since you looked at these rows. They have been held against the bank anew: look once more."
                : "Categories or channels have changed since you looked at these rows. They have been checked anew: look once more."
        );
    }

    private static string Shape(IEnumerable<Category> categories, IEnumerable<Channel> channels) =>
        string.Join(
            '\n',
            categories
                .Select(c => $"{c.Id} {c.NeedsApproval} {c.NewPostsRotate} {c.Lifespan} {string.Join(',', c.UsualChannels.Order())}")
                .Concat(channels.Select(c => $"{c.Id} {c.Connection} {c.Network}"))
                .Order(StringComparer.Ordinal)
        );

    /// <summary>What stands for all that was imported into a workspace and taken back: by count, since business time may stand
    /// still.</summary>
    public static async Task<string> ImportedAsync(Id<Workspace> workspace, LarkDb db, CancellationToken cancellation)
    {
        var counts = await db
            .ImportRuns.Where(r => r.WorkspaceId == workspace && r.State != ImportState.Open)
            .GroupBy(r => r.State)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToListAsync(cancellation);
        return string.Join(' ', counts.OrderBy(c => c.Key).Select(c => $"{c.Key} {c.Count}"));
    }
}
