using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Tests.Rotas;

public sealed class OriginTests
{
    private static readonly Id<Slot> SomeSlot = Id<Slot>.New();
    private static readonly LocalDate Date = new(2026, 3, 2);

    [Fact]
    public void A_place_is_the_same_whatever_its_time_and_an_exact_time_is_not()
    {
        Assert.Equal(Origin.Place(SomeSlot, Date), Origin.Place(SomeSlot, Date));
        Assert.Null(Origin.Place(SomeSlot, Date).Time);
        Id<Post> post = Id<Post>.New();
        Assert.NotEqual(Origin.ExactTime(post, Date + new LocalTime(9, 0)), Origin.ExactTime(post, Date + new LocalTime(9, 1)));
        Assert.NotEqual(Origin.ExactTime(post, Date + new LocalTime(9, 0)), Origin.ExactTime(Id<Post>.New(), Date + new LocalTime(9, 0)));
    }

    [Fact]
    public void Only_a_place_has_a_slot()
    {
        Assert.Equal(SomeSlot, Origin.Place(SomeSlot, Date).SlotId);
        foreach (OriginKind kind in Enum.GetValues<OriginKind>().Where(k => k != OriginKind.Place))
            Assert.Null(new Origin(kind, SomeSlot.Value, Date, LocalTime.Noon).SlotId);
    }

    [Fact]
    public void An_occurrence_keeps_its_origin_when_its_slot_or_a_decision_moves_it()
    {
        var scene = new Rotation.Scene();
        var (category, channel) = (scene.Category(), scene.Channel("jot"));
        Slot slot = scene.Slot(category, new LocalTime(9, 0), [IsoDayOfWeek.Monday, IsoDayOfWeek.Thursday], channel);
        Instant until = scene.Now + Duration.FromDays(14);
        Origin[] Seen() =>
            [.. Occurrences.Between(scene.Input().Rotas, scene.Now, until, scene.Decisions).Select(o => o.Origin).OrderBy(o => o.Date)];
        Origin[] before = Seen();
        Assert.NotEmpty(before);
        slot.Time = slot.Time.PlusMinutes(7);
        Assert.Equal(before, Seen());
        scene.Decide(slot, before[^1].Date, d => d.MovedTo = before[0].Date.PlusDays(1) + new LocalTime(5, 0));
        Assert.Equal(before, Seen());
    }
}
