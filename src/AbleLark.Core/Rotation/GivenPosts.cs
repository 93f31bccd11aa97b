using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Rotation;

/// <summary>A turn that is planned already: a post a person gave to a place.</summary>
/// <param name="Wording">The wording that goes.</param>
internal readonly record struct GivenTurn(int Channel, int Post, Instant At, int Wording);

/// <summary>Posts that people gave to places: booked, or fixed.</summary>
internal sealed class GivenPosts(LineUpInput input, BankIndex bank, ActivePauses pauses, ILookup<Origin, LineUpDelivery> scheduled)
{
    /// <summary>Posts that people gave to places still to come: they count as planned, however far ahead.</summary>
    public IEnumerable<GivenTurn> TurnsFrom(Instant from)
    {
        Dictionary<Id<Slot>, (Rota Rota, Slot Slot)> slots = input
            .Rotas.Where(r => r.RemovedAt is null)
            .SelectMany(r => r.Slots.Where(s => s.RemovedAt is null).Select(s => (r, s)))
            .ToDictionary(x => x.s.Id);
        foreach (Decision decision in input.Decisions.Where(d => d.Posts.Count > 0 && !d.IsSkipped && !scheduled.Contains(d.Origin)))
        {
            if (
                !slots.TryGetValue(decision.Origin.SlotId!.Value, out var found)
                || Occurrences.Of(found.Rota, found.Slot, decision.OriginDate, decision) is not { } at
                || at < from
            )
                continue;
            LocalDate date = at.InZone(input.Zone).Date;
            bool isReplaced = input.Rotas.Any(r => r.Replaces == found.Rota.Id && r.RemovedAt is null && r.HoldsOn(decision.OriginDate));
            if (isReplaced || pauses.Of(found.Slot, date) is not null)
                continue;
            foreach (GivenPost given in decision.Posts)
            {
                if (
                    bank.ChannelNumber(given.ChannelId) is not { } channel
                    || !found.Slot.Channels.Contains(given.ChannelId)
                    || CantGo(given) is not null
                    || pauses.OfChannel(given.ChannelId, date) is not null
                )
                    continue;
                yield return new(channel, bank.Numbers[given.PostId], at, bank.FitOf(given)?.FirstWording ?? 0);
            }
        }
    }

    public Pick PickFor(GivenPost given, LocalDate date)
    {
        if (CantGo(given) is { } rule)
            return new(given.ChannelId, null, null, new(ReasonCode.GivenCantGo, ExcludedBy: rule)) { IsGiven = true };
        if (pauses.OfChannel(given.ChannelId, date) is { } closed)
            return new(given.ChannelId, null, null, new(closed)) { IsGiven = true };
        int wording = bank.FitOf(given)?.FirstWording ?? 0;
        bool isWaiting = bank.Waits(bank.ChannelNumber(given.ChannelId)!.Value, bank.Numbers[given.PostId], wording);
        return new(given.ChannelId, given.PostId, null, new(given.IsPicked ? ReasonCode.Picked : ReasonCode.Booked))
        {
            IsGiven = true,
            IsWaiting = isWaiting,
            Wording = wording,
        };
    }

    /// <summary>A given post needs only this: it is ready or waits for approval, its channel is chosen, and nothing blocks it
    /// there.</summary>
    public Rule? CantGo(GivenPost given)
    {
        if (!bank.Numbers.TryGetValue(given.PostId, out int number))
            return Rule.Stage;
        LineUpPost post = bank.Posts[number];
        if (post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
            return Rule.Stage;
        IReadOnlyList<Id<Channel>> chosen = bank.HasCategory(post.CategoryId)
            ? post.ChannelsOr(bank.Category(post.CategoryId))
            : post.Channels ?? [];
        if (!chosen.Contains(given.ChannelId))
            return Rule.ChannelChosen;
        return bank.FitOf(given) is { Fits: true } ? null : Rule.Fit;
    }
}
