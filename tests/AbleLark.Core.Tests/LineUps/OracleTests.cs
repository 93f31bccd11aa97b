using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.LineUps;

/// <summary>The line-up beside <see cref="PlainRotation"/>, written from the rules a second time: the same posts in the same places, on thousands of random workspaces.</summary>
public sealed class OracleTests
{
    [Fact]
    public void The_line_up_is_that_of_the_plain_rotation()
    {
        RandomScenes.All.Sample(scene =>
        {
            Instant until = scene.Now + Duration.FromDays(28);
            var plain = new PlainRotation(scene.Input(), scene.Now).Run(until);
            IReadOnlyList<Place> places = LineUp.Project(scene.Input(), scene.Now, until);
            string[] expected = [.. plain.Select(p => $"{p.Key.SlotId} {p.Key.Date} {string.Join(',', p.Gets.Select(g => $"{Name(scene, g.Value)}"))}")];
            string[] actual = [.. places.Select(p => $"{p.Occurrence.Key.SlotId} {p.Occurrence.Key.Date} {string.Join(',', p.Picks.Select(k => $"{Name(scene, k.PostId)}"))}")];
            Assert.Equal(expected, actual);
        }, iter: 3000);
    }

    private static string Name(Scene scene, Id<Post>? id) => id is { } post ? scene.Bank.Single(p => p.Id == post).Title : "–";
}
