using System.Diagnostics;
using AbleLark.Core;
using AbleLark.Core.Imports;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Sheets;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Imports;

/// <summary>How far the looking at a sheet has come.</summary>
/// <param name="Checked">Posts that were held against the networks.</param>
/// <param name="IsComplete">True: all that can be found has been, also what is there twice.</param>
public sealed record ImportProgress(int Checked, int Total, bool IsComplete);

/// <summary>
/// An import in this process's memory: the sheet as it was read, the book worked out from it, and the work that goes on behind. It can be
/// made anew at any time from what the database and the kept file say; any number of processes may have one of the same import.
/// </summary>
public sealed class OpenImport(
    Id<Workspace> workspace,
    SheetReading source,
    IReadOnlyList<ColumnMatch> columns,
    ImportBook book,
    string imported,
    IServiceScopeFactory scopes
) : IDisposable
{
    private const int AtOnce = 100;
    private static readonly TimeSpan CountedFor = TimeSpan.FromSeconds(1);

    /// <summary>What concerns all rows is looked for once nobody has changed one for so long.</summary>
    private static readonly TimeSpan Quiet = TimeSpan.FromMilliseconds(600);

    private readonly Lock _lock = new();
    private readonly CancellationTokenSource _stop = new();
    private Task _work = Task.CompletedTask;

    /// <summary>Grows with each change of the book; what was found for an older one is found again.</summary>
    private int _state = 1;

    private int _complete;

    /// <summary>Machine time of the last change of a row.</summary>
    private long? _changedAt;

    /// <summary>How many wait for all of it.</summary>
    private int _waiting;

    public SheetReading Source { get; } = source;
    public IReadOnlyList<ColumnMatch> Columns { get; } = columns;

    /// <summary>What had been imported when the workspace was read; see <see cref="BankGuard"/>.</summary>
    public string Imported { get; } = imported;

    public int Revision { get; private set; }
    public int PlanRevision { get; private set; }

    /// <summary>Machine time.</summary>
    public long UsedAt { get; set; }

    public ImportContext Context => book.Context;

    public OpenImport At(ImportRun run)
    {
        (Revision, PlanRevision) = (run.Revision, run.PlanRevision);
        return this;
    }

    /// <summary>Looks at the whole book while nobody changes it.</summary>
    public T Look<T>(Func<ImportBook, T> look) =>
        Glance(b =>
        {
            if (!b.IsWhole)
                b.TakeRows(b.ReadRest());
            return look(b);
        });

    /// <summary>Looks at as much of the book as is read, while nobody changes it.</summary>
    public T Glance<T>(Func<ImportBook, T> look)
    {
        lock (_lock)
            return look(book);
    }

    public ImportProgress Progress =>
        Glance(b => new ImportProgress(
            b.Entries.Count(e => e.Checks is not null),
            b.IsWhole ? b.Entries.Count : Math.Max(b.Entries.Count, b.Filled),
            IsComplete
        ));

    private bool IsComplete => _complete == _state;

    private (int State, bool Complete, long At, ImportCounts Counts)? _counted;

    /// <summary>How many rows stand how; while they are being looked at, as they stood a moment ago.</summary>
    public ImportCounts Counts =>
        Glance(b =>
        {
            bool isFresh =
                _counted is { } kept
                && kept.State == _state
                && kept.Complete == IsComplete
                && (kept.Complete || Stopwatch.GetElapsedTime(kept.At) < CountedFor);
            if (!isFresh)
                _counted = (_state, IsComplete, Stopwatch.GetTimestamp(), ImportShowing.Count(b));
            return _counted!.Value.Counts;
        });

    /// <summary>Takes over changed rows; posts that these make are checked before it returns.</summary>
    /// <param name="after">The revision on which they were made; what is there by now goes before it.</param>
    public void Apply(IReadOnlyDictionary<int, RowEdit> edits, int after, int revision)
    {
        lock (_lock)
        {
            if (Revision != after)
                return;
            book.Apply(edits);
            // Whoever changed a few rows wants to see them as they are now.
            foreach (BookEntry entry in edits.Keys.Take(AtOnce).Select(book.EntryOf).OfType<BookEntry>().Distinct())
            {
                if (entry.Checks is null)
                    book.Check(entry);
            }
            Revision = revision;
            _state++;
            _changedAt = Stopwatch.GetTimestamp();
        }
        Begin();
    }

    /// <summary>Sees to it that the looking goes on until all is found.</summary>
    public void Begin()
    {
        lock (_lock)
        {
            if (_work.IsCompleted && !IsComplete)
                _work = Task.Run(() => WorkAsync(_stop.Token));
        }
    }

    /// <summary>Waits until all is found.</summary>
    public async Task CompleteAsync(CancellationToken cancellation)
    {
        Interlocked.Increment(ref _waiting);
        try
        {
            while (!Glance(_ => IsComplete))
            {
                Begin();
                await _work.WaitAsync(cancellation);
            }
        }
        finally
        {
            Interlocked.Decrement(ref _waiting);
        }
    }

    private async Task WorkAsync(CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            Check(2 * AtOnce, stop);
            ReadRest();
            int state = Glance(_ => _state);
            await QuietAsync(stop);
            await FindDoublesAsync(stop);
            Check(int.MaxValue, stop);
            lock (_lock)
            {
                book.CheckTimes();
                if (book.Entries.Any(e => e.Checks is null) || state != _state)
                    continue;
                _complete = state;
                return;
            }
        }
    }

    /// <summary>Reads beside whoever looks at the first rows.</summary>
    private void ReadRest()
    {
        IReadOnlyList<(int, ImportRow?)> rest = book.ReadRest();
        if (rest.Count == 0)
            return;
        lock (_lock)
        {
            book.TakeRows(rest);
            _state++;
        }
    }

    /// <summary>Who types in one cell after the other isn't kept waiting by a look at all of them after each.</summary>
    private async Task QuietAsync(CancellationToken stop)
    {
        while (Volatile.Read(ref _waiting) == 0 && _changedAt is { } at && Stopwatch.GetElapsedTime(at) < Quiet)
            await Task.Delay(50, stop);
    }

    /// <summary>Holds posts against the networks, the first ones first, on as many cores as there are but one.</summary>
    private void Check(int most, CancellationToken stop)
    {
        int done = 0;
        while (done < most && !stop.IsCancellationRequested)
        {
            BookEntry[] next = Glance(b => b.Entries.Where(e => e.Checks is null).Take(AtOnce).ToArray());
            if (next.Length == 0)
                return;
            Parallel.ForEach(
                next,
                new ParallelOptions { MaxDegreeOfParallelism = Math.Max(1, Environment.ProcessorCount - 1), CancellationToken = stop },
                book.Check
            );
            done += next.Length;
        }
    }

    private async Task FindDoublesAsync(CancellationToken stop)
    {
        BookEntry[] entries = Look(b => b.Entries.Where(e => !e.IsTakenOut).ToArray());
        IReadOnlyDictionary<int, DoubleOf> found = Doubles.Find([.. entries.Select(e => e.Draft)], book.Context.Known);
        // What stays out because it is there already needn't be looked at.
        HashSet<int> chosen = [.. entries.Where(e => e.Edit.IfThere is not null).Select(e => e.Draft.Number)];
        List<Id<Post>> ids =
        [
            .. found
                .Where(d => d.Value.Known is not null && (d.Value.ById || !d.Value.IsSame || chosen.Contains(d.Key)))
                .Select(d => d.Value.Known!.Id)
                .Distinct(),
        ];
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        Dictionary<Id<Post>, Post> posts =
            ids.Count == 0
                ? []
                : await scope
                    .ServiceProvider.GetRequiredService<LarkDb>()
                    .Posts.AsNoTracking()
                    .Where(p => p.WorkspaceId == workspace && ids.Contains(p.Id))
                    .ToDictionaryAsync(p => p.Id, stop);
        lock (_lock)
            book.Take(found, posts);
    }

    public void Dispose()
    {
        _stop.Cancel();
        _stop.Dispose();
    }
}
