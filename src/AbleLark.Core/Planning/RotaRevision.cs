using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>A slot of a rota as somebody wants it.</summary>
/// <param name="Id">Of the slot that it changes; null: a new one.</param>
public sealed record WantedSlot(Id<Slot>? Id, SlotPlan Plan);

/// <param name="Last">Last date on which it still holds, since so far it is scheduled; null: it ends at once.</param>
public sealed record EndedSlot(Slot Slot, LocalDate? Last);

/// <summary>A decision that the slot's successor takes over.</summary>
/// <param name="To">The successor's place.</param>
public sealed record CarriedDecision(Decision Decision, Origin To);

/// <summary>A decision about a date on which the slot no longer occurs.</summary>
public sealed record OrphanedDecision(Slot Slot, Decision Decision);

/// <summary>A scheduled delivery that stays at its slot's old time unless it is moved too.</summary>
/// <param name="Local">Where it would be, in the workspace's zone.</param>
public sealed record StrandedDelivery(Delivery Delivery, LocalDateTime Local, Instant At);

/// <summary>A post that was given to a place which no longer occurs, kept as an exact time.</summary>
public sealed record KeptPost(Id<Post> PostId, Id<Channel> ChannelId, Instant At, int Wording);

/// <summary>
/// What another layout of a rota does to its slots, to what people decided and to what is scheduled. A slot whose dates change ends after
/// what is scheduled and has a successor, which takes over the decisions about dates that still occur.
/// </summary>
/// <param name="Changed">Slots that stay, as they are wanted.</param>
/// <param name="Added">New ones and successors.</param>
public sealed record RotaRevision(
    IReadOnlyList<(Slot Slot, SlotPlan Plan)> Changed,
    IReadOnlyList<EndedSlot> Ended,
    IReadOnlyList<Slot> Added,
    IReadOnlyList<CarriedDecision> Carried,
    IReadOnlyList<OrphanedDecision> Orphans,
    IReadOnlyList<StrandedDelivery> Stranded
)
{
    /// <summary>What comes of it for decisions and deliveries.</summary>
    /// <param name="movesScheduled">True: what is scheduled moves along with its slots.</param>
    /// <param name="kept">Posts that are kept as exact times.</param>
    public PlanChange ChangeOf(Workspace workspace, bool movesScheduled, IReadOnlyList<KeptPost> kept) =>
        new()
        {
            Moves = movesScheduled
                ? [.. Stranded.Select(s => new PlanMove(s.Delivery, s.Delivery.Time, PlannedTime.Of(s.At, workspace.Zone), false, []))]
                : [],
            Added = [.. kept.Select(k => new PlanAddition(Delivery.AtExactTime(workspace, k.PostId, k.ChannelId, k.At, k.Wording), []))],
            Decided =
            [
                .. Orphans.Select(o => new PlaceDecision(o.Decision.Origin)),
                .. Carried.Select(c => new PlaceDecision(c.Decision.Origin)),
                .. Carried.Select(c => PlaceDecision.Of(c.To, c.Decision)),
            ],
        };

    /// <param name="rota">As it is, with its slots.</param>
    /// <param name="wanted">All its slots: those that are left out end.</param>
    /// <param name="zone">The rota's zone as it is wanted.</param>
    /// <param name="decisions">About its slots, from today on.</param>
    /// <param name="scheduled">Deliveries of its slots, from today on, in any state.</param>
    /// <param name="workspaceZone">Deliveries' local times are in it.</param>
    public static RotaRevision Of(
        Rota rota,
        IReadOnlyList<WantedSlot> wanted,
        DateTimeZone zone,
        IEnumerable<Decision> decisions,
        IEnumerable<Delivery> scheduled,
        DateTimeZone workspaceZone,
        LocalDate today,
        Instant now
    )
    {
        Dictionary<Id<Slot>, SlotPlan> plans = wanted.Where(w => w.Id is not null).ToDictionary(w => w.Id!.Value, w => w.Plan);
        var decided = decisions.ToLookup(d => d.Origin.SlotId);
        var deliveries = scheduled.ToLookup(d => d.Origin.SlotId);
        int position = rota.Slots.Count == 0 ? 0 : rota.Slots.Max(s => s.Position) + 1;
        List<(Slot, SlotPlan)> changed = [];
        List<EndedSlot> ended = [];
        List<Slot> added = [];
        List<CarriedDecision> carried = [];
        List<OrphanedDecision> orphans = [];
        List<StrandedDelivery> stranded = [];
        foreach (Slot slot in PresentSlots(rota, today))
        {
            SlotPlan? plan = plans.GetValueOrDefault(slot.Id);
            if (plan is not null)
                stranded.AddRange(Strand(slot, plan.Time));
            if (plan?.ChangesDates(slot) == false)
            {
                changed.Add((slot, plan));
                continue;
            }
            LocalDate? last = deliveries[slot.Id].Select(d => (LocalDate?)d.OriginDate).Max();
            Slot? successor = plan is null ? null : Successor(slot, plan, last);
            if (successor is not null)
                added.Add(successor);
            ended.Add(new(slot, successor is null ? null : last));
            HashSet<LocalDate> kept = [.. deliveries[slot.Id].Select(d => d.OriginDate)];
            foreach (Decision decision in decided[slot.Id].OrderBy(d => d.OriginDate))
            {
                bool stays = kept.Contains(decision.OriginDate) || (successor is not null && decision.OriginDate <= last);
                if (!stays && successor?.ComesRoundOn(decision.OriginDate) == true)
                    carried.Add(new(decision, Origin.Place(successor.Id, decision.OriginDate)));
                else if (!stays)
                    orphans.Add(new(slot, decision));
            }
        }
        added.AddRange(wanted.Where(w => w.Id is null).Select(w => w.Plan.NewSlot(rota.WorkspaceId, rota.Id, today, position++)));
        return new(changed, ended, added, carried, orphans, stranded);

        Slot Successor(Slot slot, SlotPlan plan, LocalDate? last)
        {
            bool bothByWeeks = plan.Rhythm == Rhythm.Weeks && slot.Rhythm == Rhythm.Weeks;
            Slot successor = (plan with { Anchor = plan.Anchor ?? (bothByWeeks ? slot.Anchor : null) }).NewSlot(
                rota.WorkspaceId,
                rota.Id,
                today,
                position++
            );
            if (last is { } until && !(successor.From > until))
                successor.From = until.PlusDays(1);
            return successor;
        }

        // One that a person moved by itself stays where it was put.
        IEnumerable<StrandedDelivery> Strand(Slot slot, LocalTime time) =>
            from d in deliveries[slot.Id]
            where d.MayMove() && Occurrences.InstantOf(d.OriginDate, slot.Time, rota.Zone) == d.At
            let at = Occurrences.InstantOf(d.OriginDate, time, zone)
            where at > now && at != d.At
            select new StrandedDelivery(d, at.Value.InZone(workspaceZone).LocalDateTime, at.Value);
    }

    /// <summary>Slots that still come round.</summary>
    public static IEnumerable<Slot> PresentSlots(Rota rota, LocalDate today) =>
        rota.Slots.Where(s => s.RemovedAt is null && !(s.To < today));

    /// <summary>Posts given to places that no longer occur, to be kept as exact times, where they were to go and when they still
    /// can.</summary>
    /// <param name="rota">As it was.</param>
    /// <param name="bank">Posts that are there; others are not kept.</param>
    /// <param name="planned">Exact times that posts have already: those are not planned twice.</param>
    public IReadOnlyList<KeptPost> Kept(
        Rota rota,
        IReadOnlyDictionary<Id<Post>, Post> bank,
        IReadOnlyDictionary<Id<Channel>, Channel> channels,
        IEnumerable<(Id<Post>, Id<Channel>, Instant)> planned,
        Instant now
    )
    {
        HashSet<(Id<Post>, Id<Channel>, Instant)> there = [.. planned];
        List<KeptPost> kept = [];
        foreach ((Slot slot, Decision decision) in Orphans)
        {
            LocalDateTime local = decision.MovedTo ?? decision.OriginDate + slot.Time;
            if (Occurrences.InstantOf(local.Date, local.TimeOfDay, rota.Zone) is not { } at || at <= now)
                continue;
            foreach (GivenPost given in decision.Posts)
            {
                if (!bank.TryGetValue(given.PostId, out Post? post) || !there.Add((given.PostId, given.ChannelId, at)))
                    continue;
                // As for any place given by hand: the first wording that can go.
                int? wording = channels.TryGetValue(given.ChannelId, out Channel? channel) ? post.FitOn(channel)?.FirstWording : null;
                kept.Add(new(given.PostId, given.ChannelId, at, wording ?? 0));
            }
        }
        return kept;
    }
}
