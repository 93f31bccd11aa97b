using System.Text.RegularExpressions;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Media;

/// <summary>Finds files of a workspace, and where they are used.</summary>
public sealed class MediaLibrary(LarkDb db)
{
    private const int MostSendings = 50;

    /// <param name="words">Each must be in the name or the alt text; null: any.</param>
    /// <param name="skip">So many of them are left out, newest first.</param>
    public async Task<MediaPage> ListAsync(
        Id<Workspace> workspace,
        string? words,
        MediaSort? sort,
        MediaShape? shape,
        MediaUse? use,
        int skip,
        int take,
        CancellationToken cancellation
    )
    {
        IQueryable<MediaFile> files = db.Media.AsNoTracking().Where(m => m.WorkspaceId == workspace && m.RemovedAt == null);
        foreach (string word in (words ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Take(8))
        {
            string pattern = $"%{Regex.Replace(word, @"[\\%_]", @"\$0")}%";
            files = files.Where(m => EF.Functions.ILike(m.FileName, pattern, @"\") || EF.Functions.ILike(m.AltText, pattern, @"\"));
        }
        const double more = 1 + MediaFile.SquareWithin;
        files = shape switch
        {
            MediaShape.Wide => files.Where(m => m.Height > 0 && m.Width > m.Height * more),
            MediaShape.Upright => files.Where(m => m.Width > 0 && m.Height > m.Width * more),
            MediaShape.Square => files.Where(m => m.Width > 0 && m.Width <= m.Height * more && m.Height <= m.Width * more),
            _ => files,
        };
        files = sort switch
        {
            MediaSort.Video => files.Where(m => m.Seconds != null),
            MediaSort.Document => files.Where(m => m.Pages != null),
            MediaSort.Picture => files.Where(m => m.Seconds == null && m.Pages == null),
            _ => files,
        };
        if (use is not null)
            files = use == MediaUse.Used ? files.Where(Used(true)) : files.Where(Used(false));
        int total = await files.CountAsync(cancellation);
        List<MediaFile> page = await files
            .OrderByDescending(m => m.AddedAt)
            .ThenByDescending(m => m.Id)
            .Skip(skip)
            .Take(take)
            .ToListAsync(cancellation);
        Id<MediaFile>[] ids = [.. page.Select(m => m.Id)];
        var inPosts = await db
            .Posts.Where(p => p.WorkspaceId == workspace && p.RemovedAt == null && p.FileIds.Any(f => ids.Contains(f)))
            .Select(p => p.FileIds)
            .ToListAsync(cancellation);
        var sent = await db
            .Deliveries.Where(d => d.WorkspaceId == workspace && d.State == DeliveryState.Sent && d.FileIds.Any(f => ids.Contains(f)))
            .Select(d => new { d.FileIds, At = d.SentAt ?? d.At })
            .ToListAsync(cancellation);
        Dictionary<Id<MediaFile>, int> posts = inPosts.SelectMany(f => f).CountBy(f => f).ToDictionary();
        Dictionary<Id<MediaFile>, Instant> last = sent.SelectMany(s => s.FileIds, (s, f) => (File: f, s.At))
            .GroupBy(s => s.File)
            .ToDictionary(g => g.Key, g => g.Max(s => s.At));
        return new(
            [
                .. page.Select(m => new MediaItem(
                    MediaView.Of(m),
                    posts.GetValueOrDefault(m.Id),
                    last.TryGetValue(m.Id, out Instant at) ? at : null
                )),
            ],
            total
        );
    }

    public async Task<MediaUses> UsesAsync(Id<Workspace> workspace, Id<MediaFile> id, CancellationToken cancellation)
    {
        IQueryable<Delivery> sendings = db.Deliveries.Where(d =>
            d.WorkspaceId == workspace && d.FileIds.Contains(id) && d.State != DeliveryState.Cancelled
        );
        return new(
            await db
                .Posts.Where(p => p.WorkspaceId == workspace && p.RemovedAt == null && p.FileIds.Contains(id))
                .OrderBy(p => p.Title)
                .Select(p => new MediaUseView(p.Id, p.Title, p.Stage))
                .ToListAsync(cancellation),
            await sendings
                .OrderByDescending(d => d.At)
                .Take(MostSendings)
                .Select(d => new MediaSendingView(d.Id, d.PostId, d.ChannelId, d.SentAt ?? d.At, d.State, d.Address))
                .ToListAsync(cancellation),
            await sendings.CountAsync(d => d.State == DeliveryState.Sent, cancellation)
        );
    }

    /// <summary>Those of some files that something uses: a post, one taken out of the bank too, since it may come back, or anything
    /// that went out.</summary>
    public Task<List<MediaFile>> UsedAsync(Id<Workspace> workspace, IReadOnlyList<Id<MediaFile>> ids, CancellationToken cancellation) =>
        db.Media.Where(m => m.WorkspaceId == workspace && ids.Contains(m.Id)).Where(Used(true)).ToListAsync(cancellation);

    private System.Linq.Expressions.Expression<Func<MediaFile, bool>> Used(bool wanted) =>
        m =>
            (
                db.Posts.Any(p => p.WorkspaceId == m.WorkspaceId && p.FileIds.Contains(m.Id))
                || db.Deliveries.Any(d => d.WorkspaceId == m.WorkspaceId && d.FileIds.Contains(m.Id))
            ) == wanted;
}
