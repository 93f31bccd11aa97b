using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Imports;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Media;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using AbleLark.Sheets;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Imports;

/// <summary>An import that has just been begun.</summary>
public sealed record OpenedImport(ImportRun Run, OpenImport Open);

/// <summary>Begins imports: takes the files in, and finds out what the columns hold.</summary>
public sealed class ImportStart(
    LarkDb db,
    IFileStore files,
    MediaStore media,
    ImportContexts contexts,
    ImportBooks books,
    BusinessClock clock
)
{
    private readonly List<string> _passedOver = [];

    /// <summary>Files beside the sheet that were not taken in, each with why.</summary>
    public IReadOnlyList<string> PassedOver => _passedOver;

    /// <summary>Earlier imports whose columns are looked at.</summary>
    private const int Remembered = 40;

    /// <summary>Share of headers that two sheets have in common for one to be like the other.</summary>
    private const double AlikeHeaders = 0.8;

    /// <summary>Takes in a sheet, or a .zip that holds one, and media beside it.</summary>
    public async Task<OpenedImport> BeginAsync(
        Id<Workspace> workspace,
        IFormFileCollection given,
        string? pasted,
        Actor? by,
        CancellationToken cancellation
    )
    {
        IFormFile[] packed = [.. given.Where(f => f.FileName.EndsWith(".zip", StringComparison.OrdinalIgnoreCase))];
        IFormFile[] sheets = [.. given.Where(f => f.Name == "sheet" || ImportSource.IsSheet(f.FileName)).Except(packed)];
        if (packed.Length + sheets.Length + (pasted is null ? 0 : 1) != 1)
            throw ProblemException.BadInput(
                packed.Length + sheets.Length == 0
                    ? "Choose a sheet: .csv, .tsv, .xlsx, or a .zip that holds one beside its media. Or paste cells."
                    : "Choose one sheet at a time, with as many media beside it as you like."
            );
        foreach (IFormFile file in given.Except(packed).Except(sheets))
        {
            await using Stream bytes = file.OpenReadStream();
            await AddMediaAsync(workspace, file.FileName, bytes, cancellation);
        }
        string name;
        byte[] sheet;
        if (pasted is not null)
            (name, sheet) = ("Pasted cells", ImportSource.Pasted(pasted));
        else if (packed.Length > 0)
        {
            await using Stream bytes = packed[0].OpenReadStream();
            (name, sheet) = await ImportSource.UnpackAsync(
                bytes,
                packed[0].FileName,
                (file, stream) => AddMediaAsync(workspace, file, stream, cancellation),
                cancellation
            );
        }
        else
        {
            name = sheets[0].FileName;
            if (sheets[0].Length > SheetLimits.MostBytes)
                throw ProblemException.BadInput(SheetLimits.TooManyBytes(sheets[0].Length).Message);
            sheet = await sheets[0].BytesAsync(cancellation);
        }
        return await BeginAsync(workspace, MediaStore.NameOf(name), sheet, by, cancellation);
    }

    /// <summary>Begins with the bytes of a sheet, and keeps it.</summary>
    public async Task<OpenedImport> BeginAsync(
        Id<Workspace> workspace,
        string name,
        byte[] sheet,
        Actor? by,
        CancellationToken cancellation
    )
    {
        SheetReading read = await books.ReadAsync(workspace, sheet, new(), cancellation);
        await ImportSource.KeepAsync(files, sheet, cancellation);
        // What media came along is looked for among the workspace's.
        await db.SaveChangesAsync(cancellation);
        ImportRun run = new()
        {
            WorkspaceId = workspace,
            Id = Id<ImportRun>.New(),
            FileName = name,
            SourceKey = ImportSource.KeyOf(sheet),
            StartedAt = await clock.NowAsync(cancellation),
            By = by,
            Plan = new(0, [], new Dictionary<string, DateOrders>()),
            Headers = "",
            Revision = 1,
            PlanRevision = 1,
        };
        (ImportContext context, IReadOnlyList<ColumnMatch> columns) = await PlanAsync(run, read, null, cancellation);
        db.ImportRuns.Add(run);
        await db.SaveChangesAsync(cancellation);
        OpenImport open = await books.OpenAsync(run, read, context, columns, cancellation);
        open.Begin();
        return new(run, open);
    }

    /// <summary>Finds out what the columns hold, from headers, cells, and what was chosen before.</summary>
    /// <param name="headerRow">Null: as it is recognised.</param>
    /// <returns>What the sheet was held against, and its columns.</returns>
    public async Task<(ImportContext Context, IReadOnlyList<ColumnMatch> Columns)> PlanAsync(
        ImportRun run,
        SheetReading read,
        int? headerRow,
        CancellationToken cancellation
    )
    {
        ImportContext context = await contexts.ReadAsync(run.WorkspaceId, cancellation);
        ColumnMatching matching = new(context);
        int header = headerRow ?? matching.HeaderRow(read.Sheet.Rows);
        if (read.Sheet.Rows.Count - header > SheetLimits.MostRows)
            throw ProblemException.BadInput(SheetLimits.TooManyRows().Message);
        string[] headers =
        [
            .. Enumerable.Range(0, read.Sheet.Columns).Select(c => header > 0 ? HeaderWords.Plain(read.Sheet.Cell(header - 1, c)) : ""),
        ];
        run.Headers = string.Join('\n', headers);
        IReadOnlyDictionary<string, string?>? before = header == 0 ? null : await RememberedAsync(run, headers, cancellation);
        IReadOnlyList<ColumnMatch> columns = matching.Match(read.Sheet.Rows, header, before);
        run.Plan = new(header, [.. columns.Select(c => c.Target)], new Dictionary<string, DateOrders>(), Hidden: run.Plan.Hidden);
        return (context, columns);
    }

    private async Task<Dictionary<string, string?>?> RememberedAsync(ImportRun run, string[] headers, CancellationToken cancellation)
    {
        var earlier = await db
            .ImportRuns.AsNoTracking()
            .Where(r => r.WorkspaceId == run.WorkspaceId && r.Id != run.Id && r.Headers != "")
            .OrderByDescending(r => r.StartedAt)
            .Take(Remembered)
            .Select(r => new { r.Headers, r.Plan })
            .ToListAsync(cancellation);
        foreach (var one in earlier)
        {
            string[] there = one.Headers.Split('\n');
            string[] shared = [.. headers.Where(h => h.Length > 0).Intersect(there)];
            if (shared.Length < AlikeHeaders * Math.Max(headers.Count(h => h.Length > 0), there.Count(h => h.Length > 0)))
                continue;
            Dictionary<string, string?> chosen = [];
            for (int i = 0; i < Math.Min(there.Length, one.Plan.Targets.Count); i++)
            {
                if (there[i].Length > 0)
                    chosen.TryAdd(there[i], one.Plan.Targets[i]);
            }
            return chosen;
        }
        return null;
    }

    /// <summary>What can't be taken in is passed over and told: the rows that name it say so too.</summary>
    public async Task AddMediaAsync(Id<Workspace> workspace, string name, Stream bytes, CancellationToken cancellation)
    {
        try
        {
            await media.AddAsync(workspace, name, bytes, cancellation);
        }
        catch (ProblemException e)
        {
            _passedOver.Add(e.Message);
        }
    }
}
