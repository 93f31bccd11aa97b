using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Media;

/// <summary>Clears, now and then, what nobody will ask for again: drafts and uploads that were left off, pictures made from files that are
/// gone or unused for long, files that were taken out of the media long ago, sessions that have run out.</summary>
public sealed class MediaTidying(IServiceScopeFactory scopes, IFileStore files, TimeProvider machine) : IBackgroundWork
{
    private static readonly TimeSpan Between = TimeSpan.FromHours(1);
    private static readonly TimeSpan DraftsStay = TimeSpan.FromDays(1);
    private static readonly TimeSpan UploadsStay = TimeSpan.FromDays(7);
    private static readonly TimeSpan RenditionsStay = TimeSpan.FromDays(30);

    /// <summary>A file without a row may be one whose row is just being written.</summary>
    private static readonly TimeSpan OrphansStay = TimeSpan.FromDays(1);

    /// <summary>So long what was taken out can be brought back.</summary>
    private static readonly Duration RemovedStay = Duration.FromDays(30);

    private static readonly Duration TriesKept = Duration.FromDays(1);

    private DateTimeOffset _next = DateTimeOffset.MinValue;

    public WorkKind Kind => WorkKind.Tidying;

    public TimeSpan Pause => TimeSpan.FromSeconds(30);

    public async Task RunAsync(Instant now, CancellationToken stopping)
    {
        if (machine.GetUtcNow() < _next)
            return;
        _next = machine.GetUtcNow() + Between;
        await TidyAsync(now, stopping);
    }

    /// <summary>Does it now.</summary>
    public async Task TidyAsync(Instant now, CancellationToken stopping)
    {
        DateTime moment = machine.GetUtcNow().UtcDateTime;
        Clear(FolderStore.Drafts, DraftsStay);
        Clear(UploadEndpoints.Folder, UploadsStay);
        Clear(Renditions.Folder, RenditionsStay);
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        Instant before = now - RemovedStay;
        await db
            .Media.Where(m => m.RemovedAt < before)
            .Where(m =>
                !db.Posts.Any(p => p.WorkspaceId == m.WorkspaceId && p.FileIds.Contains(m.Id))
                && !db.Deliveries.Any(d => d.WorkspaceId == m.WorkspaceId && d.FileIds.Contains(m.Id))
            )
            .ExecuteDeleteAsync(stopping);
        Instant today = Instant.FromDateTimeUtc(moment);
        await db.Sessions.Where(s => s.EndsAt < today).ExecuteDeleteAsync(stopping);
        await db.TryCounts.Where(t => t.UsedUntil < today - TriesKept).ExecuteDeleteAsync(stopping);
        HashSet<string> wanted =
        [
            .. await db.Media.Select(m => m.Hash).Distinct().ToListAsync(stopping),
            .. await db.Media.Where(m => m.PosterHash != null).Select(m => m.PosterHash!).Distinct().ToListAsync(stopping),
        ];
        foreach (KeptFile file in files.List(MediaStore.Folder).Where(f => f.UsedAt < moment - OrphansStay))
        {
            if (!wanted.Contains(Path.GetFileName(file.Key)))
                files.Remove(file.Key);
        }
        // renditions/ab/hash/recipe
        foreach (KeptFile file in files.List(Renditions.Folder))
        {
            if (!wanted.Contains(Path.GetFileName(Path.GetDirectoryName(file.Key)!)))
                files.Remove(file.Key);
        }

        void Clear(string folder, TimeSpan stay)
        {
            foreach (KeptFile file in files.List(folder).Where(f => f.UsedAt < moment - stay))
                files.Remove(file.Key);
        }
    }
}
