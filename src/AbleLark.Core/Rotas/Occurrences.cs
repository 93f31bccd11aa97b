using NodaTime;
using NodaTime.TimeZones;

namespace AbleLark.Core.Rotas;

/// <summary>One slot on one local date.</summary>
/// <param name="Number">How many came before it, counted from the slot's anchor.</param>
/// <param name="Decision">What a person decided about it.</param>
/// <param name="ReplacedBy">The rota that replaces its own on that date.</param>
public sealed record Occurrence(
    Origin Origin,
    Instant At,
    Rota Rota,
    Slot Slot,
    int Number = 0,
    Decision? Decision = null,
    Rota? ReplacedBy = null
);

/// <summary>Works out when slots occur.</summary>
public static class Occurrences
{
    /// <summary>All occurrences with <paramref name="from"/> ≤ instant &lt; <paramref name="until"/>, skipped and replaced ones too, in
    /// order of instant, then rank of rota, then place of slot.</summary>
    public static IReadOnlyList<Occurrence> Between(
        IReadOnlyList<Rota> rotas,
        Instant from,
        Instant until,
        IEnumerable<Decision>? decisions = null
    )
    {
        List<Occurrence> found = [];
        if (until <= from)
            return found;
        Dictionary<Origin, Decision> decided = (decisions ?? []).ToDictionary(d => d.Origin);
        ILookup<Id<Slot>, Decision> moves = decided.Values.Where(d => d.MovedTo is not null).ToLookup(d => d.Origin.SlotId!.Value);
        foreach (Rota rota in rotas.Where(r => r.RemovedAt is null))
        {
            Rota[] standIns = [.. rotas.Where(r => r.Replaces == rota.Id && r.RemovedAt is null)];
            LocalDate first = from.InZone(rota.Zone).Date.PlusDays(-1);
            LocalDate last = until.InZone(rota.Zone).Date.PlusDays(1);
            foreach (Slot slot in rota.Slots.Where(s => s.RemovedAt is null))
            {
                foreach (LocalDate date in Dates(rota, slot, first, last))
                {
                    Decision? decision = decided.GetValueOrDefault(Origin.Place(slot.Id, date));
                    if (decision?.MovedTo is null)
                        Add(date, date + slot.Time, decision);
                }
                foreach (
                    Decision move in moves[slot.Id]
                        .Where(m => rota.HoldsOn(m.OriginDate) && IsWithin(slot, m.OriginDate) && slot.ComesRoundOn(m.OriginDate))
                )
                    Add(move.OriginDate, move.MovedTo!.Value, move);

                void Add(LocalDate date, LocalDateTime local, Decision? decision)
                {
                    if (InstantOf(local.Date, local.TimeOfDay, rota.Zone) is not { } at || at < from || at >= until)
                        return;
                    found.Add(
                        new(
                            Origin.Place(slot.Id, date),
                            at,
                            rota,
                            slot,
                            slot.NumberOf(date),
                            decision,
                            standIns.FirstOrDefault(r => r.HoldsOn(date))
                        )
                    );
                }
            }
        }
        found.Sort(InOrder);
        return found;
    }

    /// <summary>The first dates on which a slot comes round, from a date on; fewer than asked where its window or its rota's
    /// ends.</summary>
    public static IReadOnlyList<LocalDate> Next(Rota rota, Slot slot, LocalDate from, int count)
    {
        LocalDate first = Begin(rota, slot, from);
        // In this many days even the longest rhythm comes round often enough, or never.
        LocalDate last = first.PlusDays(Math.Max(slot.Every, 1) * (slot.Rhythm == Rhythm.Days ? 1 : 7) * (count + 1));
        return [.. Dates(rota, slot, first, last).Where(d => !IsLeftOut(d, rota.Zone)).Take(count)];
    }

    /// <summary>When the occurrence with this key is, moved or not; null when the slot doesn't come round on that date any more.</summary>
    public static Instant? Of(Rota rota, Slot slot, LocalDate date, Decision? decision)
    {
        if (!rota.HoldsOn(date) || !IsWithin(slot, date) || !slot.ComesRoundOn(date))
            return null;
        LocalDateTime local = decision?.MovedTo ?? date + slot.Time;
        return InstantOf(local.Date, local.TimeOfDay, rota.Zone);
    }

    /// <summary>
    /// The instant of a local date and time. A time skipped by a clock change is read with the offset before the gap, one
    /// that happens twice is the first (RFC 5545 §3.3.5). Null for a date that the zone left out altogether.
    /// </summary>
    public static Instant? InstantOf(LocalDate date, LocalTime time, DateTimeZone zone)
    {
        if (IsLeftOut(date, zone))
            return null;
        return zone.AtLeniently(date + time).ToInstant();
    }

    private static IEnumerable<LocalDate> Dates(Rota rota, Slot slot, LocalDate first, LocalDate last)
    {
        first = Begin(rota, slot, first);
        foreach (LocalDate? end in new[] { rota.To, slot.To })
            last = end < last ? end.Value : last;
        for (LocalDate date = first; date <= last; date = date.PlusDays(1))
        {
            if (slot.ComesRoundOn(date))
                yield return date;
        }
    }

    /// <summary>A date, or the later one on which slot and rota have both begun.</summary>
    private static LocalDate Begin(Rota rota, Slot slot, LocalDate date)
    {
        foreach (LocalDate? start in new[] { rota.From, slot.From, slot.Anchor })
            date = start > date ? start.Value : date;
        return date;
    }

    private static bool IsWithin(Slot slot, LocalDate date) => !(date < slot.From) && !(date > slot.To);

    private static bool IsLeftOut(LocalDate date, DateTimeZone zone)
    {
        ZoneLocalMapping midnight = zone.MapLocal(date.AtMidnight());
        // A gap that swallows the whole date begins at or before its midnight and ends at or after the next.
        return midnight.Count == 0
            && midnight.LateInterval is { HasStart: true } after
            && after.IsoLocalStart >= date.PlusDays(1).AtMidnight();
    }

    private static int InOrder(Occurrence a, Occurrence b)
    {
        int order = a.At.CompareTo(b.At);
        if (order == 0)
            order = a.Rota.Rank.CompareTo(b.Rota.Rank);
        if (order == 0)
            order = a.Slot.Position.CompareTo(b.Slot.Position);
        return order == 0 ? a.Origin.Date.CompareTo(b.Origin.Date) : order;
    }
}
