using AbleLark.Tests.Shared;

namespace AbleLark.Core.Tests.Comparison;

/// <summary>The method in made-up workspaces of which the truth is known: few here, with wide bounds; a thousand each in the
/// bench.</summary>
public sealed class AcceptanceTests
{
    private const int Workspaces = 60;

    [Fact]
    public void Intervals_hold_the_truth_as_often_as_they_say()
    {
        Acceptance.Coverage coverage = Acceptance.Intervals(Workspaces, 1);
        Assert.InRange(coverage.All, 0.91, 0.985);
        Assert.All(coverage.BySize, c => Assert.InRange(c, 0.85, 1));
        Assert.True(coverage.Plain < 0.93, $"Plain errors hold it in {coverage.Plain:P1}, too: this test would pass without ours.");
    }

    [Fact]
    public void An_order_that_circumstances_have_turned_round_is_found_and_said()
    {
        (double right, double said, int workspaces) = Acceptance.Reversal(Workspaces, 2);
        Assert.True(workspaces >= Workspaces / 2, $"{workspaces} seem the other way round.");
        Assert.True(right >= 0.93, $"right in {right:P1}");
        Assert.True(said >= 0.8, $"said in {said:P1}");
    }

    [Fact]
    public void Two_that_are_level_are_not_said_to_change_their_order()
    {
        (double said, double raw) = Acceptance.Level(Workspaces, 3);
        Assert.InRange(raw, 0.38, 0.55);
        Assert.True(said <= 0.09, $"said in {said:P1}");
    }

    [Fact]
    public void What_is_said_to_be_level_is()
    {
        (int said, double wrong) = Acceptance.SaidLevel(Workspaces / 2, 5);
        Assert.True(said >= Workspaces / 2, $"Level is said {said} times.");
        Assert.True(wrong <= 0.05, $"wrong in {wrong:P1}");
    }

    [Fact]
    public void Where_nothing_differs_hardly_ever_is_a_difference_told() => Assert.InRange(Acceptance.Nothing(Workspaces, 4), 0, 0.12);
}
