using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What acts make of deliveries.</summary>
internal static class DeliveryActs
{
    /// <summary>One delivery and where it would go.</summary>
    private sealed record Step(Delivery Delivery, PlannedTime To, LocalDateTime? Asked = null)
    {
        public (Id<Post>, Id<Channel>, Instant) Target => (Delivery.PostId, Delivery.ChannelId, To.At);
        public (Id<Post>, Id<Channel>, Instant) Place => (Delivery.PostId, Delivery.ChannelId, Delivery.At);
    }

    public static PlanChange Move(PlanSnapshot plan, IReadOnlyList<MoveWish> wishes)
    {
        List<PlanStay> stays = [];
        List<Step> steps = [];
        foreach (MoveWish wish in wishes.OrderBy(w => w.Delivery.At))
        {
            Delivery delivery = wish.Delivery;
            if (WhyNotMove(plan, delivery) is { } code)
                stays.Add(PlanStay.Of(delivery, code));
            else if (plan.Workspace.WhyNot(wish.To, plan.Now, out Instant at) is { } why)
                stays.Add(PlanStay.Of(delivery, StayCode.Time, why));
            else
                steps.Add(new(delivery, PlannedTime.Of(at, plan.Workspace.Zone), wish.To));
        }
        List<Step> free = Free(plan, steps);
        stays.AddRange(steps.Except(free).Select(s => PlanStay.Of(s.Delivery, StayCode.Taken)));
        return ChangeOf(plan, free) with { Stays = stays };
    }

    /// <summary>By their instants: in the hour that a clock change repeats, a local time alone doesn't name one.</summary>
    public static PlanChange Exchange(PlanSnapshot plan, Delivery one, Delivery other, PlanAct.Exchange act)
    {
        if (WhyNotExchanged(one, other, act) is { } why)
            return PlanDoor.Staying(why);
        List<Step> steps = [new(one, other.Time), new(other, one.Time)];
        List<PlanStay> stays =
        [
            .. from step in steps
            let code = WhyNotMove(plan, step.Delivery)
            where code is not null
            select PlanStay.Of(step.Delivery, code.Value),
        ];
        if (stays.Count > 0)
            return new() { Stays = stays };
        List<Step> free = Free(plan, steps);
        return free.Count == steps.Count
            ? ChangeOf(plan, free)
            : new() { Stays = [.. steps.Except(free).Select(s => PlanStay.Of(s.Delivery, StayCode.Taken))] };
    }

    private static PlanStay? WhyNotExchanged(Delivery one, Delivery other, PlanAct.Exchange act) =>
        act.Channel is { } channel && (one.ChannelId != channel || other.ChannelId != channel) ? PlanStay.Of(one, StayCode.NotItsChannel)
        : act.One.Expected is { } first && first != one.PostId ? PlanStay.Of(one, StayCode.ChangedSince)
        : act.Other.Expected is { } second && second != other.PostId ? PlanStay.Of(other, StayCode.ChangedSince)
        : one.PostId == other.PostId && one.ChannelId == other.ChannelId ? PlanStay.Of(one, StayCode.Same)
        : null;

    private static StayCode? WhyNotMove(PlanSnapshot plan, Delivery delivery) =>
        !EntryActs.Of(delivery).Contains(EntryAct.Move) ? StayCode.State
        : plan.Channels[delivery.ChannelId].Connection == ConnectionState.Disconnected ? StayCode.Disconnected
        : null;

    /// <summary>Those whose time nothing else of their post takes. One that stays keeps its own time from those that come up behind it, so
    /// it is asked again until nothing changes; of two that want one time, the one that goes out first now gets it.</summary>
    private static List<Step> Free(PlanSnapshot plan, List<Step> steps)
    {
        HashSet<Id<Delivery>> moving = [.. steps.Select(s => s.Delivery.Id)];
        HashSet<(Id<Post>, Id<Channel>, Instant)> taken =
        [
            .. plan.Others.Where(o => !moving.Contains(o.Id)).Select(o => (o.PostId, o.ChannelId, o.At)),
        ];
        List<Step> free = steps;
        while (true)
        {
            HashSet<(Id<Post>, Id<Channel>, Instant)> then = [.. taken];
            ILookup<bool, Step> parted = free.ToLookup(s => then.Add(s.Target));
            if (!parted[false].Any())
                return free;
            taken.UnionWith(parted[false].Select(s => s.Place));
            free = [.. parted[true]];
        }
    }

    private static PlanChange ChangeOf(PlanSnapshot plan, List<Step> steps)
    {
        Dictionary<Id<Delivery>, Instant> times = steps.ToDictionary(s => s.Delivery.Id, s => s.To.At);
        List<Neighbour> then = [.. plan.Others.Select(o => times.TryGetValue(o.Id, out Instant to) ? o with { At = to } : o)];
        Surroundings around = new(plan, then);
        List<PlanMove> moves = [];
        // A substitute whose post goes out there at that time anyway would send it twice.
        List<Delivery> needless = [];
        ILookup<Id<Delivery>, Delivery> along = steps
            .SelectMany(s => plan.Substitutes[(s.Delivery.Origin, s.Delivery.ChannelId)].Select(d => (s.Delivery.Id, Along: d)))
            .ToLookup(a => a.Id, a => a.Along);
        HashSet<Id<Delivery>> leaving = [.. along.SelectMany(a => a).Select(d => d.Id)];
        HashSet<(Id<Post>, Id<Channel>, Instant)> there =
        [
            .. then.Where(o => !leaving.Contains(o.Id)).Select(o => (o.PostId, o.ChannelId, o.At)),
        ];
        foreach (Step step in steps)
        {
            Delivery delivery = step.Delivery;
            moves.Add(
                new(
                    delivery,
                    delivery.Time,
                    step.To,
                    IsAlong: false,
                    DoubtsOf(plan, delivery, step.To, step.Asked, around, before: delivery.At)
                )
            );
            foreach (Delivery substitute in along[delivery.Id])
            {
                if (there.Add((substitute.PostId, substitute.ChannelId, step.To.At)))
                    moves.Add(new(substitute, substitute.Time, step.To, IsAlong: true, []));
                else
                    needless.Add(substitute);
            }
        }
        return new()
        {
            Moves = moves,
            Cancelled = needless,
            Done = steps.Count,
        };
    }

    private static List<PlanDoubt> DoubtsOf(
        PlanSnapshot plan,
        Delivery delivery,
        PlannedTime to,
        LocalDateTime? asked,
        Surroundings around,
        Instant? before
    )
    {
        List<PlanDoubt> doubts = DoubtsOf(plan, delivery, plan.Posts[delivery.PostId], delivery.Wording, to, around, before);
        if (asked is { } local && local != to.Local)
            doubts.Insert(0, new(DoubtCode.ClockChange, Local: local, Time: to.Local.TimeOfDay));
        return doubts;
    }

    /// <summary>What speaks against a delivery that goes out then, with that post.</summary>
    /// <param name="before">When the same post was to go out until now; null: it wasn't.</param>
    public static List<PlanDoubt> DoubtsOf(
        PlanSnapshot plan,
        Delivery delivery,
        Post post,
        int wording,
        PlannedTime to,
        Surroundings around,
        Instant? before = null
    )
    {
        Channel channel = plan.Channels[delivery.ChannelId];
        List<PlanDoubt> doubts =
        [
            .. MoveDoubts.Of(
                new(delivery.Id, post.Id, channel.Id, to.At),
                post,
                plan.GapOf(post),
                channel,
                to.Local,
                around.Of(channel.Id, post.Id, to.At),
                plan.Workspace.Zone
            ),
        ];
        if (post.FitOn(channel)?.BlockOf(wording) is { } block)
            doubts.Add(new(DoubtCode.DoesNotFit, Detail: block.Words));
        if (SaidNear(plan, delivery, plan.TextOf(post, channel, wording), to, around) is { } near)
            doubts.Add(new(DoubtCode.IdenticalText, near, Limit: plan.IdenticalTextDays[channel.Network]));
        // One that waited and gets more time was spoken of when it was planned.
        if (post.Waits(channel, wording) && !(to.At >= before))
            doubts.Add(new(DoubtCode.Waits));
        return doubts;
    }

    /// <summary>The nearest date on which the same text goes to the network, where that is too near; null: it isn't, or the network
    /// doesn't mind.</summary>
    private static LocalDate? SaidNear(PlanSnapshot plan, Delivery delivery, string? text, PlannedTime to, Surroundings around)
    {
        if (text is null)
            return null;
        string network = plan.Channels[delivery.ChannelId].Network;
        LocalDate? nearest = around
            .Saying(text, network)
            .Where(o => o.Id != delivery.Id)
            .Select(o => (LocalDate?)o.At.InZone(plan.Workspace.Zone).Date)
            .MinBy(d => Math.Abs(Period.DaysBetween(d!.Value, to.Local.Date)));
        return nearest is { } date && Math.Abs(Period.DaysBetween(date, to.Local.Date)) < plan.IdenticalTextDays[network] ? date : null;
    }

    private static Neighbour NeighbourOf(PlanSnapshot plan, Delivery delivery) =>
        new(
            delivery.Id,
            delivery.PostId,
            delivery.ChannelId,
            delivery.At,
            Text: plan.TextOf(plan.Posts[delivery.PostId], plan.Channels[delivery.ChannelId], delivery.Wording)
        );

    public static PlanChange Copy(PlanSnapshot plan, IReadOnlyList<CopyWish> wishes)
    {
        HashSet<(Id<Post>, Id<Channel>, Instant)> taken = [.. plan.Others.Select(o => (o.PostId, o.ChannelId, o.At))];
        List<PlanStay> stays = [];
        List<(Delivery Delivery, LocalDateTime? Asked)> copies = [];
        foreach (CopyWish wish in wishes)
        {
            (Post post, Channel channel) = (plan.Posts[wish.PostId], plan.Channels[wish.ChannelId]);
            string? notThen = null;
            Instant at = plan.Now;
            if (wish.To is { } to)
                notThen = plan.Workspace.WhyNot(to, plan.Now, out at);
            if (post.RemovedAt is not null || post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
                Stay(wish, StayCode.NotReady);
            else if (channel.Connection == ConnectionState.Disconnected)
                Stay(wish, StayCode.Disconnected);
            else if (WordingOf(post, channel, wish.Wording) is not { } wording)
                Stay(wish, StayCode.DoesNotFit, post.FitOn(channel)?.Block?.Words);
            else if (notThen is not null)
                Stay(wish, StayCode.Time, notThen);
            else if (wish.To is null && post.Waits(channel, wording))
                Stay(wish, StayCode.Waits);
            else if (wish.To is null && plan.Others.Any(o => WentJustNow(o, wish)))
                Stay(wish, StayCode.JustNow);
            else if (!taken.Add((post.Id, channel.Id, at)))
                Stay(wish, StayCode.Taken);
            else
            {
                Delivery copy = Delivery.AtExactTime(plan.Workspace, post.Id, channel.Id, at, wording, wish.InsteadOf);
                copy.WaitOrGo(post, channel);
                copies.Add((copy, wish.To));
            }
        }
        Surroundings around = new(plan, [.. plan.Others, .. copies.Select(c => NeighbourOf(plan, c.Delivery))]);
        return new()
        {
            Added =
            [
                .. copies.Select(c => new PlanAddition(
                    c.Delivery,
                    DoubtsOf(plan, c.Delivery, c.Delivery.Time, c.Asked, around, before: null)
                )),
            ],
            Stays = stays,
            Done = copies.Count,
        };

        bool WentJustNow(Neighbour other, CopyWish wish) =>
            other.PostId == wish.PostId
            && other.ChannelId == wish.ChannelId
            && other.At >= plan.Now - PlanDoor.JustNow
            && other.At <= plan.Now;

        void Stay(CopyWish wish, StayCode code, string? detail = null) =>
            stays.Add(new(wish.PostId, wish.ChannelId, wish.From, null, code, Detail: detail));
    }

    /// <summary>The same wording, while that can go.</summary>
    private static int? WordingOf(Post post, Channel channel, int? wording) =>
        post.FitOn(channel) is not { } fit ? null
        : wording is { } same && fit.BlockOf(same) is null ? same
        : fit.FirstWording;

    public static PlanChange Cancel(PlanSnapshot plan, IReadOnlyList<Delivery> deliveries)
    {
        Delivery[] may = [.. deliveries.Where(d => EntryActs.Of(d).Contains(EntryAct.Cancel))];
        return new()
        {
            Cancelled = [.. may.Concat(may.SelectMany(d => plan.Substitutes[(d.Origin, d.ChannelId)])).Distinct()],
            Stays = [.. deliveries.Except(may).Select(d => PlanStay.Of(d, StayCode.State))],
            Done = may.Length,
        };
    }

    public static PlanChange Reschedule(PlanSnapshot plan, Delivery delivery, LocalDateTime to)
    {
        if (!EntryActs.Of(delivery).Contains(EntryAct.Reschedule))
            return Move(plan, [new(delivery, to)]);
        PlanChange anew = Copy(plan, [new(delivery.PostId, delivery.ChannelId, delivery.Wording, delivery.Time.Local, to, delivery.Id)]);
        return anew.Done == 0 ? anew : anew with { DealtWith = [delivery] };
    }
}
