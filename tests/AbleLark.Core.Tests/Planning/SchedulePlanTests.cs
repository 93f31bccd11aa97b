using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Planning;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Tests.Rotation;
using NodaTime;

namespace AbleLark.Core.Tests.Planning;

/// <summary>What is scheduled when, and what has passed.</summary>
public sealed class SchedulePlanTests
{
    private readonly Scene _scene = new();
    private readonly Channel _channel;
    private readonly Slot _slot;

    public SchedulePlanTests()
    {
        _channel = _scene.Channel("jot");
        var category = _scene.Category(_channel);
        _slot = _scene.Slot(category, new(9, 0), Enum.GetValues<IsoDayOfWeek>().Where(d => d != IsoDayOfWeek.None), _channel);
        _scene.Post(category);
        _scene.Post(category);
    }

    [Fact]
    public void Places_up_to_the_date_become_deliveries_that_say_where_they_come_from_and_those_after_it_do_not()
    {
        SchedulePlan plan = Plan(through: 1);
        Assert.Equal(
            [(Origin.Place(_slot.Id, Scene.Monday), "Post 1"), (Origin.Place(_slot.Id, Scene.Monday.PlusDays(1)), "Post 0")],
            plan.Deliveries.Select(d => (d.Origin, _scene.Bank.Single(p => p.Id == d.PostId).Title))
        );
        Assert.All(plan.Deliveries, d => Assert.Equal((DeliveryState.Planned, new LocalTime(9, 0)), (d.State, d.LocalTime)));
        Assert.Empty(plan.Passed);
        Assert.Equal(_scene.Workspace.StartOf(Scene.Monday.PlusDays(2)), plan.NextToPass);
    }

    [Fact]
    public void What_is_scheduled_is_not_scheduled_again()
    {
        _scene.Schedule(LineUp.Project(_scene.Input(), _scene.Now, _scene.Workspace.StartOf(Scene.Monday.PlusDays(1))));
        Assert.Equal([Scene.Monday.PlusDays(1)], Plan(through: 1).Deliveries.Select(d => d.LocalDate));
    }

    [Fact]
    public void An_empty_place_is_the_next_to_pass_and_has_passed_once_its_time_came_if_it_was_seen_coming()
    {
        foreach (var post in _scene.Bank)
            post.InRotation = false;
        SchedulePlan before = Plan(through: 1);
        Assert.Equal((0, _scene.At(Scene.Monday, new(9, 0))), (before.Deliveries.Count, before.NextToPass));
        Instant later = before.NextToPass + Duration.FromMinutes(1);
        // Not yet written down that it was seen coming.
        Assert.Empty(SchedulePlan.Of(_scene.Workspace, _scene.Input(), Scene.Monday.PlusDays(1), later).Passed);
        _scene.Workspace.NextToPass = before.NextToPass;
        PassedPlace passed = Assert.Single(SchedulePlan.Of(_scene.Workspace, _scene.Input(), Scene.Monday.PlusDays(1), later).Passed);
        Assert.Equal((Origin.Place(_slot.Id, Scene.Monday), Scene.Monday + new LocalTime(9, 0)), (passed.Origin, passed.Local));
        // A slot kept free, or a place skipped, is nobody's miss.
        _scene.Decide(_slot, Scene.Monday, d => d.IsSkipped = true);
        Assert.Empty(SchedulePlan.Of(_scene.Workspace, _scene.Input(), Scene.Monday.PlusDays(1), later).Passed);
    }

    private SchedulePlan Plan(int through) => SchedulePlan.Of(_scene.Workspace, _scene.Input(), Scene.Monday.PlusDays(through), _scene.Now);
}
