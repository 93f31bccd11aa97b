using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.LineUps;

/// <summary>Posts of each workspace as they were read last, with the transaction that wrote each: how thousands of posts stand with eight
/// networks takes a second to read, and one act changes few of them.</summary>
public sealed class KnownBanks
{
    private const int Most = 50;
    private readonly ConcurrentDictionary<Id<Workspace>, IReadOnlyDictionary<Id<Post>, ReadPost>> _known = [];

    /// <summary>For whoever reads many posts of a workspace.</summary>
    internal KeyedLocks<Id<Workspace>> Locks { get; } = new();

    internal IReadOnlyDictionary<Id<Post>, ReadPost> Of(Id<Workspace> workspace) =>
        _known.GetValueOrDefault(workspace) ?? new Dictionary<Id<Post>, ReadPost>();

    internal void Keep(Id<Workspace> workspace, IReadOnlyDictionary<Id<Post>, ReadPost> posts)
    {
        if (_known.Count >= Most)
            _known.Clear();
        _known[workspace] = posts;
    }
}

/// <param name="Written">Number of the transaction that wrote the post's row.</param>
internal sealed record ReadPost(long Written, LineUpPost Post);

/// <summary>Reads the posts that the line-up is worked out from, and of those that were read before only what was written since.</summary>
public sealed class BankReader(LarkDb db, KnownBanks banks)
{
    /// <summary>From how many on all are read at once, and not by their names.</summary>
    private const int Many = 500;

    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(5);

    public async Task<List<LineUpPost>> ReadAsync(Id<Workspace> workspace, CancellationToken cancellation)
    {
        // A row keeps the number of the transaction that wrote it. One that may still be running, such as this one, can write
        // the row again under the same number: what it wrote is read each time.
        List<Row> rows = await db
            .Database.SqlQuery<Row>(
                $"""
                select id, xmin::text::bigint as written,
                  age(xmin) > age(pg_snapshot_xmin(pg_current_snapshot())::xid) as is_settled
                from posts where workspace_id = {workspace.Value} and removed_at is null
                """
            )
            .ToListAsync(cancellation);
        if (Unknown(rows, banks.Of(workspace)).Length < Many)
            return await CompleteAsync(workspace, rows, cancellation);
        // Whoever waits may hold a transaction and its connection: not for ever, then.
        SemaphoreSlim one = banks.Locks.Of(workspace);
        bool entered = await one.WaitAsync(Patience, cancellation);
        try
        {
            return await CompleteAsync(workspace, rows, cancellation);
        }
        finally
        {
            if (entered)
                one.Release();
        }
    }

    private async Task<List<LineUpPost>> CompleteAsync(Id<Workspace> workspace, List<Row> rows, CancellationToken cancellation)
    {
        IReadOnlyDictionary<Id<Post>, ReadPost> known = banks.Of(workspace);
        Id<Post>[] unknown = Unknown(rows, known);
        Dictionary<Id<Post>, LineUpPost> fresh = (await PostsAsync(workspace, unknown, cancellation)).ToDictionary(p => p.Id);
        Dictionary<Id<Post>, ReadPost> now = new(rows.Count);
        List<LineUpPost> bank = new(rows.Count);
        foreach (Row row in rows)
        {
            Id<Post> id = new(row.Id);
            // One that was removed in between is neither known nor fresh.
            if ((Known(row, known) ?? fresh.GetValueOrDefault(id)) is not { } post)
                continue;
            bank.Add(post);
            if (row.IsSettled)
                now[id] = new(row.Written, post);
        }
        banks.Keep(workspace, now);
        return bank;
    }

    private static Id<Post>[] Unknown(List<Row> rows, IReadOnlyDictionary<Id<Post>, ReadPost> known) =>
        [.. rows.Where(r => Known(r, known) is null).Select(r => new Id<Post>(r.Id))];

    private static LineUpPost? Known(Row row, IReadOnlyDictionary<Id<Post>, ReadPost> known) =>
        row.IsSettled && known.TryGetValue(new(row.Id), out ReadPost? read) && read.Written == row.Written ? read.Post : null;

    /// <summary>Without what they say: how it fits was worked out when they were saved.</summary>
    private async Task<List<LineUpPost>> PostsAsync(Id<Workspace> workspace, Id<Post>[] these, CancellationToken cancellation)
    {
        if (these.Length == 0)
            return [];
        IQueryable<Post> posts = db.Posts.AsNoTracking().Where(p => p.WorkspaceId == workspace && p.RemovedAt == null);
        if (these.Length < Many)
            posts = posts.Where(p => these.Contains(p.Id));
        return await posts
            .Select(p => new LineUpPost
            {
                Id = p.Id,
                Title = p.Title,
                CategoryId = p.CategoryId,
                FurtherCategories = p.FurtherCategories,
                Stage = p.Stage,
                Lifespan = p.Lifespan,
                From = p.From,
                To = p.To,
                GapDays = p.GapDays,
                InRotation = p.InRotation,
                AddedAt = p.AddedAt,
                AddedOrder = p.AddedOrder,
                Channels = p.Channels,
                Fits = p.Fits,
            })
            .ToListAsync(cancellation);
    }

    private sealed record Row(Guid Id, long Written, bool IsSettled);
}
