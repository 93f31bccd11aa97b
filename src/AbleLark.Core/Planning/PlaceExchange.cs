using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>Two places, or a place and a scheduled delivery of another, take each other's post; both keep their time.</summary>
internal static class PlaceExchange
{
    private sealed record Side(PlanSide Asked, LineUpPlace? Place)
    {
        public Delivery? Delivery => Asked.Delivery;

        public IEnumerable<Id<Channel>> Channels => Delivery is { } d ? [d.ChannelId] : Place!.Occurrence.Slot.Channels;

        public Id<Post>? PostOn(Id<Channel> channel) =>
            Delivery?.PostId ?? Place!.Picks.FirstOrDefault(p => p.ChannelId == channel)?.PostId;

        public Instant At => Delivery?.At ?? Place!.Occurrence.At;

        public PlanStay Stay(PlanSnapshot plan, StayCode code) =>
            Delivery is { } d ? PlanStay.Of(d, code) : PlanStay.Of(Place!, code, plan.Workspace.Zone);
    }

    public static PlanChange Of(PlanSnapshot plan, PlanAct.Exchange act)
    {
        PlanSide[] asked = [act.One, act.Other];
        IReadOnlyDictionary<Origin, LineUpPlace> places = PlanPlaces.Of(plan, [.. asked.Select(s => s.Place?.Place).OfType<Origin>()]);
        foreach (PlanSide side in asked)
        {
            if (side.Place is { } seen && !places.ContainsKey(seen.Place))
                return PlanDoor.Staying(PlanStay.Gone(seen.Place));
        }
        Side one = new(act.One, act.One.Place is { } first ? places[first.Place] : null);
        Side other = new(act.Other, act.Other.Place is { } second ? places[second.Place] : null);
        Id<Channel>[] channels = [.. act.Channel is { } only ? [only] : one.Channels.Intersect(other.Channels)];
        if ((WhyNot(plan, one, channels) ?? WhyNot(plan, other, channels)) is { } stay)
            return PlanDoor.Staying(stay);
        if (act.Channel is { } on)
        {
            foreach (Side side in new[] { one, other })
            {
                if (side.PostOn(on) is null)
                    return PlanDoor.Staying(side.Stay(plan, StayCode.SendsNothing));
            }
        }
        if (channels.All(c => one.PostOn(c) == other.PostOn(c)))
            return PlanDoor.Staying(one.Stay(plan, StayCode.Same));
        PlanChange change = Give(plan, one, other, channels).And(Give(plan, other, one, channels));
        return change.Stays.Count > 0 ? new() { Stays = change.Stays } : change with { Done = 2 };
    }

    private static PlanStay? WhyNot(PlanSnapshot plan, Side side, Id<Channel>[] channels)
    {
        StayCode? code =
            channels.Length == 0 || channels.Any(c => !side.Channels.Contains(c)) ? StayCode.NotItsChannel
            : side.Place is { } place ? PlanPlaces.WhyNot(place, side.Asked.Place!.Revision)
            : side.Delivery!.OriginKind != OriginKind.Place ? StayCode.ExactTime
            : !EntryActs.Of(side.Delivery).Contains(EntryAct.Move) ? StayCode.State
            : null;
        code ??= side.Asked.Expected is { } expected && channels.Any(c => side.PostOn(c) != expected) ? StayCode.ChangedSince : null;
        return code is { } why ? side.Stay(plan, why) : null;
    }

    /// <summary>What one side takes from the other.</summary>
    private static PlanChange Give(PlanSnapshot plan, Side to, Side giver, Id<Channel>[] channels)
    {
        (Id<Channel> Channel, Id<Post> Post)[] posts =
        [
            .. channels.Where(c => giver.PostOn(c) is not null).Select(c => (c, giver.PostOn(c)!.Value)),
        ];
        if (to.Delivery is { } delivery)
            return plan.Posts.TryGetValue(posts[0].Post, out Post? post)
                ? PlaceActs.Give(plan, delivery, post, ReasonCode.Exchanged)
                : PlanDoor.Staying(giver.Stay(plan, StayCode.ChangedSince));
        LineUpPlace place = to.Place!;
        return new()
        {
            Decided =
            [
                PlaceDecision.Of(place.Occurrence.Origin, place.Occurrence.Decision).Picking(posts) with
                {
                    Remarks = [.. posts.SelectMany(p => Against(plan, place, p.Channel, p.Post))],
                },
            ],
        };
    }

    private static IEnumerable<PlanRemark> Against(PlanSnapshot plan, LineUpPlace place, Id<Channel> channel, Id<Post> id)
    {
        LineUpInput input = plan.LineUp!;
        if (input.Bank.FirstOrDefault(p => p.Id == id) is not { } post)
            yield break;
        LocalDateTime local = place.Occurrence.At.InZone(plan.Workspace.Zone).LocalDateTime;
        if (MoveDoubts.OutsideDates(post.From, post.To, local.Date) is { } outside)
            yield return new(id, channel, local, outside);
        else if (
            LineUp.CandidatesFor(input, plan.Now, place.Occurrence.Origin)?.FirstOrDefault(c => c.Post.Id == id) is { ExcludedBy: { } rule }
        )
            yield return new(id, channel, local, new(DoubtCode.Rule, Rule: rule));
    }
}
