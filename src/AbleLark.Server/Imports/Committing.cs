using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Problems;

namespace AbleLark.Server.Imports;

/// <param name="Done">Posts that are written, all of which come to be there at once.</param>
public sealed record CommitProgress(int Done, int Total);

/// <summary>Who imports, and what they may.</summary>
public sealed record Importer(Actor By, bool MayApprove, bool MaySchedule);

/// <summary>Importings that this process has under way. What one of them writes is there at its end or not at all, so that nothing is lost
/// with the process.</summary>
public sealed partial class Committing(IServiceScopeFactory scopes, ILogger<Committing> log)
{
    private sealed class Going
    {
        public CancellationTokenSource Stop { get; } = new();
        public CommitProgress? Progress { get; set; } = new(0, 0);
        public string? Trouble { get; set; }
        public Task Work { get; set; } = Task.CompletedTask;
    }

    private readonly ConcurrentDictionary<(Id<Workspace>, Id<ImportRun>), Going> _all = [];

    public CommitProgress? ProgressOf(Id<Workspace> workspace, Id<ImportRun> id) => _all.GetValueOrDefault((workspace, id))?.Progress;

    /// <summary>Why the last one came to nothing; null: it didn't.</summary>
    public string? TroubleOf(Id<Workspace> workspace, Id<ImportRun> id) => _all.GetValueOrDefault((workspace, id))?.Trouble;

    /// <returns>False: it is under way already.</returns>
    public bool Begin(Id<Workspace> workspace, Id<ImportRun> id, int revision, Importer importer)
    {
        Going going = new();
        while (!_all.TryAdd((workspace, id), going))
        {
            if (_all.TryGetValue((workspace, id), out Going? before) && before.Progress is not null)
                return false;
            if (before is not null)
                _all.TryRemove(new((workspace, id), before));
        }
        going.Work = Task.Run(() => RunAsync(workspace, id, revision, importer, going));
        return true;
    }

    public void Cancel(Id<Workspace> workspace, Id<ImportRun> id) => _all.GetValueOrDefault((workspace, id))?.Stop.Cancel();

    private async Task RunAsync(Id<Workspace> workspace, Id<ImportRun> id, int revision, Importer importer, Going going)
    {
        try
        {
            await using AsyncServiceScope scope = scopes.CreateAsyncScope();
            LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
            db.Takes(Right.Write);
            await scope
                .ServiceProvider.GetRequiredService<ImportCommit>()
                .RunAsync(workspace, id, revision, importer, p => going.Progress = p, going.Stop.Token);
        }
        catch (OperationCanceledException)
        {
            going.Trouble = "The import was stopped. Nothing of it is in the bank.";
        }
        catch (ProblemException e)
        {
            going.Trouble = e.Message;
        }
        catch (Exception e)
        {
            LogFailure(e);
            going.Trouble = "Something went wrong here, and nothing of the import is in the bank. Try again.";
        }
        finally
        {
            going.Progress = null;
        }
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "An import failed; nothing of it was written")]
    private partial void LogFailure(Exception exception);
}
