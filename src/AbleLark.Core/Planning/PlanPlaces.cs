using AbleLark.Core.LineUps;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>Places as the line-up would fill them now, and why nothing can be decided about them.</summary>
internal static class PlanPlaces
{
    /// <summary>Those that are still to come; the others are left out.</summary>
    public static IReadOnlyDictionary<Origin, LineUpPlace> Of(PlanSnapshot plan, IReadOnlyCollection<Origin> places) =>
        Of(plan.LineUp, plan.Now, places);

    public static IReadOnlyDictionary<Origin, LineUpPlace> Of(LineUpInput? lineUp, Instant now, IReadOnlyCollection<Origin> places)
    {
        LineUpInput input =
            lineUp ?? throw new ArgumentNullException(nameof(lineUp), "An act on places needs what the line-up is worked out from.");
        HashSet<Origin> wanted = [.. places];
        if (wanted.Count == 0)
            return new Dictionary<Origin, LineUpPlace>();
        Dictionary<Origin, Decision> decided = input.Decisions.ToDictionary(d => d.Origin);
        Dictionary<Id<Slot>, (Rota Rota, Slot Slot)> slots = input
            .Rotas.SelectMany(r => r.Slots.Select(s => (r, s)))
            .ToDictionary(x => x.s.Id);
        Instant? last = wanted
            .Select(o =>
                slots.TryGetValue(o.SlotId!.Value, out var of)
                    ? Occurrences.Of(of.Rota, of.Slot, o.Date, decided.GetValueOrDefault(o))
                    : null
            )
            .Max();
        return last is { } until && until >= now
            ? LineUp
                .Project(input, now, until + Duration.FromTicks(1))
                .Where(p => wanted.Contains(p.Occurrence.Origin))
                .ToDictionary(p => p.Occurrence.Origin)
            : new Dictionary<Origin, LineUpPlace>();
    }

    /// <summary>Why nothing can be decided about a place; null: it can.</summary>
    /// <param name="seen">The revision that was looked at.</param>
    public static StayCode? WhyNot(LineUpPlace place, int seen) =>
        place.IsScheduled ? StayCode.Scheduled
        : (place.Occurrence.Decision?.Revision ?? 0) != seen ? StayCode.ChangedSince
        : place.State is PlaceState.Paused or PlaceState.Replaced ? StayCode.PlaceState
        : null;
}
