using AbleLark.Core.LineUps;
using AbleLark.Core.Rotation;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>The line-up beside <see cref="PlainRotation"/>, written from the rules a second time: the same posts in the same places, on
/// thousands of random workspaces.</summary>
public sealed class OracleTests
{
    [Fact]
    public void The_line_up_is_that_of_the_plain_rotation()
    {
        RandomScenes.All.Sample(
            scene =>
            {
                Instant until = scene.Now + Duration.FromDays(28);
                foreach (bool withSubstitutes in new[] { false, true })
                {
                    var plain = new PlainRotation(scene.Input(), scene.Now, withSubstitutes).Run(until);
                    IReadOnlyList<LineUpPlace> places = LineUp.Project(scene.Input(), scene.Now, until, withSubstitutes);
                    Assert.Equal(
                        plain.Select(p => $"{p.Origin} {string.Join(',', p.Gets.Values.Select(Words))}"),
                        places.Select(p => Words(scene, p))
                    );
                }
            },
            iter: Effort.Of(3000)
        );
    }

    /// <summary>What follows a place is the same whether it is scheduled already or not: ring, rounds, substitutes and limits are read
    /// from deliveries as from the projection.</summary>
    [Fact]
    public void Scheduling_early_changes_nothing_after_it()
    {
        Gen.Select(RandomScenes.All, Gen.Int[1, 20])
            .Sample(
                (scene, days) =>
                {
                    Instant middle = scene.At(Scene.Monday.PlusDays(days), LocalTime.Midnight);
                    Instant until = scene.Now + Duration.FromDays(28);
                    string[] before =
                    [
                        .. LineUp
                            .Project(scene.Input(), scene.Now, until, withSubstitutes: true)
                            .Where(p => p.Occurrence.At >= middle)
                            .Select(p => Words(scene, p)),
                    ];
                    scene.Schedule(LineUp.Project(scene.Input(), scene.Now, middle, withSubstitutes: true));
                    string[] after =
                    [
                        .. LineUp
                            .Project(scene.Input(), scene.Now, until, withSubstitutes: true)
                            .Where(p => p.Occurrence.At >= middle)
                            .Select(p => Words(scene, p)),
                    ];
                    Assert.Equal(before, after);
                },
                iter: Effort.Of(2000)
            );
    }

    private static string Words(Scene scene, LineUpPlace place) =>
        $"{place.Occurrence.Origin} {string.Join(',', place.Picks.Select(k => Words(scene, k)))}";

    private static string Words(Scene scene, Pick? pick) =>
        pick?.PostId is { } id
            ? $"{scene.Bank.Single(p => p.Id == id).Title}:{pick.Wording}"
                + (pick.Substitute is { } substitute ? $"({Words(scene, substitute)})" : "")
            : "–";

    private static string Words(PlainRotation.Given? given) =>
        given is null ? "–" : $"{given.Post.Title}:{given.Wording}{(given.Substitute is { } substitute ? $"({Words(substitute)})" : "")}";
}
