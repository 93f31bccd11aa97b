using AbleLark.Core;
using AbleLark.Core.Imports;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Checks;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using AbleLark.Sheets;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <param name="PassedOver">Files beside the sheet that were not taken in, each with why.</param>
public sealed record ImportStarted(Guid Id, bool IsOurs, IReadOnlyList<string> PassedOver);

/// <param name="Revision">The import's, as it was looked at.</param>
public sealed record CommitRequest(int Revision);

/// <summary>Reading sheets of posts into the bank: begin, say what the columns hold, look at the rows, import, take back.</summary>
public static class ImportEndpoints
{
    public static void MapImports(this RouteGroupBuilder workspace)
    {
        RouteGroupBuilder imports = workspace.MapGroup("/imports");
        workspace.MapGet("/imports", ListAsync).Needs(Right.View);
        workspace
            .MapPost("/imports", BeginAsync)
            .Needs(Right.Write)
            .DisableAntiforgery()
            .WithMetadata(new RequestSizeLimitAttribute(ImportSource.MostBytes))
            .WithFormOptions(multipartBodyLengthLimit: ImportSource.MostBytes, valueLengthLimit: SheetLimits.MostBytes);
        imports.MapGet("/{id}", ShowAsync).Needs(Right.Write);
        imports.MapDelete("/{id}", DropAsync).Needs(Right.Write);
        imports.MapGet("/{id}/targets", TargetsAsync).Needs(Right.Write);
        imports.MapPut("/{id}/source", SourceAsync).Needs(Right.Write);
        imports.MapPut("/{id}/columns", ColumnsAsync).Needs(Right.Write);
        imports.MapPost("/{id}/again", AgainAsync).Needs(Right.Write);
        imports
            .MapPost("/{id}/media", MediaAsync)
            .Needs(Right.Write)
            .DisableAntiforgery()
            .WithMetadata(new RequestSizeLimitAttribute(ImportSource.MostBytes))
            .WithFormOptions(multipartBodyLengthLimit: ImportSource.MostBytes);
        imports.MapPost("/{id}/commit", CommitAsync).Needs(Right.Write);
        imports.MapDelete("/{id}/commit", CancelAsync).Needs(Right.Write);
        imports.MapPost("/{id}/take-back", TakeBackAsync).Needs(Right.Write);
        imports.MapImportRows();
        imports.MapImportReports();
        imports.MapTemplates();
        imports.MapPlanning();
        SheetMaking.MapMaking(imports);
    }

    private static async Task<List<ImportLine>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation)
    {
        var runs = await db
            .ImportRuns.AsNoTracking()
            .Where(i => i.WorkspaceId == workspaceId)
            .OrderByDescending(i => i.At ?? i.StartedAt)
            .Take(100)
            .ToListAsync(cancellation);
        ActorNames names = await ActorNames.ReadAsync(db, workspaceId, runs.Select(r => r.By), cancellation);
        return [.. runs.Select(r => Line(r, names.Of(r.By)))];
    }

    /// <summary>Takes in a sheet, or cells that were pasted, and media beside it.</summary>
    private static async Task<ImportStarted> BeginAsync(
        Id<Workspace> workspaceId,
        IFormFileCollection files,
        [FromForm] string? pasted,
        HttpContext http,
        ImportStart start,
        CancellationToken cancellation
    )
    {
        (ImportRun run, OpenImport open) = await start.BeginAsync(workspaceId, files, pasted, http.Actor(), cancellation);
        return new(run.Id.Value, IsOurs(run, open), start.PassedOver);
    }

    private static async Task<ImportView> ShowAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        LarkDb db,
        ImportBooks books,
        Committing committing,
        CancellationToken cancellation
    )
    {
        // Before the import itself: what is no longer under way then is seen to be in the bank.
        CommitProgress? commit = committing.ProgressOf(workspaceId, id);
        ImportRun run = await books.RunAsync(workspaceId, id, cancellation);
        string? by = (await ActorNames.ReadAsync(db, workspaceId, [run.By], cancellation)).Of(run.By);
        // What is in the bank has a report; its rows needn't be held against anything any more.
        if (run.State != ImportState.Open)
            return ImportShowing.Done(run, Line(run, by), commit);
        (run, OpenImport open) = await books.GetAsync(workspaceId, id, cancellation);
        return ImportShowing.Of(run, open, Line(run, by), IsOurs(run, open), commit, committing.TroubleOf(workspaceId, id));
    }

    private static bool IsOurs(ImportRun run, OpenImport open) =>
        new ColumnMatching(open.Context).IsOurs(open.Source.Sheet.Rows, run.Plan.HeaderRow);

    /// <summary>Gives up an import that was begun: nothing of it is in the bank.</summary>
    private static async Task DropAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        LarkDb db,
        ImportBooks books,
        ImportsInMemory memory,
        CancellationToken cancellation
    )
    {
        ImportRun run = await books.RunAsync(workspaceId, id, cancellation);
        if (run.State != ImportState.Open)
            throw ProblemException.Conflict("This import is in the bank. Take it back if it isn't wanted.");
        db.ImportRuns.Remove(run);
        await db.SaveChangesAsync(cancellation);
        memory.Forget(workspaceId, id);
    }

    /// <summary>All that a column can become here.</summary>
    private static async Task<List<TargetView>> TargetsAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        ImportBooks books,
        CancellationToken cancellation
    ) => ImportShowing.Targets((await books.GetAsync(workspaceId, id, cancellation)).Open.Context);

    /// <summary>Reads the file in another way. What was changed in rows is dropped, since they may be others.</summary>
    private static async Task SourceAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        SourceEdit edit,
        LarkDb db,
        ImportBooks books,
        ImportStart start,
        CancellationToken cancellation
    )
    {
        ImportRun run = await FindOpenAsync(workspaceId, id, db, cancellation);
        (run.Encoding, run.Delimiter, run.SheetName) = (edit.Encoding, edit.Delimiter, edit.Sheet);
        run.Plan = run.Plan with { Hidden = edit.Hidden };
        SheetReading read = await books.SheetAsync(run, cancellation);
        await start.PlanAsync(
            run,
            read,
            Math.Min(edit.HeaderRow ?? int.MaxValue, read.Sheet.Rows.Count) is var row && edit.HeaderRow is null ? null : row,
            cancellation
        );
        run.PlanRevision = ++run.Revision;
        await db.ImportEdits.Where(e => e.WorkspaceId == workspaceId && e.ImportId == id).ExecuteDeleteAsync(cancellation);
        await db.SaveChangesAsync(cancellation);
    }

    /// <summary>Says what the columns hold and how their dates are written.</summary>
    private static async Task ColumnsAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        ColumnsEdit edit,
        LarkDb db,
        ImportBooks books,
        CancellationToken cancellation
    )
    {
        ImportRun run = await FindOpenAsync(workspaceId, id, db, cancellation);
        (_, OpenImport open) = await books.GetAsync(workspaceId, id, cancellation);
        string?[] targets = [.. run.Plan.Targets];
        foreach (ColumnChoice choice in edit.Columns)
        {
            if (choice.Place < 0 || choice.Place >= targets.Length)
                throw ProblemException.BadInput($"The sheet has no column {choice.Place + 1}.");
            if (choice.Target is { } key && open.Context.Targets.Find(key) is null)
                throw ProblemException.BadInput($"A column can't become “{key}”. Choose one of the fields that are offered.");
            targets[choice.Place] = choice.Target;
        }
        if (targets.OfType<string>().GroupBy(t => t).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw ProblemException.BadInput(
                $"Two columns can't both become “{open.Context.Targets.Find(twice.Key)!.Name}”. Leave one of them out."
            );
        run.Plan = run.Plan with { Targets = targets, Orders = edit.Orders, Joins = edit.Joins };
        run.PlanRevision = ++run.Revision;
        await db.SaveChangesAsync(cancellation);
    }

    /// <summary>Holds the rows against the workspace as it is now.</summary>
    private static async Task AgainAsync(Id<Workspace> workspaceId, Id<ImportRun> id, LarkDb db, CancellationToken cancellation)
    {
        ImportRun run = await FindOpenAsync(workspaceId, id, db, cancellation);
        run.PlanRevision = ++run.Revision;
        await db.SaveChangesAsync(cancellation);
    }

    /// <summary>Adds media that rows name.</summary>
    private static async Task<ImportStarted> MediaAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        IFormFileCollection files,
        LarkDb db,
        ImportStart start,
        CancellationToken cancellation
    )
    {
        ImportRun run = await FindOpenAsync(workspaceId, id, db, cancellation);
        foreach (IFormFile file in files)
        {
            await using Stream bytes = file.OpenReadStream();
            await start.AddMediaAsync(workspaceId, file.FileName, bytes, cancellation);
        }
        run.PlanRevision = ++run.Revision;
        await db.SaveChangesAsync(cancellation);
        return new(id.Value, false, start.PassedOver);
    }

    /// <summary>Begins to put the rows into the bank; how far it has come is shown with the import.</summary>
    private static async Task CommitAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        CommitRequest request,
        HttpContext http,
        LarkDb db,
        ImportBooks books,
        Committing committing,
        CancellationToken cancellation
    )
    {
        ImportRun run = await books.RunAsync(workspaceId, id, cancellation);
        if (run.State != ImportState.Open)
            return;
        if (run.Revision != request.Revision)
            throw ProblemException.Outdated("Somebody changed rows of this import since you looked. Look at them, then import.");
        if (run.Plan.Hidden is null && (await books.GetAsync(workspaceId, id, cancellation)).Open.Source.Unseen.IsHidden)
            throw ProblemException.Conflict("The workbook hides rows or columns of this sheet. Say first whether they are taken in.");
        Importer importer = new(http.Actor(), http.May(Right.Approve), http.May(Right.Schedule));
        committing.Begin(workspaceId, id, request.Revision, importer);
    }

    private static async Task CancelAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        ImportBooks books,
        Committing committing,
        CancellationToken cancellation
    )
    {
        await books.RunAsync(workspaceId, id, cancellation);
        committing.Cancel(workspaceId, id);
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
        await using AloneInWorkspace alone = await db.BeginAloneAsync(workspaceId, cancellation);
        ImportRun run = await db.ImportRuns.FindAsync([workspaceId, id], cancellation) ?? throw ProblemException.NotFound("This import");
        if (run.State != ImportState.Imported)
            throw ProblemException.Conflict(
                run.State == ImportState.Open ? "This import isn't in the bank." : "This import has been taken back already."
            );
        ChangeSet act = await db.ChangeSets.SingleAsync(c => c.WorkspaceId == workspaceId && c.Id == run.ChangeSetId, cancellation);
        if (run.Deliveries > 0)
            http.Demand(Right.Schedule);
        Instant now = await clock.NowAsync(cancellation);
        UndoOutcome outcome = await new Undo(
            db,
            now,
            !http.May(Right.Approve),
            (workspace, posts) => StalePosts.CheckAsync(workspace, posts, db, networks, cancellation)
        ).TakeBackAsync(act, http.Actor(), cancellation, keepsChanged: true);
        (run.State, run.TakenBackAt) = (ImportState.TakenBack, now);
        await db.SaveChangesAsync(cancellation);
        await alone.CommitAsync(cancellation);
        return new(outcome.Undone, outcome.Kept);
    }

    private static async Task<ImportRun> FindOpenAsync(Id<Workspace> workspace, Id<ImportRun> id, LarkDb db, CancellationToken cancellation)
    {
        ImportRun run = await db.ImportRuns.FindAsync([workspace, id], cancellation) ?? throw ProblemException.NotFound("This import");
        return run.State == ImportState.Open
            ? run
            : throw ProblemException.Conflict("This import is in the bank already. Take it back, or begin another.");
    }

    private static ImportLine Line(ImportRun run, string? by) =>
        new(
            run.Id.Value,
            run.FileName,
            run.State,
            run.StartedAt,
            by,
            run.At,
            run.Posts,
            run.Changed,
            run.Deliveries,
            run.ChangeSetId?.Value
        );
}
