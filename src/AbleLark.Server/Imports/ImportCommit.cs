using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Imports;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Kinds;
using AbleLark.Data.Posts;
using AbleLark.Data.Rows;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;

namespace AbleLark.Server.Imports;

/// <summary>Puts a sheet into the bank: all of it or nothing, in one act.</summary>
public sealed class ImportCommit(LarkDb db, ImportBooks books, ImportsInMemory memory, SheetMoves sheetMoves, BusinessClock clock)
{
    /// <summary>Posts that are written at once.</summary>
    private const int AtOnce = 1_000;

    /// <param name="Tables">In the order in which they are written.</param>
    private sealed record Bulk(IReadOnlyList<Post> Posts, int Deliveries, int Changes, IReadOnlyList<PreparedRows> Tables);

    public async Task RunAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        int revision,
        Importer importer,
        Action<CommitProgress> tell,
        CancellationToken cancellation
    )
    {
        (ImportRun run, OpenImport open) = await books.GetAsync(workspaceId, id, cancellation);
        await open.CompleteAsync(cancellation);
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        run = await LockAsync(workspaceId, id, cancellation);
        if (run.State != ImportState.Open)
            return;
        if (run.Revision != revision || open.Revision != revision)
            throw ProblemException.Outdated("Somebody changed rows of this import since you looked. Look at them, then import.");
        Instant now = await clock.NowAsync(cancellation);
        await BankGuard.CheckAsync(run, open, db, memory, cancellation);
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        (BookEntry[] ready, List<ImportedRow> rows) = open.Look(b => Sort(run, b, workspace, now));
        BookEntry[] news = [.. ready.Where(e => e.Update is null)],
            updates = [.. ready.Where(e => e.Update is not null && !e.IsUnchanged)];
        if (ready.Length == 0)
            throw ProblemException.BadInput("No row can be imported as it is. Look at what needs you first.");
        bool schedules = ready.Any(e => e.Draft.Times.Count > 0 || e.Moves.Count > 0);
        if (schedules && !importer.MaySchedule)
            throw new ProblemException(
                StatusCodes.Status403Forbidden,
                "Rows with a time decide what goes out when, which you may not. Leave the columns of date and time out, and import again."
            );
        await PostEndpoints.RoomAsync(workspaceId, news.Length, db, cancellation);

        if (schedules)
            db.Takes(Right.Schedule);
        ChangeSet act = db.ActOf(workspaceId, importer.By, now, new(ActCode.Imported, news.Length, updates.Length, run.FileName));
        await db.CopyAsync([act], cancellation);
        (int deliveries, int changes, int done) = (0, 0, 0);
        Dictionary<int, Id<Post>> posts = [];
        tell(new(0, ready.Length));
        BookEntry[][] chunks = [.. news.Chunk(AtOnce)];
        Task<Bulk>? making = chunks.Length == 0 ? null : MakeAsync(chunks[0], 0);
        for (int i = 0; i < chunks.Length; i++)
        {
            Bulk bulk = await making!;
            changes += bulk.Changes;
            // The next ones are made while these are written.
            making = i + 1 < chunks.Length ? MakeAsync(chunks[i + 1], changes) : null;
            foreach (PreparedRows table in bulk.Tables)
                await db.CopyAsync(table, cancellation);
            foreach ((BookEntry entry, Post post) in chunks[i].Zip(bulk.Posts))
                posts[entry.Draft.Number] = post.Id;
            deliveries += bulk.Deliveries;
            tell(new(done += chunks[i].Length, ready.Length));
        }
        await db.CopyAsync([.. rows.Select(r => Report(r, open, posts))], cancellation);
        // What was there is changed through the context, and the workspace's own row last of all: until then nothing waits for it.
        db.GoOnWithAct(act, changes);
        deliveries += await UpdateAsync(updates, run, workspace, open.Context, importer, now, cancellation);
        (run.State, run.At, run.ChangeSetId) = (ImportState.Imported, now, act.Id);
        (run.Posts, run.Changed, run.Deliveries) = (news.Length, updates.Length, deliveries);
        await db.SaveChangesAsync(cancellation);
        await ChangeNotification.PlanChangedAsync(db, [workspaceId], cancellation);
        // Others may have added posts while these were written; with the row's lock held, none is added now.
        await PostEndpoints.RoomAsync(workspaceId, 0, db, cancellation);
        foreach (Topic topic in new[] { Topic.Posts, Topic.Deliveries, Topic.Changes })
            await ChangeNotification.TellAsync(db, workspaceId, topic, cancellation);
        await transaction.CommitAsync(cancellation);
        memory.Forget(workspaceId, id);

        Task<Bulk> MakeAsync(BookEntry[] chunk, int first) =>
            Task.Run(() => Make(chunk, workspace, open.Context, act, first, importer, now), cancellation);
    }

    /// <summary>Two who press at once, in whatever process: the second is told, or finds it done. A server that died may hold the row until
    /// the database is done with what it was told last, so it is waited for a little.</summary>
    private async Task<ImportRun> LockAsync(Id<Workspace> workspace, Id<ImportRun> id, CancellationToken cancellation)
    {
        try
        {
            await db.Database.ExecuteSqlAsync($"set local lock_timeout = '5s'", cancellation);
            ImportRun run = await db
                .ImportRuns.FromSql($"select * from import_runs where workspace_id = {workspace.Value} and id = {id.Value} for update")
                .SingleAsync(cancellation);
            await db.Database.ExecuteSqlAsync($"set local lock_timeout = default", cancellation);
            // One import after the other in a workspace: the second looks at what the first has brought.
            await db.Database.ExecuteSqlAsync(
                $"select pg_advisory_xact_lock(hashtextextended({workspace.ToString()}, 7465))",
                cancellation
            );
            return run;
        }
        catch (Exception e) when (e.GetBaseException() is PostgresException { SqlState: PostgresErrorCodes.LockNotAvailable })
        {
            throw ProblemException.Conflict("Somebody is importing this, or changing it, at this moment. Look again in a little while.");
        }
    }

    /// <summary>What can be imported, and what becomes of every row.</summary>
    private static (BookEntry[] Ready, List<ImportedRow> Rows) Sort(ImportRun run, ImportBook book, Workspace workspace, Instant now)
    {
        List<BookEntry> ready = [];
        List<ImportedRow> rows = [];
        foreach (BookEntry entry in book.Entries)
        {
            RowStatus status = entry.Status;
            if (
                status is RowStatus.Advice or RowStatus.Fine
                && entry.Draft.Times.FirstOrDefault(t => !IsToCome(t.Local, workspace, now)) is { } passed
            )
                throw ProblemException.Conflict($"The time of row {passed.Row} has passed while you looked. Give it another, then import.");
            bool goes = status is RowStatus.Advice or RowStatus.Fine;
            if (goes)
                ready.Add(entry);
            string words = string.Join(" ", entry.Findings.Where(f => goes || f.Blocks || entry.IsLeftOut).Select(f => f.Words));
            RowEnd end =
                !goes ? (status == RowStatus.LeftOut ? RowEnd.LeftOut : RowEnd.Refused)
                : entry.Update is null ? RowEnd.Added
                : entry.IsUnchanged ? RowEnd.Unchanged
                : entry.Choice == DoubleChoice.Wording ? RowEnd.Wording
                : RowEnd.Updated;
            foreach (ImportRow row in entry.Draft.Rows)
                rows.Add(
                    new()
                    {
                        WorkspaceId = run.WorkspaceId,
                        ImportId = run.Id,
                        Row = row.Number,
                        End = goes && row.Number != entry.Draft.Number ? RowEnd.Joined : end,
                        PostId = entry.Update?.PostId,
                        Words = words,
                    }
                );
        }
        return ([.. ready], rows);
    }

    private static bool IsToCome(LocalDateTime local, Workspace workspace, Instant now) =>
        Occurrences.InstantOf(local.Date, local.TimeOfDay, workspace.Zone) is { } at && at > now;

    private static ImportedRow Report(ImportedRow row, OpenImport open, Dictionary<int, Id<Post>> posts) =>
        open.Look(b => b.EntryOf(row.Row)) is { } entry && posts.TryGetValue(entry.Draft.Number, out Id<Post> post)
            ? new()
            {
                WorkspaceId = row.WorkspaceId,
                ImportId = row.ImportId,
                Row = row.Row,
                End = row.End,
                PostId = post,
                Words = row.Words,
            }
            : row;

    /// <summary>New posts with what belongs to them, on as many cores as there are.</summary>
    private Bulk Make(
        BookEntry[] entries,
        Workspace workspace,
        ImportContext context,
        ChangeSet act,
        int firstChange,
        Importer importer,
        Instant now
    )
    {
        (Post Post, List<Delivery> Deliveries)[] made = new (Post, List<Delivery>)[entries.Length];
        Parallel.For(
            0,
            entries.Length,
            i =>
            {
                Post post = ImportedPosts.NewPost(entries[i], workspace.Id, importer, now);
                made[i] = (post, ImportedPosts.Deliveries(entries[i], post, workspace, context));
            }
        );
        List<(object Row, Guid Id)> logged =
        [
            .. made.Select(m => ((object)m.Post, m.Post.Id.Value)),
            .. made.SelectMany(m => m.Deliveries).Select(d => ((object)d, d.Id.Value)),
        ];
        Documents documents = new();
        Post[] posts = [.. made.Select(m => m.Post)];
        Delivery[] deliveries = [.. made.SelectMany(m => m.Deliveries)];
        return new(
            posts,
            deliveries.Length,
            logged.Count,
            [
                db.Prepare(posts, documents),
                db.Prepare<PostVersion>([.. posts.Select(p => ImportedPosts.Version(p, importer, now))], documents),
                db.Prepare(deliveries, documents),
                ChangeRecorder.Added(db, act, logged, firstChange, documents),
            ]
        );
    }

    /// <summary>Posts that were there take over what their rows say.</summary>
    /// <returns>How many deliveries were planned.</returns>
    private async Task<int> UpdateAsync(
        BookEntry[] updates,
        ImportRun run,
        Workspace workspace,
        ImportContext context,
        Importer importer,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<Id<Post>> ids = [.. updates.Select(e => e.Update!.PostId)];
        Dictionary<Id<Post>, Post> posts = await db
            .Posts.Where(p => p.WorkspaceId == workspace.Id && ids.Contains(p.Id) && p.RemovedAt == null)
            .ToDictionaryAsync(p => p.Id, cancellation);
        await sheetMoves.DoAsync(updates, workspace, now, cancellation);
        foreach (BookEntry entry in updates)
        {
            if (!posts.TryGetValue(entry.Update!.PostId, out Post? post) || post.Version != entry.Update.Version)
            {
                memory.Forget(workspace.Id, run.Id);
                throw ProblemException.Conflict(
                    $"“{entry.Update.Title}” was changed since you looked at row {entry.Draft.Number}. Have the rows checked again."
                );
            }
            // Where only sendings move, the post stays as it is.
            if (entry.Differences.Count > entry.Moves.Count && ImportedPosts.Take(post, entry, context, importer, now) is { } version)
                db.PostVersions.Add(version);
        }
        int planned = await sheetMoves.PlanAsync(updates, workspace, now, cancellation);
        await db.ReconsiderAsync(workspace.Id, [.. posts.Values], now, cancellation);
        return planned;
    }
}
