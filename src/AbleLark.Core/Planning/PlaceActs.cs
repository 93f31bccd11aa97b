using AbleLark.Core.Bookings;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What acts make of places of the rota.</summary>
internal static class PlaceActs
{
    /// <summary>Each is moved so much by the clock of its rota's zone.</summary>
    public static PlanChange Shift(PlanSnapshot plan, IReadOnlyList<SeenPlace> places, TimeShift by) =>
        Each(plan, places, (place, seen) => new(seen, MovedTo: by.From(LocalOf(place))));

    public static PlanChange Skip(PlanSnapshot plan, IReadOnlyList<SeenPlace> places) =>
        Each(plan, places, (_, seen) => new(seen, IsSkipped: true));

    public static PlanChange Decide(PlanSnapshot plan, IReadOnlyList<PlaceWish> wishes)
    {
        Dictionary<Origin, PlaceWish> wanted = wishes.ToDictionary(w => w.Place.Place);
        return Each(plan, [.. wishes.Select(w => w.Place)], (place, _) => wanted[place.Occurrence.Origin]);
    }

    /// <summary>What goes out there now goes out once more, so much later or earlier.</summary>
    public static PlanChange Copy(PlanSnapshot plan, PlanAct.CopyBy act)
    {
        List<CopyWish> wishes = [.. act.Deliveries.Select(d => Wish(d.PostId, d.ChannelId, d.Wording, d.Time.Local))];
        (List<LineUpPlace> places, List<PlanStay> stays) = Seen(plan, act.Places, decides: false);
        wishes.AddRange(
            from place in places
            from pick in place.Picks
            where pick.PostId is not null
            select Wish(pick.PostId!.Value, pick.ChannelId, null, place.Occurrence.At.InZone(plan.Workspace.Zone).LocalDateTime)
        );
        return DeliveryActs.Copy(plan, wishes).And(new() { Stays = stays });

        CopyWish Wish(Id<Post> post, Id<Channel> channel, int? wording, LocalDateTime from) =>
            new(post, channel, wording, from, act.By.From(from));
    }

    public static PlanChange Take(PlanSnapshot plan, Delivery delivery, Post post)
    {
        Channel channel = plan.Channels[delivery.ChannelId];
        StayCode? code =
            !delivery.MayBeTaken(plan.Now) ? StayCode.NotToBeTaken
            : post.RemovedAt is not null || post.Stage is not (Stage.Ready or Stage.WaitingForApproval) ? StayCode.NotReady
            : post.FitOn(channel) is not { Fits: true } ? StayCode.DoesNotFit
            : delivery.PostId == post.Id ? StayCode.HasIt
            : plan.Others.Any(o => (o.PostId, o.ChannelId, o.At) == (post.Id, channel.Id, delivery.At)) ? StayCode.Taken
            : null;
        if (code is { } why)
            return PlanDoor.Staying(PlanStay.Of(delivery, why, post.FitOn(channel)?.Block?.Words) with { PostId = post.Id });
        return Give(plan, delivery, post, ReasonCode.TookPlace) with { InLines = [new(delivery.PostId, delivery.ChannelId, Side.Front)] };
    }

    /// <summary>A scheduled delivery goes to another post; what was to go out in its place is let go.</summary>
    public static PlanChange Give(PlanSnapshot plan, Delivery delivery, Post post, ReasonCode why)
    {
        Channel channel = plan.Channels[delivery.ChannelId];
        Surroundings around = new(plan, [.. plan.Others.Where(o => o.Id != delivery.Id)]);
        return new()
        {
            Given =
            [
                new(
                    delivery,
                    post,
                    channel,
                    new(why),
                    DeliveryActs.DoubtsOf(plan, delivery, post, post.FitOn(channel)?.FirstWording ?? 0, delivery.Time, around)
                ),
            ],
            Cancelled = [.. plan.Substitutes[(delivery.Origin, delivery.ChannelId)]],
            Done = 1,
        };
    }

    public static PlanChange Book(PlanSnapshot plan, PlanAct.Book act)
    {
        (LineUpInput input, Id<Post> id) = (plan.LineUp!, act.PostId);
        LocalDateTime now = plan.Now.InZone(plan.Workspace.Zone).LocalDateTime;
        LineUpPost? post = input.Bank.FirstOrDefault(p => p.Id == id);
        if (post is null)
            return PlanDoor.Staying(new(id, null, now, null, StayCode.NotInBank));
        if (post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
            return PlanDoor.Staying(new(id, null, now, null, StayCode.NotReady));
        BookingPlan booking = new Booking(input, plan.Now).Plan(post, act.Kind);
        if (booking.Moves.Count == 0)
            return PlanDoor.Staying(new(id, null, now, null, StayCode.NoPlace));
        if (act.Shown is { } shown && !shown.ToHashSet().SetEquals(booking.Moves.Select(m => ShownOf(plan, m))))
            return PlanDoor.Staying(new(id, null, now, null, StayCode.PlanChanged));
        Dictionary<Origin, PlaceDecision> decided = [];
        Dictionary<Origin, Decision> before = input.Decisions.ToDictionary(d => d.Origin);
        foreach ((Origin origin, Id<Channel> channel) in booking.Left)
            decided[origin] = Of(origin).WithoutBooking(id, channel);
        foreach (BookingMove move in booking.Moves)
        {
            if (move.To is { } to)
                decided[to.Origin] = Of(to.Origin).With([new(move.ChannelId, move.PostId, IsPicked: false)]);
        }
        return new()
        {
            Decided = [.. decided.Values],
            InLines = [.. booking.Moves.Where(m => m.To is null).Select(m => new PlanLineMove(m.PostId, m.ChannelId, Side.Front))],
            Done = booking.Moves.Count,
        };

        PlaceDecision Of(Origin origin) =>
            decided.TryGetValue(origin, out PlaceDecision? so) ? so : PlaceDecision.Of(origin, before.GetValueOrDefault(origin));
    }

    /// <summary>As whoever books is shown it.</summary>
    private static ShownMove ShownOf(PlanSnapshot plan, BookingMove move) =>
        new(move.PostId, move.ChannelId, move.To?.At.InZone(plan.Workspace.Zone).LocalDateTime);

    private static PlanChange Each(PlanSnapshot plan, IReadOnlyList<SeenPlace> seen, Func<LineUpPlace, SeenPlace, PlaceWish> wish)
    {
        if (seen.Count == 0)
            return new();
        (List<LineUpPlace> places, List<PlanStay> stays) = Seen(plan, seen, decides: true);
        Dictionary<Origin, SeenPlace> byPlace = seen.ToDictionary(s => s.Place);
        List<PlaceDecision> decided = [];
        foreach (LineUpPlace place in places)
        {
            PlaceWish wanted = wish(place, byPlace[place.Occurrence.Origin]);
            if (WhyNot(plan, place, wanted) is { } stay)
                stays.Add(stay);
            else
                decided.Add(After(place, wanted));
        }
        return new()
        {
            Decided = decided,
            Stays = stays,
            Done = decided.Count,
        };
    }

    private static (List<LineUpPlace> Places, List<PlanStay> Stays) Seen(PlanSnapshot plan, IReadOnlyList<SeenPlace> seen, bool decides) =>
        Seen(plan.LineUp, plan.Workspace.Zone, plan.Now, seen, decides);

    /// <summary>Those places that are as they were seen, in order, and why the others stay.</summary>
    /// <param name="decides">False: it only matters what they send.</param>
    public static (List<LineUpPlace> Places, List<PlanStay> Stays) Seen(
        LineUpInput? input,
        DateTimeZone zone,
        Instant now,
        IReadOnlyList<SeenPlace> seen,
        bool decides
    )
    {
        if (seen.Count == 0)
            return ([], []);
        IReadOnlyDictionary<Origin, LineUpPlace> there = PlanPlaces.Of(input, now, [.. seen.Select(s => s.Place)]);
        List<LineUpPlace> places = [];
        List<PlanStay> stays = [];
        foreach (SeenPlace one in seen)
        {
            if (!there.TryGetValue(one.Place, out LineUpPlace? place))
                stays.Add(PlanStay.Gone(one.Place));
            else if (PlanPlaces.WhyNot(place, one.Revision) is { } why && (decides || why != StayCode.PlaceState))
                stays.Add(PlanStay.Of(place, why, zone));
            else
                places.Add(place);
        }
        return ([.. places.OrderBy(p => p.Occurrence.At)], stays);
    }

    private static PlanStay? WhyNot(PlanSnapshot plan, LineUpPlace place, PlaceWish wish)
    {
        DateTimeZone zone = plan.Workspace.Zone;
        bool isSkipped = place.State == PlaceState.Skipped && !wish.IsFreed && wish.IsSkipped != false;
        if (isSkipped && (wish.IsSkipped == true || wish.MovedTo is not null))
            return PlanStay.Of(place, StayCode.PlaceState, zone);
        IReadOnlyList<(Id<Channel> Channel, Id<Post> Post)> picks = wish.Picks ?? [];
        if (picks.Any(p => !place.Occurrence.Slot.Channels.Contains(p.Channel)))
            return PlanStay.Of(place, StayCode.NotItsChannel, zone);
        if (picks.Any(p => plan.LineUp!.Bank.All(b => b.Id != p.Post)))
            return PlanStay.Of(place, StayCode.NotInBank, zone);
        return wish.MovedTo is { } to && PlanTimes.WhyNot(place.Occurrence.Rota.Zone, to, plan.Now, out _) is { } why
            ? PlanStay.Of(place, StayCode.Time, zone, why)
            : null;
    }

    private static PlaceDecision After(LineUpPlace place, PlaceWish wish)
    {
        PlaceDecision after = PlaceDecision.Of(place.Occurrence.Origin, place.Occurrence.Decision);
        if (wish.IsFreed)
            after = new(after.Place) { Note = after.Note };
        after = after.Picking(wish.Picks ?? []);
        if (wish.IsSkipped is { } skipped)
            after = after with { IsSkipped = skipped };
        if (wish.Note is { } note)
            after = after with { Note = string.IsNullOrWhiteSpace(note) ? null : note.Trim() };
        return wish.MovedTo is { } to ? after.PickingAsProjected(place) with { MovedTo = to } : after;
    }

    private static LocalDateTime LocalOf(LineUpPlace place) => place.Occurrence.At.InZone(place.Occurrence.Rota.Zone).LocalDateTime;
}
