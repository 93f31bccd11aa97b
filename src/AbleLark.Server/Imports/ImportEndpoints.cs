using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Imports;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.History;
using AbleLark.Data.Imports;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Checks;
using AbleLark.Server.Media;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Imports;

public sealed record ImportRowView(
    int Number,
    string Title,
    string Text,
    Id<Category>? CategoryId,
    string? Link,
    string? Picture,
    LocalDateTime? When,
    bool CanImport,
    IReadOnlyList<FindingView> Findings,
    IReadOnlyDictionary<string, IReadOnlyList<FindingView>> NetworkFindings
);

/// <param name="Ready">Rows that can be imported.</param>
public sealed record ImportPreview(string FileName, int Ready, IReadOnlyList<ImportRowView> Rows, IReadOnlyList<string> Headers);

public sealed record ImportLine(Guid Id, string FileName, Instant At, int Posts, int Deliveries, Guid ChangeSetId, bool TakenBack);

/// <summary>Reading a sheet of posts into the bank: look first, then commit, and take back with one press.</summary>
public static class ImportEndpoints
{
    public static void MapImports(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/imports", ListAsync).Needs(Right.View);
        workspace.MapPost("/imports/preview", PreviewAsync).Needs(Right.Write).DisableAntiforgery();
        workspace.MapPut("/imports/{id}", CommitAsync).Needs(Right.Write).DisableAntiforgery();
        workspace.MapPost("/imports/{id}/take-back", TakeBackAsync).Needs(Right.Write);
    }

    private static Task<List<ImportLine>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        db
            .ImportRuns.Where(i => i.WorkspaceId == workspaceId)
            .OrderByDescending(i => i.At)
            .Take(50)
            .Select(i => new ImportLine(i.Id.Value, i.FileName, i.At, i.Posts, i.Deliveries, i.ChangeSetId.Value, i.TakenBackAt != null))
            .ToListAsync(cancellation);

    /// <summary>Reads the sheet and says what would come of each row; nothing is kept but the pictures.</summary>
    private static async Task<ImportPreview> PreviewAsync(
        Id<Workspace> workspaceId,
        IFormFile sheet,
        IFormFileCollection pictures,
        LarkDb db,
        BusinessClock clock,
        MediaStore media,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        (IReadOnlyList<ImportRow> rows, ImportContext context) = await ImportReading.ReadAsync(
            workspaceId,
            sheet,
            pictures,
            db,
            clock,
            media,
            networks,
            cancellation
        );
        Dictionary<Id<MediaFile>, string> names = context.Pictures.GroupBy(p => p.Value.Id).ToDictionary(g => g.Key, g => g.First().Key);
        await db.SaveChangesAsync(cancellation);
        return new(sheet.FileName, rows.Count(r => r.CanImport), [.. rows.Select(r => View(r, names))], ImportSheet.Headers(networks));
    }

    /// <summary>Imports the rows that can be imported. The caller chooses the id, so that a repeated press imports once.</summary>
    private static async Task<ImportLine> CommitAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        IFormFile sheet,
        IFormFileCollection pictures,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        MediaStore media,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        if (await db.ImportRuns.FindAsync([workspaceId, id], cancellation) is { } before)
            return Line(before);
        (IReadOnlyList<ImportRow> rows, ImportContext context) = await ImportReading.ReadAsync(
            workspaceId,
            sheet,
            pictures,
            db,
            clock,
            media,
            networks,
            cancellation
        );
        ImportRow[] ready = [.. rows.Where(r => r.CanImport)];
        if (ready.Any(r => r.When is not null) && !http.Role().May(Right.Schedule))
            throw new ProblemException(
                StatusCodes.Status403Forbidden,
                "Rows with a time decide what goes out when, which you may not. Leave the columns of date and time empty, and import again."
            );
        await PostEndpoints.RoomAsync(workspaceId, ready.Length, db, cancellation);
        if (ready.Length == 0)
            throw ProblemException.BadInput("No row can be imported. Mend the findings in the sheet, then choose it again.");

        Instant now = await clock.NowAsync(cancellation);
        Workspace workspace = await db.Workspaces.SingleAsync(w => w.Id == workspaceId, cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, $"Imported {ready.Length} posts from {sheet.FileName}");
        int deliveries = 0;
        foreach (ImportRow row in ready)
        {
            Post post = NewPost(workspaceId, row, context, needsOthers: !http.Role().May(Right.Approve), now);
            db.Posts.Add(post);
            db.PostVersions.Add(
                new()
                {
                    WorkspaceId = workspaceId,
                    PostId = post.Id,
                    Number = 1,
                    Content = post.Content,
                    MadeAt = now,
                    MadeBy = http.PersonId(),
                }
            );
            if (row.When is { } when)
                deliveries += Plan(workspace, post, when, context, now, db);
        }
        ImportRun run = new()
        {
            WorkspaceId = workspaceId,
            Id = id,
            FileName = sheet.FileName,
            At = now,
            Posts = ready.Length,
            Deliveries = deliveries,
            ChangeSetId = act.Id,
        };
        db.ImportRuns.Add(run);
        await db.SaveChangesAsync(cancellation);
        return Line(run);
    }

    private static async Task<UndoResult> TakeBackAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        ImportRun run = await db.ImportRuns.FindAsync([workspaceId, id], cancellation) ?? throw ProblemException.NotFound("This import");
        if (run.TakenBackAt is not null)
            throw ProblemException.Conflict("This import has been taken back already.");
        ChangeSet act = await db
            .ChangeSets.Include(c => c.Changes)
            .SingleAsync(c => c.WorkspaceId == workspaceId && c.Id == run.ChangeSetId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        UndoOutcome outcome = await new Undo(
            db,
            now,
            !http.Role().May(Right.Approve),
            (id, posts) => StalePosts.CheckAsync(id, posts, db, networks, cancellation)
        ).TakeBackAsync(act, http.PersonId(), cancellation);
        run.TakenBackAt = now;
        await db.SaveChangesAsync(cancellation);
        return new(outcome.Undone, outcome.Kept);
    }

    /// <summary>Begins as its category says: waiting for approval where that is asked for, out of the rotation where new posts stay
    /// out.</summary>
    private static Post NewPost(Id<Workspace> workspace, ImportRow row, ImportContext context, bool needsOthers, Instant now)
    {
        Category category = context.Categories.Single(c => c.Id == row.CategoryId);
        PostChecks checks = PostChecks.Of(row.Content, context.Networks, context.Channels, context.Sources);
        Post post = new()
        {
            WorkspaceId = workspace,
            Id = Id<Post>.New(),
            Title = row.Title,
            CategoryId = row.CategoryId!.Value,
            // A row with a time of its own goes out then, not by rotation as well.
            InRotation = row.When is null && category.NewPostsRotate,
            AddedAt = now,
            AddedOrder = row.Number,
            Content = row.Content,
        };
        post.Take(checks);
        post.MakeReady(category.NeedsApproval, asks: needsOthers);
        return post;
    }

    private static int Plan(Workspace workspace, Post post, LocalDateTime when, ImportContext context, Instant now, LarkDb db)
    {
        Category category = context.Categories.Single(c => c.Id == post.CategoryId);
        Instant at = workspace.ComingInstant(when.Date, when.TimeOfDay, now);
        Channel[] open =
        [
            .. context.Channels.Where(c =>
                c.Connection != ConnectionState.Disconnected && category.UsualChannels.Contains(c.Id) && post.FitOn(c) is { Fits: true }
            ),
        ];
        db.Deliveries.AddRange(
            open.Select(c =>
                PostPlanning.New(
                    workspace,
                    post.Id,
                    c.Id,
                    at,
                    state: post.Stage == Stage.WaitingForApproval ? DeliveryState.WaitingForApproval : DeliveryState.Planned
                )
            )
        );
        return open.Length;
    }

    private static ImportRowView View(ImportRow row, Dictionary<Id<MediaFile>, string> pictures) =>
        new(
            row.Number,
            row.Title,
            (row.Content.Common.Get(ContentFields.Text) ?? ""),
            row.CategoryId,
            row.Content.Common.Get(ContentFields.Link),
            row.Content.Common.Get(ContentFields.Pictures)?.All[0].MediaId is { } p ? pictures.GetValueOrDefault(p) : null,
            row.When,
            row.CanImport,
            [.. row.Findings.Select(f => FindingView.Of(f))],
            row.NetworkFindings.ToDictionary(f => f.Key, f => (IReadOnlyList<FindingView>)[.. f.Value.Select(n => FindingView.Of(n))])
        );

    private static ImportLine Line(ImportRun i) =>
        new(i.Id.Value, i.FileName, i.At, i.Posts, i.Deliveries, i.ChangeSetId.Value, i.TakenBackAt is not null);
}
