using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Problems;
using Microsoft.Extensions.Options;

namespace AbleLark.Server.Work;

/// <summary>Reading it took longer than it may; in words that go on from its name.</summary>
public sealed class TooSlowException(string words) : Exception(words);

/// <summary>
/// Reads what came from outside and is made by whoever likes: a few at a time for the whole server and one for each workspace, so that
/// nobody's file takes the processors or the memory of others; before any lock is taken; within a time; and no longer than somebody waits
/// for it.
/// </summary>
public sealed class HeavyReading(IOptions<LarkSettings> settings, IHostApplicationLifetime lifetime) : IDisposable
{
    /// <summary>So many at a time, whatever the machine: each may hold its file, and what it made of it, in memory.</summary>
    public const int Places = 2;

    /// <summary>Whoever waits longer for a place is told to come again.</summary>
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(30);

    private readonly TimeSpan _longest = TimeSpan.FromSeconds(settings.Value.ReadingSeconds);
    private readonly SemaphoreSlim _places = new(Places);
    private readonly KeyedLocks<Id<Workspace>> _workspaces = new();

    /// <param name="read">Does it, and looks again and again at whether it is to end.</param>
    /// <exception cref="TooSlowException">It took longer than it may.</exception>
    /// <exception cref="ProblemException">There was no place for it.</exception>
    public async Task<T> RunAsync<T>(Id<Workspace> workspace, Func<CancellationToken, T> read, CancellationToken cancellation)
    {
        using CancellationTokenSource wanted = CancellationTokenSource.CreateLinkedTokenSource(cancellation, lifetime.ApplicationStopping);
        SemaphoreSlim own = _workspaces.Of(workspace);
        await EnterAsync(own, wanted.Token);
        try
        {
            await EnterAsync(_places, wanted.Token);
            try
            {
                using CancellationTokenSource time = CancellationTokenSource.CreateLinkedTokenSource(wanted.Token);
                time.CancelAfter(_longest);
                try
                {
                    return await Task.Factory.StartNew(
                        () => read(time.Token),
                        time.Token,
                        TaskCreationOptions.LongRunning,
                        TaskScheduler.Default
                    );
                }
                catch (OperationCanceledException) when (!wanted.IsCancellationRequested)
                {
                    throw new TooSlowException(
                        $"takes longer than {_longest.TotalSeconds:0} seconds to read. Make it smaller, or split it"
                    );
                }
            }
            finally
            {
                _places.Release();
            }
        }
        finally
        {
            own.Release();
        }
    }

    private static async Task EnterAsync(SemaphoreSlim place, CancellationToken cancellation)
    {
        if (!await place.WaitAsync(LongestWait, cancellation))
            throw ProblemException.Busy("Other files are being read here just now. Try again in a minute; nothing of this one was kept.");
    }

    public void Dispose() => _places.Dispose();
}
