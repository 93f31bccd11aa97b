using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>Corners in which an independent writing of the rules gave something else.</summary>
public sealed class LineUpCornerTests
{
    private static readonly IsoDayOfWeek[] EveryDay = [.. Enumerable.Range(1, 7).Select(d => (IsoDayOfWeek)d)];
    private readonly Scene _scene = new();

    // ---- The next dates of a slot

    [Fact]
    public void A_slot_that_begins_in_eighteen_days_shows_its_first_three_dates()
    {
        Slot slot = _scene.Slot(_scene.Category(), new(9, 0), [IsoDayOfWeek.Thursday]);
        slot.From = Scene.Monday.PlusDays(18);
        Assert.Equal(new[] { 24, 31, 38 }.Select(Scene.Monday.PlusDays), Occurrences.Next(_scene.Rota, slot, Scene.Monday, 3));
    }

    [Fact]
    public void The_next_dates_are_the_first_on_which_it_occurs_whatever_begins_last()
    {
        Gen.Select(Gen.Int[-40, 60], Gen.Int[-40, 60], Gen.Int[-40, 60], Gen.Int[1, 9], Gen.Bool, Gen.Int[1, 7])
            .Sample(
                (anchor, rotaFrom, slotFrom, every, byDays, weekday) =>
                {
                    Scene scene = new();
                    Slot slot = scene.Slot(scene.Category(), new(9, 0), byDays ? [] : [(IsoDayOfWeek)weekday]);
                    (slot.Every, slot.Rhythm) = (every, byDays ? Rhythm.Days : Rhythm.Weeks);
                    (slot.Anchor, slot.From) = (Scene.Monday.PlusDays(anchor), Scene.Monday.PlusDays(slotFrom));
                    scene.Rota.From = Scene.Monday.PlusDays(rotaFrom);
                    Assert.Equal(
                        Enumerable
                            .Range(0, 400)
                            .Select(Scene.Monday.PlusDays)
                            .Where(d => scene.Rota.HoldsOn(d) && !(d < slot.From) && slot.ComesRoundOn(d))
                            .Take(3),
                        Occurrences.Next(scene.Rota, slot, Scene.Monday, 3)
                    );
                },
                iter: Effort.Of(500)
            );
    }

    // ---- One account only

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_substitute_is_kept_from_the_other_accounts_of_a_network_that_takes_one(bool anotherIsThere)
    {
        (Channel first, Channel second, Category category) = TwoChannels("jot");
        Post two = _scene.Post(category, p => p.Fits["jot"] = new([], "one", [new([], "two")]));
        Post another = _scene.Post(
            category,
            p =>
            {
                p.Channels = [second.Id];
                p.InRotation = anotherIsThere;
            }
        );
        Post waiting = _scene.Post(
            category,
            p =>
            {
                p.Channels = [first.Id];
                p.AskForApproval();
            }
        );
        Pick[] picks = [.. LineUp.Project(_scene.Input(), _scene.Now, _scene.Now + Duration.FromDays(1), withSubstitutes: true)[0].Picks];
        Assert.Equal(
            (waiting.Id, two.Id, anotherIsThere ? another.Id : null),
            (picks[0].PostId!.Value, picks[0].Substitute!.PostId!.Value, picks[1].PostId)
        );
    }

    // ---- Where the line is read

    [Theory]
    [InlineData(null, null, false)]
    [InlineData(30, null, false)]
    [InlineData(null, 1, false)]
    [InlineData(30, 1, true)]
    public void What_this_very_occurrence_has_filled_is_open_for_reading_the_line(int? minutesApart, int? aDay, bool isGiven)
    {
        (Channel first, Channel second, Category category) = TwoChannels("hearth");
        first.Spacing = minutesApart is { } minutes ? Duration.FromMinutes(minutes) : null;
        first.DailyLimit = aDay;
        Post both = _scene.Post(category);
        Post onSecond = _scene.Post(category, p => p.Channels = [second.Id]);
        Post onFirst = _scene.Post(category, p => p.Channels = [first.Id]);
        _scene.Delivery(both, first, _scene.Now - Duration.FromHours(15), DeliveryState.Sent);
        _scene.Delivery(onSecond, second, _scene.Now - Duration.FromDays(60), DeliveryState.Sent);
        if (isGiven)
            _scene.Decide(_scene.Rota.Slots[0], Scene.Monday, d => d.Posts = [new(first.Id, onFirst.Id, IsPicked: true)]);
        Assert.Equal([onFirst.Id, onSecond.Id], _scene.Project(1)[0].Picks.Select(p => p.PostId!.Value));
    }

    [Fact]
    public void A_place_that_somebody_has_given_a_post_is_no_reason_against_another_one_there()
    {
        (Channel first, _, Category category) = TwoChannels("hearth");
        (first.Spacing, first.DailyLimit) = (Duration.FromMinutes(30), 1);
        Post given = _scene.Post(category, p => p.Channels = [first.Id]);
        Post other = _scene.Post(category, p => p.Channels = [first.Id]);
        Slot slot = _scene.Rota.Slots[0];
        _scene.Decide(slot, Scene.Monday, d => d.Posts = [new(first.Id, given.Id, IsPicked: true)]);
        Assert.Contains(
            (other.Id, (Rule?)null),
            LineUp.CandidatesFor(_scene.Input(), _scene.Now, Origin.Place(slot.Id, Scene.Monday))!.Select(c => (c.Post.Id, c.ExcludedBy))
        );
    }

    [Fact]
    public void Another_delivery_at_the_same_instant_closes_the_channel_all_the_same()
    {
        (Channel first, _, Category category) = TwoChannels("hearth");
        first.Spacing = Duration.FromMinutes(30);
        Post given = _scene.Post(category, p => p.Channels = [first.Id]);
        Post other = _scene.Post(category, p => p.Channels = [first.Id]);
        Slot slot = _scene.Rota.Slots[0];
        _scene.Decide(slot, Scene.Monday, d => d.Posts = [new(first.Id, given.Id, IsPicked: true)]);
        _scene.Delivery(given, first, _scene.At(Scene.Monday, slot.Time), DeliveryState.Planned);
        Assert.Contains(
            (other.Id, (Rule?)Rule.ChannelClosed),
            LineUp.CandidatesFor(_scene.Input(), _scene.Now, Origin.Place(slot.Id, Scene.Monday))!.Select(c => (c.Post.Id, c.ExcludedBy))
        );
    }

    // ---- Identical text

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(7)]
    public void What_is_planned_counts_in_its_words_though_they_fit_no_longer(int wording)
    {
        (Channel first, Channel second, Category category) = TwoChannels("jot");
        Post planned = _scene.Post(
            category,
            p =>
            {
                p.InRotation = false;
                p.Fits["jot"] = new([Scene.TooLong], "words of its own", [new([Scene.TooLong], "other words"), new([], "third words")]);
            }
        );
        _scene.Delivery(planned, first, _scene.Now + Duration.FromDays(2), DeliveryState.Planned, wording: wording);
        Post same = _scene.Post(
            category,
            p =>
            {
                p.Channels = [second.Id];
                p.Fits["jot"] = new([], wording == 1 ? "other words" : "words of its own");
            }
        );
        Assert.Equal(Rule.IdenticalText, RuleFor(same));
    }

    private Rule? RuleFor(Post post) =>
        LineUp
            .CandidatesFor(_scene.Input(), _scene.Now, Origin.Place(_scene.Rota.Slots[0].Id, Scene.Monday))!
            .Single(c => c.Post.Id == post.Id)
            .ExcludedBy;

    /// <summary>One slot a day at nine on two accounts of a network, each of which gets a post.</summary>
    private (Channel First, Channel Second, Category Category) TwoChannels(string network)
    {
        (Channel first, Channel second) = (_scene.Channel(network), _scene.Channel(network));
        Category category = _scene.Category(first, second);
        _scene.Slot(category, new(9, 0), EveryDay, first, second).FillsEveryChannel = true;
        return (first, second, category);
    }
}
