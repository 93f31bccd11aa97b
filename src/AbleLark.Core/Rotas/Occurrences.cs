using NodaTime;
using NodaTime.TimeZones;

namespace AbleLark.Core.Rotas;

/// <summary>Identity of an occurrence: decisions about it stick to this, whatever becomes of the slot's time.</summary>
/// <param name="Date">Local date in the rota's zone.</param>
public readonly record struct OccurrenceKey(Id<Slot> SlotId, LocalDate Date);

/// <summary>One slot on one local date.</summary>
public sealed record Occurrence(OccurrenceKey Key, Instant At, Rota Rota, Slot Slot);

/// <summary>Works out when slots occur.</summary>
public static class Occurrences
{
    /// <summary>
    /// All occurrences with <paramref name="from"/> ≤ instant &lt; <paramref name="until"/>, in order of instant, then
    /// rank of rota, then place of slot.
    /// </summary>
    public static IReadOnlyList<Occurrence> Between(IEnumerable<Rota> rotas, Instant from, Instant until)
    {
        List<Occurrence> found = [];
        if (until <= from) return found;
        foreach (Rota rota in rotas)
        {
            LocalDate first = from.InZone(rota.Zone).Date.PlusDays(-1);
            LocalDate last = until.InZone(rota.Zone).Date.PlusDays(1);
            if (rota.From > first) first = rota.From.Value;
            if (rota.To < last) last = rota.To.Value;
            foreach (Slot slot in rota.Slots.Where(s => s.RemovedAt is null))
            {
                for (LocalDate date = first; date <= last; date = date.PlusDays(1))
                {
                    if (!slot.Days.Contains(date.DayOfWeek) || InstantOf(date, slot.Time, rota.Zone) is not { } at) continue;
                    if (at >= from && at < until) found.Add(new(new(slot.Id, date), at, rota, slot));
                }
            }
        }
        found.Sort(InOrder);
        return found;
    }

    /// <summary>
    /// The instant of a local date and time. A time skipped by a clock change is read with the offset before the gap, one
    /// that happens twice is the first (RFC 5545 §3.3.5). Null for a date that the zone left out altogether.
    /// </summary>
    public static Instant? InstantOf(LocalDate date, LocalTime time, DateTimeZone zone)
    {
        if (IsLeftOut(date, zone)) return null;
        return zone.AtLeniently(date + time).ToInstant();
    }

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
        if (order == 0) order = a.Rota.Rank.CompareTo(b.Rota.Rank);
        return order == 0 ? a.Slot.Place.CompareTo(b.Slot.Place) : order;
    }
}
