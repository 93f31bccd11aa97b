using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>The one place that says what an act makes of deliveries and places: whoever shows it asks here, and so does who does
/// it.</summary>
public static class PlanDoor
{
    /// <summary>How far around a time others are minded.</summary>
    public static readonly Duration Around = Duration.FromDays(2);

    /// <summary>For so long after a post went out, it doesn't go out there once more at once: whoever presses twice sends it
    /// once.</summary>
    public static readonly Duration JustNow = Duration.FromMinutes(10);

    public static PlanChange Of(PlanSnapshot plan, PlanAct act) =>
        act switch
        {
            PlanAct.Move move => DeliveryActs.Move(plan, move.Wishes),
            PlanAct.Shift shift => DeliveryActs
                .Move(plan, [.. shift.Deliveries.Select(d => new MoveWish(d, shift.By.From(d.Time.Local)))])
                .And(PlaceActs.Shift(plan, shift.Places, shift.By)),
            PlanAct.Exchange { One.Delivery: { } one, Other.Delivery: { } other } exchange => DeliveryActs.Exchange(
                plan,
                one,
                other,
                exchange
            ),
            PlanAct.Exchange exchange => PlaceExchange.Of(plan, exchange),
            PlanAct.Copy copy => DeliveryActs.Copy(plan, copy.Wishes),
            PlanAct.CopyBy copy => PlaceActs.Copy(plan, copy),
            PlanAct.Cancel cancel => DeliveryActs.Cancel(plan, cancel.Deliveries).And(PlaceActs.Skip(plan, cancel.Places)),
            PlanAct.Withdraw withdraw => Withdrawn(withdraw.Deliveries),
            PlanAct.Reschedule again => DeliveryActs.Reschedule(plan, again.Delivery, again.To),
            PlanAct.Dismiss { Delivery: var d } => If(d, EntryAct.Dismiss, () => new() { DealtWith = [d], Done = 1 }),
            PlanAct.Decide decide => PlaceActs.Decide(plan, decide.Wishes),
            PlanAct.Take take => PlaceActs.Take(plan, take.Delivery, plan.Posts[take.PostId]),
            PlanAct.Book book => PlaceActs.Book(plan, book),
            PlanAct.MoveInLines line => new()
            {
                InLines = [.. line.Channels.Select(c => new PlanLineMove(line.PostId, c, line.Side))],
                Done = line.Channels.Count,
            },
            PlanAct.LookAgain { Delivery: var d } => If(d, EntryAct.SayWhatWasFound, () => After(plan, d, AfterSending.LooksAgain)),
            PlanAct.SendAgain again => If(
                again.Delivery,
                EntryAct.SayWhatWasFound,
                () => SentAgain(plan, again.Delivery, again.HonoursKeys)
            ),
            PlanAct.TakeDown { Delivery: var d } => If(d, EntryAct.TakeDown, () => After(plan, d, AfterSending.IsTakenDown)),
            PlanAct.SendCorrected again => SentCorrected(plan, again),
            var other => throw new ArgumentOutOfRangeException(nameof(act), other, "An act that nobody wrote."),
        };

    /// <summary>Of what is no longer wanted, as much as can be kept back.</summary>
    public static PlanChange Withdrawn(IReadOnlyList<Delivery> deliveries)
    {
        Delivery[] may = [.. deliveries.Where(d => d.State.MayBecome(DeliveryState.Cancelled))];
        return new()
        {
            Cancelled = may,
            Stays = [.. deliveries.Except(may).Select(d => PlanStay.Of(d, StayCode.State))],
            Done = may.Length,
        };
    }

    /// <summary>Posts that go out there: of deliveries, and of places that are as they were seen.</summary>
    /// <returns>What of the places isn't as it was seen stays out.</returns>
    public static (IReadOnlyList<Id<Post>> Posts, IReadOnlyList<PlanStay> Stays) PostsOf(
        LineUpInput input,
        Workspace workspace,
        Instant now,
        IEnumerable<Delivery> deliveries,
        IReadOnlyList<SeenPlace> places
    )
    {
        (List<LineUpPlace> seen, List<PlanStay> stays) = PlaceActs.Seen(input, workspace.Zone, now, places, decides: false);
        IEnumerable<Id<Post>> projected = seen.SelectMany(p => p.Picks).Select(p => p.PostId).OfType<Id<Post>>();
        return ([.. deliveries.Select(d => d.PostId).Concat(projected).Distinct()], stays);
    }

    internal static PlanChange Staying(PlanStay stay) => new() { Stays = [stay] };

    private static PlanChange If(Delivery delivery, EntryAct may, Func<PlanChange> what) =>
        EntryActs.Of(delivery).Contains(may) ? what() : Staying(PlanStay.Of(delivery, StayCode.State));

    private static PlanChange After(PlanSnapshot plan, Delivery delivery, AfterSending becomes) =>
        new() { After = [(delivery, becomes, PlannedTime.Of(plan.Now, plan.Workspace.Zone))], Done = 1 };

    /// <summary>It isn't there: so it goes out now, as the same delivery where its network takes that once only.</summary>
    private static PlanChange SentAgain(PlanSnapshot plan, Delivery old, bool honoursKeys)
    {
        if (plan.Posts[old.PostId].Stage != Stage.Ready)
            return Staying(PlanStay.Of(old, StayCode.NotReady));
        if (honoursKeys)
            return After(plan, old, AfterSending.GoesAgain);
        Delivery fresh = Delivery.AtExactTime(plan.Workspace, old.PostId, old.ChannelId, plan.Now, old.Wording, old.Id);
        return After(plan, old, AfterSending.IsNotThere) with { Added = [new(fresh, [])] };
    }

    private static PlanChange SentCorrected(PlanSnapshot plan, PlanAct.SendCorrected act)
    {
        Delivery old = act.Delivery;
        StayCode? code =
            !EntryActs.Of(old).Contains(EntryAct.SendCorrected) ? StayCode.StillOut
            : plan.Replaced.Contains(old.Id) ? StayCode.Replaced
            : act.Latest == old.Version ? StayCode.SaysTheSame
            : null;
        if (code is { } why)
            return Staying(PlanStay.Of(old, why));
        PlanChange again = DeliveryActs.Copy(plan, [new(old.PostId, old.ChannelId, old.Wording, old.Time.Local, act.To, old.Id)]);
        foreach (PlanAddition added in again.Added)
            added.Delivery.Why = new(ReasonCode.Corrected);
        return again;
    }
}
