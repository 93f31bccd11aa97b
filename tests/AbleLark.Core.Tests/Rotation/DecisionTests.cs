using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;
using static NodaTime.IsoDayOfWeek;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>What people decide about single places, and what rests.</summary>
public sealed class DecisionTests
{
    private static readonly IsoDayOfWeek[] EveryDay = [Monday, Tuesday, Wednesday, Thursday, Friday, Saturday, Sunday];
    private readonly Scene _scene = new();
    private readonly Channel _channel;
    private readonly Category _category;
    private readonly Slot _slot;

    public DecisionTests()
    {
        _channel = _scene.Channel("hearth");
        _category = _scene.Category(_channel);
        _slot = _scene.Slot(_category, new(9, 0), EveryDay, _channel);
        for (int i = 0; i < 3; i++)
            _scene.Post(_category);
    }

    [Fact]
    public void A_skipped_occurrence_stays_visible_and_takes_nobody_s_turn()
    {
        _scene.Decide(_slot, Scene.Monday, d => d.IsSkipped = true);
        Assert.Equal(["–", "Post 2", "Post 1"], _scene.Titles(3));
        Assert.Equal((PlaceState.Skipped, "Skipped by a person."), (_scene.Project(1)[0].State, _scene.Project(1)[0].Reason.Words));
    }

    [Fact]
    public void A_moved_occurrence_keeps_its_key_and_goes_out_at_its_new_time()
    {
        _scene.Decide(_slot, Scene.Monday, d => d.MovedTo = Scene.Monday.PlusDays(1) + new LocalTime(20, 0));
        IReadOnlyList<LineUpPlace> places = _scene.Project(2);
        Assert.Equal([Scene.Monday.PlusDays(1), Scene.Monday], places.Select(p => p.Occurrence.Origin.Date));
        Assert.Equal(_scene.At(Scene.Monday.PlusDays(1), new(20, 0)), places[1].Occurrence.At);
    }

    [Fact]
    public void A_picked_post_counts_as_planned_however_far_ahead()
    {
        _category.GapDays = 10;
        Pick(Scene.Monday.PlusDays(8), _scene.Bank[2]);
        // Post 2 would be first, but its place in eight days keeps it away until then.
        Assert.Equal(["Post 1", "Post 0"], _scene.Titles(2));
        LineUpPlace place = _scene.Project(9)[8];
        Assert.Equal(("Post 2", ReasonCode.Picked), (_scene.PostIn(place)!.Title, place.Picks[0].Reason.Code));
    }

    [Fact]
    public void A_picked_post_needs_neither_gap_nor_rotation_but_has_to_be_ready()
    {
        _category.GapDays = 30;
        _scene.Bank[0].InRotation = false;
        Pick(Scene.Monday, _scene.Bank[0]);
        Pick(Scene.Monday.PlusDays(1), _scene.Bank[0]);
        Assert.Equal(["Post 0", "Post 0", "Post 2"], _scene.Titles(3));
        _scene.Bank[0].PutBackTo(Stage.Draft);
        LineUpPlace place = _scene.Project(1)[0];
        Assert.Equal(
            (null, "The post given to this place can't go: not ready. Rotation leaves the place to you."),
            (_scene.PostIn(place), place.Picks[0].Reason.Words)
        );
    }

    [Fact]
    public void What_rests_is_shown_as_paused_until_the_day_named()
    {
        _scene.Rest(Paused.Slot, _slot.Id.Value, Scene.Monday.PlusDays(1), Scene.Monday.PlusDays(2));
        Assert.Equal(["Post 2", "–", "–", "Post 1"], _scene.Titles(4));
        Assert.Equal([PlaceState.Open, PlaceState.Paused, PlaceState.Paused, PlaceState.Open], _scene.Project(4).Select(p => p.State));
    }

    [Fact]
    public void A_paused_category_is_passed_over_in_a_slot_with_several()
    {
        Category other = _scene.Category(_channel);
        _scene.Post(other);
        _slot.Source = new([_category.Id, other.Id]);
        _slot.Anchor = Scene.Monday;
        _scene.Rest(Paused.Category, _category.Id.Value, Scene.Monday, Scene.Monday);
        Assert.Equal("Post 3", _scene.Titles(1)[0]);
        _scene.Rest(Paused.Category, other.Id.Value, Scene.Monday, Scene.Monday);
        Assert.Equal(ReasonCode.CategoryPaused, _scene.Project(1)[0].Reason.Code);
    }

    [Fact]
    public void Nothing_goes_while_all_sending_is_stopped()
    {
        _scene.Rest(Paused.Workspace, Guid.NewGuid(), Scene.Monday);
        Assert.All(_scene.Project(7), p => Assert.Equal(ReasonCode.WorkspacePaused, p.Reason.Code));
    }

    [Fact]
    public void The_candidates_of_a_place_come_in_order_and_the_others_with_what_keeps_them_out()
    {
        _scene.Bank[1].PutBackTo(Stage.Draft);
        _scene.Post(_category, p => p.To = Scene.Monday.PlusDays(1));
        var ranked = LineUp.CandidatesFor(_scene.Input(), _scene.Now, Origin.Place(_slot.Id, Scene.Monday.PlusDays(2)))!;
        // Post 3 and Post 2 go on Monday and Tuesday; on Wednesday Post 0 is the only new one.
        Assert.Equal(
            [("Post 0", null), ("Post 2", null), ("Post 1", (Rule?)Rule.Stage), ("Post 3", Rule.Lifespan)],
            ranked.Select(r => (r.Post.Title, r.ExcludedBy))
        );
        Assert.Equal(_scene.Titles(3)[2], ranked[0].Post.Title);
        Assert.Null(LineUp.CandidatesFor(_scene.Input(), _scene.Now, Origin.Place(Id<Slot>.New(), Scene.Monday)));
    }

    private void Pick(LocalDate date, Post post) => _scene.Decide(_slot, date, d => d.Posts = [new(_channel.Id, post.Id, true)]);
}
