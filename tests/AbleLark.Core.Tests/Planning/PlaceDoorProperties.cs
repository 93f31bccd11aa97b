using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Tests.Rotation;
using NodaTime;

namespace AbleLark.Core.Tests.Planning;

/// <summary>Random acts on the places of random workspaces, against the same rules written plainly.</summary>
public sealed class PlaceDoorProperties
{
    private static readonly int[] Hours = [-30, -3, 5, 24, 49];

    [Fact]
    public void Whatever_is_decided_in_whatever_order_is_what_the_plain_rules_say()
    {
        int done = 0;
        Effort.Each(
            150,
            seed =>
            {
                Random chance = new(seed);
                Scene scene = RandomScenes.Build(chance, chance.Next(1, 4), chance.Next(2, 6), chance.Next(3, 15));
                PlacePlan plan = new(scene);
                for (int act = 0; act < 5; act++)
                    Interlocked.Add(ref done, Act(scene, plan, chance));
            }
        );
        Assert.True(done > Effort.Of(150), $"Only {done} places were decided about: the test proves too little.");
    }

    private static int Act(Scene scene, PlacePlan plan, Random chance)
    {
        IReadOnlyList<LineUpPlace> week = scene.Project(8);
        LineUpPlace[] chosen = [.. week.Where(_ => chance.Next(4) == 0)];
        if (chosen.Length < 2)
            return 0;
        Dictionary<Origin, PlainPlace> plain = scene.Decisions.ToDictionary(d => d.Origin, d => new PlainPlace(d));
        PlanAct act;
        switch (chance.Next(4))
        {
            case 0:
                TimeShift by = new(chance.Next(-1, 3), chance.Next(-60, 60));
                act = new PlanAct.Shift([], [.. chosen.Select(PlacePlan.Seen)], by);
                foreach (LineUpPlace place in chosen)
                    Plain(place, new(PlacePlan.Seen(place), MovedTo: by.From(At(place))));
                break;
            case 1:
                act = new PlanAct.Cancel([], [.. chosen.Select(PlacePlan.Seen)]);
                foreach (LineUpPlace place in chosen)
                    Plain(place, new(PlacePlan.Seen(place), IsSkipped: true));
                break;
            case 2:
                Id<Channel> channel = chosen[0].Picks.Count > 0 ? chosen[0].Picks[0].ChannelId : Id<Channel>.New();
                act = new PlanAct.Exchange(new(null, PlacePlan.Seen(chosen[0])), new(null, PlacePlan.Seen(chosen[1])), channel);
                if (chosen.Take(2).All(p => MayChange(p) && p.Occurrence.Slot.Channels.Contains(channel)))
                    Swap(PostOn(chosen[0], channel), PostOn(chosen[1], channel), channel);
                break;
            default:
                PlaceWish[] wishes = [.. chosen.Select(p => Wish(p, scene, chance))];
                act = new PlanAct.Decide(wishes);
                foreach ((LineUpPlace place, PlaceWish wish) in chosen.Zip(wishes))
                    Plain(place, wish);
                break;
        }
        string looked = Written(plan.Look(act));
        Assert.Equal(looked, Written(plan.Do(act)));
        Assert.Equal(
            plain.Where(p => !p.Value.IsEmpty).Select(p => $"{p.Key} {p.Value}").Order(),
            scene.Decisions.Select(d => $"{d.Origin} {new PlainPlace(d)}").Order()
        );
        return looked.Length > 0 ? 1 : 0;

        void Plain(LineUpPlace place, PlaceWish wish)
        {
            bool staysSkipped = place.State == PlaceState.Skipped && !wish.IsFreed && wish.IsSkipped != false;
            if (!MayChange(place) || (staysSkipped && (wish.IsSkipped == true || wish.MovedTo is not null)))
                return;
            if (wish.MovedTo is { } to && !(scene.At(to.Date, to.TimeOfDay) > scene.Now))
                return;
            PlainPlace row = Row(place);
            if (wish.IsFreed)
                (row.Skipped, row.Moved, row.Posts) = (false, null, []);
            foreach ((Id<Channel> on, Id<Post> post) in wish.Picks ?? [])
                row.Posts[on] = (post, true);
            row.Skipped = wish.IsSkipped ?? row.Skipped;
            row.Note = wish.Note ?? row.Note;
            if (wish.MovedTo is null)
                return;
            row.Moved = wish.MovedTo;
            foreach (Pick pick in place.Picks.Where(p => p.PostId is not null))
                row.Posts.TryAdd(pick.ChannelId, (pick.PostId!.Value, true));
        }

        void Swap(Id<Post>? one, Id<Post>? other, Id<Channel> channel)
        {
            if (one is null || other is null || one == other)
                return;
            Row(chosen[0]).Posts[channel] = (other.Value, true);
            Row(chosen[1]).Posts[channel] = (one.Value, true);
        }

        PlainPlace Row(LineUpPlace place) =>
            plain.TryGetValue(place.Occurrence.Origin, out PlainPlace? row) ? row : plain[place.Occurrence.Origin] = new();
    }

    private static bool MayChange(LineUpPlace place) => !place.IsScheduled && place.State is PlaceState.Open or PlaceState.Skipped;

    private static Id<Post>? PostOn(LineUpPlace place, Id<Channel> channel) =>
        place.Picks.Where(p => p.ChannelId == channel).Select(p => p.PostId).FirstOrDefault();

    private static LocalDateTime At(LineUpPlace place) => place.Occurrence.At.InZone(place.Occurrence.Rota.Zone).LocalDateTime;

    private static PlaceWish Wish(LineUpPlace place, Scene scene, Random chance) =>
        new(
            PlacePlan.Seen(place),
            chance.Next(3) == 0,
            chance.Next(3) switch
            {
                0 => true,
                1 => false,
                _ => null,
            },
            chance.Next(3) == 0 ? At(place).PlusHours(Hours[chance.Next(Hours.Length)]) : null,
            chance.Next(3) == 0 ? $"note {chance.Next(9)}" : null,
            [
                .. place
                    .Occurrence.Slot.Channels.Where(_ => chance.Next(3) == 0)
                    .Select(c => (c, scene.Bank[chance.Next(scene.Bank.Count)].Id)),
            ]
        );

    private static string Written(PlanChange change) =>
        string.Join(
            "\n",
            [.. change.Decided.Select(d => $"{d.Place} {new PlainPlace(d)}"), .. change.Stays.Select(s => $"{s.Place} {s.Code}")]
        );

    private sealed class PlainPlace
    {
        public PlainPlace() { }

        public PlainPlace(Decision d) =>
            (Skipped, Moved, Note, Posts) = (
                d.IsSkipped,
                d.MovedTo,
                d.Note,
                d.Posts.ToDictionary(p => p.ChannelId, p => (p.PostId, p.IsPicked))
            );

        public PlainPlace(PlaceDecision d) =>
            (Skipped, Moved, Note, Posts) = (
                d.IsSkipped,
                d.MovedTo,
                d.Note,
                d.Posts.ToDictionary(p => p.ChannelId, p => (p.PostId, p.IsPicked))
            );

        public bool Skipped { get; set; }
        public LocalDateTime? Moved { get; set; }
        public string? Note { get; set; }
        public Dictionary<Id<Channel>, (Id<Post> Post, bool IsPicked)> Posts { get; set; } = [];
        public bool IsEmpty => !Skipped && Moved is null && Note is null && Posts.Count == 0;

        public override string ToString() =>
            $"{Skipped} {Moved} {Note} {string.Join(",", Posts.OrderBy(p => p.Key.Value).Select(p => $"{p.Key}={p.Value}"))}";
    }
}
