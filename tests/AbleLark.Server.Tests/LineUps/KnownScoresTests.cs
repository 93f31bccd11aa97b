using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Server.LineUps;
using NodaTime;

namespace AbleLark.Server.Tests.LineUps;

public sealed class KnownScoresTests
{
    private static readonly Instant Begun = Instant.FromUtc(2026, 3, 2, 9, 0);

    /// <summary>Read once a minute for each workspace; where the clock was moved on or back, anew.</summary>
    [Fact]
    public async Task Scores_are_read_once_a_minute()
    {
        KnownScores known = new();
        (Id<Workspace> one, Id<Workspace> other) = (Id<Workspace>.New(), Id<Workspace>.New());
        int reads = 0;
        foreach (
            (Id<Workspace> workspace, int seconds, int expected) in new[]
            {
                (one, 0, 1),
                (one, 59, 1),
                (other, 59, 2),
                (one, 60, 3),
                (one, 86_400, 4),
                (one, 10, 5),
            }
        )
        {
            var scores = await known.OfAsync(workspace, Begun + Duration.FromSeconds(seconds), ReadAsync);
            Assert.Equal(expected, reads);
            Assert.Equal(expected, scores.Single().Value);
        }

        Task<IReadOnlyDictionary<(Id<Post>, Id<Channel>), double>> ReadAsync() =>
            Task.FromResult<IReadOnlyDictionary<(Id<Post>, Id<Channel>), double>>(
                new Dictionary<(Id<Post>, Id<Channel>), double> { [(Id<Post>.New(), Id<Channel>.New())] = ++reads }
            );
    }
}
