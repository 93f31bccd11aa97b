using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Tests.Rotation;
using NodaTime;
using static NodaTime.IsoDayOfWeek;

namespace AbleLark.Core.Tests.Planning;

/// <summary>What another layout does to slots, decisions and what is scheduled.</summary>
public sealed class RotaRevisionTests
{
    private static readonly LocalTime Nine = new(9, 0);
    private static readonly LocalTime Ten = new(10, 0);
    private readonly Scene _scene = new();
    private readonly Channel _channel;
    private readonly Slot _slot;
    private readonly Post _post;

    public RotaRevisionTests()
    {
        _channel = _scene.Channel("jot");
        var category = _scene.Category(_channel);
        _slot = _scene.Slot(category, Nine, [Monday, Thursday], _channel);
        _post = _scene.Post(category);
    }

    [Fact]
    public void Another_time_keeps_the_slot_and_its_decisions_and_tells_what_is_scheduled_at_the_old_one()
    {
        _scene.Decide(_slot, Scene.Monday.PlusDays(7), d => d.IsSkipped = true);
        Delivery scheduled = Scheduled(Scene.Monday, Nine);
        Delivery moved = Scheduled(Scene.Monday.PlusDays(3), new(15, 0));
        Delivery sent = Scheduled(Scene.Monday.PlusDays(10), Nine);
        Scene.Send(sent);
        RotaRevision revision = Revise(_slot.Id, [Monday, Thursday], Ten);
        Assert.Equal([_slot], revision.Changed.Select(c => c.Slot));
        Assert.Empty(revision.Ended);
        Assert.Empty(revision.Orphans);
        // One that a person moved by itself, or that has gone, stays.
        StrandedDelivery only = Assert.Single(revision.Stranded);
        Assert.Equal((scheduled, Scene.Monday + Ten, _scene.At(Scene.Monday, Ten)), (only.Delivery, only.Local, only.At));
        Assert.NotEqual(scheduled, moved);
    }

    [Fact]
    public void Another_zone_moves_what_is_scheduled_as_another_time_does()
    {
        Scheduled(Scene.Monday, Nine);
        RotaRevision revision = RotaRevision.Of(
            _scene.Rota,
            [new(_slot.Id, Wanted([Monday, Thursday], Nine))],
            DateTimeZoneProviders.Tzdb["Europe/Paris"],
            [],
            _scene.Deliveries,
            _scene.Zone,
            Scene.Monday.PlusDays(-1),
            _scene.Now - Duration.FromDays(1)
        );
        Assert.Equal(Scene.Monday + new LocalTime(8, 0), Assert.Single(revision.Stranded).Local);
    }

    [Fact]
    public void Other_days_end_the_slot_after_what_is_scheduled_and_its_successor_takes_over_what_still_occurs()
    {
        Scheduled(Scene.Monday, Nine);
        Decision stays = _scene.Decide(_slot, Scene.Monday, d => d.Note = "of what is scheduled");
        Decision carried = _scene.Decide(_slot, Scene.Monday.PlusDays(7), d => d.Posts = [new(_channel.Id, _post.Id, true)]);
        Decision orphan = _scene.Decide(_slot, Scene.Monday.PlusDays(3), d => d.Posts = [new(_channel.Id, _post.Id, true)]);
        RotaRevision revision = Revise(_slot.Id, [Monday, Friday], Nine);
        Assert.Equal([new EndedSlot(_slot, Scene.Monday)], revision.Ended);
        Slot successor = Assert.Single(revision.Added);
        Assert.Equal((Scene.Monday.PlusDays(1), _slot.Anchor), (successor.From, successor.Anchor));
        CarriedDecision only = Assert.Single(revision.Carried);
        Assert.Same(carried, only.Decision);
        Assert.Equal((Origin.Place(successor.Id, carried.OriginDate), carried), (only.To, only.Decision));
        Assert.Same(orphan, Assert.Single(revision.Orphans).Decision);
        Assert.DoesNotContain(revision.Orphans, o => o.Decision == stays);

        // Kept as an exact time, once, and only while it can still go.
        var bank = new Dictionary<Id<Post>, Post> { [_post.Id] = _post };
        var channels = new Dictionary<Id<Channel>, Channel> { [_channel.Id] = _channel };
        Instant at = _scene.At(Scene.Monday.PlusDays(3), Nine);
        Assert.Equal([new(_post.Id, _channel.Id, at, 0)], revision.Kept(_scene.Rota, bank, channels, [], _scene.Now));
        Assert.Empty(revision.Kept(_scene.Rota, bank, channels, [(_post.Id, _channel.Id, at)], _scene.Now));
        Assert.Empty(revision.Kept(_scene.Rota, bank, channels, [], at));
        Assert.Empty(revision.Kept(_scene.Rota, new Dictionary<Id<Post>, Post>(), channels, [], _scene.Now));
    }

    [Fact]
    public void A_slot_that_is_left_out_ends_at_once_and_a_new_one_comes_after_all_others()
    {
        Decision decision = _scene.Decide(_slot, Scene.Monday.PlusDays(3), d => d.IsSkipped = true);
        RotaRevision revision = RotaRevision.Of(
            _scene.Rota,
            [new(null, Wanted([Tuesday], Ten))],
            _scene.Zone,
            _scene.Decisions,
            _scene.Deliveries,
            _scene.Zone,
            Scene.Monday,
            _scene.Now
        );
        Assert.Equal([new EndedSlot(_slot, null)], revision.Ended);
        Assert.Equal(_slot.Position + 1, Assert.Single(revision.Added).Position);
        Assert.Same(decision, Assert.Single(revision.Orphans).Decision);
    }

    /// <summary>On three thousand random rotas: no decision is lost or doubled.</summary>
    [Fact]
    public void Every_decision_stays_is_carried_or_is_told()
    {
        int told = 0;
        Effort.Each(
            3000,
            seed =>
            {
                Random chance = new(seed);
                Scene scene = RandomScenes.Build(chance, 1 + chance.Next(5), 1 + chance.Next(6), chance.Next(20));
                LocalDate today = scene.Now.InZone(scene.Zone).Date;
                WantedSlot[] wanted =
                [
                    .. scene
                        .Rota.Slots.Where(_ => chance.Next(4) > 0)
                        .Select(s => new WantedSlot(
                            s.Id,
                            Wanted(chance.Next(2) == 0 ? s.Days : [(IsoDayOfWeek)(1 + chance.Next(7))], s.Time) with
                            {
                                Rhythm = s.Rhythm,
                                Every = s.Every,
                            }
                        )),
                ];
                HashSet<Id<Slot>> own = [.. scene.Rota.Slots.Select(s => s.Id)];
                List<Decision> decisions = [.. scene.Decisions.Where(d => d.OriginDate >= today && own.Contains(d.Origin.SlotId!.Value))];
                RotaRevision revision = RotaRevision.Of(
                    scene.Rota,
                    wanted,
                    scene.Zone,
                    decisions,
                    scene.Deliveries.Where(d => d.OriginDate >= today),
                    scene.Zone,
                    today,
                    scene.Now
                );
                HashSet<Id<Slot>> unchanged = [.. revision.Changed.Select(c => c.Slot.Id)];
                List<Decision> moved = [.. revision.Carried.Select(c => c.Decision), .. revision.Orphans.Select(o => o.Decision)];
                Assert.Equal(moved.Count, moved.Distinct().Count());
                Assert.DoesNotContain(moved, d => unchanged.Contains(d.Origin.SlotId!.Value));
                foreach (Decision stays in decisions.Except(moved).Where(d => !unchanged.Contains(d.Origin.SlotId!.Value)))
                    Assert.Contains(scene.Deliveries, d => d.Origin.SlotId == stays.Origin.SlotId && d.OriginDate >= stays.OriginDate);
                foreach (CarriedDecision c in revision.Carried)
                    Assert.True(revision.Added.Single(s => s.Id == c.To.SlotId).ComesRoundOn(c.Decision.OriginDate));
                Assert.Equal(
                    scene.Rota.Slots.Select(s => s.Id).Order(),
                    revision.Changed.Select(c => c.Slot.Id).Concat(revision.Ended.Select(e => e.Slot.Id)).Order()
                );
                told += revision.Orphans.Count;
            }
        );
        Assert.True(told > Effort.Of(200), $"Only {told} were told: the test proves too little.");
    }

    private RotaRevision Revise(Id<Slot> slot, IsoDayOfWeek[] days, LocalTime time) =>
        RotaRevision.Of(
            _scene.Rota,
            [new(slot, Wanted(days, time))],
            _scene.Zone,
            _scene.Decisions,
            _scene.Deliveries,
            _scene.Zone,
            Scene.Monday,
            _scene.Now
        );

    private SlotPlan Wanted(IReadOnlyList<IsoDayOfWeek> days, LocalTime time) =>
        new()
        {
            Days = days,
            Time = time,
            Rhythm = Rhythm.Weeks,
            Every = 1,
            Anchor = null,
            From = null,
            To = null,
            Source = _slot.Source,
            Channels = _slot.Channels,
            FillsEveryChannel = false,
        };

    private Delivery Scheduled(LocalDate date, LocalTime time) =>
        _scene.Delivery(_post, _channel, _scene.At(date, time), DeliveryState.Planned, _slot, slotDate: date);
}
