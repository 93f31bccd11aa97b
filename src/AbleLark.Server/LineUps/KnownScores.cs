using System.Collections.Concurrent;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>How well each workspace's posts did, as it was read last: figures come in by themselves and move no stamp of the plan, so that
/// what was read for one plan holds for the next, for a minute of business time: where that is moved on, it is read anew.</summary>
public sealed class KnownScores
{
    private const int Most = 50;

    private static readonly Duration Oldest = Duration.FromMinutes(1);

    private readonly ConcurrentDictionary<
        Id<Workspace>,
        (Instant ReadAt, IReadOnlyDictionary<(Id<Post>, Id<Channel>), double> Scores)
    > _known = [];

    public async Task<IReadOnlyDictionary<(Id<Post>, Id<Channel>), double>> OfAsync(
        Id<Workspace> workspace,
        Instant now,
        Func<Task<IReadOnlyDictionary<(Id<Post>, Id<Channel>), double>>> read
    )
    {
        if (_known.TryGetValue(workspace, out var known) && known.ReadAt <= now && now - known.ReadAt < Oldest)
            return known.Scores;
        IReadOnlyDictionary<(Id<Post>, Id<Channel>), double> scores = await read();
        if (_known.Count >= Most)
            _known.Clear();
        _known[workspace] = (now, scores);
        return scores;
    }
}
