using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Imports;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Media;
using AbleLark.Server.Problems;
using AbleLark.Server.Work;
using AbleLark.Sheets;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Imports;

/// <summary>Imports that this process has in memory: a few, the latest used.</summary>
public sealed class ImportsInMemory(TimeProvider time)
{
    private const int Most = 3;
    private static readonly TimeSpan Idle = TimeSpan.FromMinutes(20);

    private readonly ConcurrentDictionary<(Id<Workspace>, Id<ImportRun>), OpenImport> _open = [];

    public OpenImport? Find(Id<Workspace> workspace, Id<ImportRun> id)
    {
        if (!_open.TryGetValue((workspace, id), out OpenImport? open))
            return null;
        open.UsedAt = time.GetTimestamp();
        return open;
    }

    public void Keep(Id<Workspace> workspace, Id<ImportRun> id, OpenImport open)
    {
        open.UsedAt = time.GetTimestamp();
        if (_open.TryRemove((workspace, id), out OpenImport? before))
            before.Dispose();
        _open[(workspace, id)] = open;
        var others = _open.Where(o => o.Value != open).OrderByDescending(o => o.Value.UsedAt).ToList();
        foreach (var old in others.Where((o, i) => i >= Most - 1 || time.GetElapsedTime(o.Value.UsedAt) > Idle))
            Forget(old.Key.Item1, old.Key.Item2);
    }

    public void Forget(Id<Workspace> workspace, Id<ImportRun> id)
    {
        if (_open.TryRemove((workspace, id), out OpenImport? open))
            open.Dispose();
    }

    /// <summary>Only one at a time makes an import's book.</summary>
    public KeyedLocks<(Id<Workspace>, Id<ImportRun>)> Locks { get; } = new();
}

/// <summary>Gives imports as they are now, whatever process changed them last.</summary>
public sealed class ImportBooks(
    LarkDb db,
    IFileStore files,
    ImportContexts contexts,
    ImportsInMemory memory,
    HeavyReading heavy,
    IServiceScopeFactory scopes
)
{
    public async Task<ImportRun> RunAsync(Id<Workspace> workspace, Id<ImportRun> id, CancellationToken cancellation) =>
        await db.ImportRuns.AsNoTracking().SingleOrDefaultAsync(r => r.WorkspaceId == workspace && r.Id == id, cancellation)
        ?? throw ProblemException.NotFound("This import");

    /// <param name="revision">Which is wanted; null: the latest.</param>
    public async Task<(ImportRun Run, OpenImport Open)> GetAsync(
        Id<Workspace> workspace,
        Id<ImportRun> id,
        CancellationToken cancellation,
        int? revision = null
    )
    {
        SemaphoreSlim one = memory.Locks.Of((workspace, id));
        await one.WaitAsync(cancellation);
        try
        {
            ImportRun run = await RunAsync(workspace, id, cancellation);
            OpenImport? open = memory.Find(workspace, id);
            run.Revision = revision ?? run.Revision;
            if (open?.PlanRevision != run.PlanRevision)
                open = await MakeAsync(run, cancellation);
            else if (open.Revision < run.Revision)
            {
                int known = open.Revision;
                Dictionary<int, RowEdit> since = await db
                    .ImportEdits.AsNoTracking()
                    .Where(e => e.WorkspaceId == workspace && e.ImportId == id && e.Revision > known)
                    .ToDictionaryAsync(e => e.Row, e => e.Edit, cancellation);
                open.Apply(since, known, run.Revision);
            }
            if (run.State == ImportState.Open)
                open.Begin();
            return (run, open);
        }
        finally
        {
            one.Release();
        }
    }

    /// <summary>Reads a sheet as it would be by a choice.</summary>
    /// <exception cref="ProblemException">It can't be read so.</exception>
    public async Task<SheetReading> ReadAsync(Id<Workspace> workspace, byte[] bytes, SheetChoice choice, CancellationToken cancellation)
    {
        try
        {
            return await heavy.RunAsync(workspace, ended => ImportSource.Read(bytes, choice, ended), cancellation);
        }
        catch (SheetException e)
        {
            throw ProblemException.BadInput(e.Message);
        }
        catch (TooSlowException e)
        {
            throw ProblemException.BadInput($"The sheet {e.Message}.");
        }
    }

    /// <summary>Reads an import's sheet as its choices say.</summary>
    /// <exception cref="ProblemException">It can't be read so, or is no longer kept.</exception>
    public async Task<SheetReading> SheetAsync(ImportRun run, CancellationToken cancellation) =>
        await ReadAsync(
            run.WorkspaceId,
            await SourceAsync(run, cancellation),
            new(run.Encoding, run.Delimiter, run.SheetName, WithHidden: run.Plan.Hidden != false),
            cancellation
        );

    private async Task<byte[]> SourceAsync(ImportRun run, CancellationToken cancellation) =>
        files.Find(run.SourceKey) is { } path
            ? await File.ReadAllBytesAsync(path, cancellation)
            : throw ProblemException.Conflict("The sheet of this import is no longer kept here. Choose the file again.");

    private Task<IReadOnlyDictionary<Id<Delivery>, KnownSending>> SendingsAsync(
        ImportRun run,
        Sheet sheet,
        int column,
        ImportContext context,
        CancellationToken cancellation
    )
    {
        IEnumerable<Id<Delivery>> named = Enumerable
            .Range(0, sheet.Rows.Count)
            .Select(row => PlanningSheet.SendingOf(sheet.Cell(row, column)))
            .OfType<Id<Delivery>>();
        return Planning.SendingsAsync(run.WorkspaceId, [.. named.Distinct()], context, db, cancellation);
    }

    private async Task<OpenImport> MakeAsync(ImportRun run, CancellationToken cancellation)
    {
        SheetReading source = await SheetAsync(run, cancellation);
        ImportContext context = await contexts.ReadAsync(run.WorkspaceId, cancellation);
        IReadOnlyList<ColumnMatch> columns = new ColumnMatching(context).Match(source.Sheet.Rows, run.Plan.HeaderRow);
        return await OpenAsync(run, source, context, columns, cancellation);
    }

    /// <summary>Takes an import into memory whose sheet has just been read.</summary>
    public async Task<OpenImport> OpenAsync(
        ImportRun run,
        SheetReading source,
        ImportContext context,
        IReadOnlyList<ColumnMatch> columns,
        CancellationToken cancellation
    )
    {
        if (run.Plan.Targets.ToList().IndexOf(ImportTargets.KeyOf(RowField.SendingId)) is >= 0 and var column)
            context = context with { Sendings = await SendingsAsync(run, source.Sheet, column, context, cancellation) };
        Dictionary<int, RowEdit> edits = await db
            .ImportEdits.AsNoTracking()
            .Where(e => e.WorkspaceId == run.WorkspaceId && e.ImportId == run.Id)
            .ToDictionaryAsync(e => e.Row, e => e.Edit, cancellation);
        string imported = await BankGuard.ImportedAsync(run.WorkspaceId, db, cancellation);
        OpenImport open = new OpenImport(
            run.WorkspaceId,
            source,
            columns,
            new ImportBook(source.Sheet.Rows, run.Plan, context, source.Doubts, edits),
            imported,
            scopes
        ).At(run);
        memory.Keep(run.WorkspaceId, run.Id, open);
        return open;
    }
}
