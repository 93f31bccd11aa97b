using AbleLark.Core.LineUps;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Outlooks;

/// <summary>One line-up for all who look at it: worked out once, as far as anybody asked, and again only when one of its places has
/// passed. Safe to ask from several threads.</summary>
public sealed class SharedLineUp(LineUpInput input)
{
    /// <summary>So far at least: what shows the coming weeks side by side asks for them one after the other.</summary>
    private static readonly Duration Least = Duration.FromDays(7 * 6);

    private readonly Lock _lock = new();
    private readonly Dictionary<int, (Span Span, LookAhead LookAhead)> _looks = [];
    private Known? _known;

    /// <summary>What a look-ahead is made of: while this is the same, so is the look-ahead, though the clock goes on.</summary>
    private readonly record struct Span(LocalDate Today, int Places, Instant? First, Instant? Last, int Exact, Instant? FirstExact);

    private sealed record Known(Instant From, Instant Until, IReadOnlyList<LineUpPlace> Places)
    {
        public bool Holds(Instant from, Instant until) =>
            From <= from && until <= Until && (Places.Count == 0 || Places[0].Occurrence.At >= from);
    }

    public LineUpInput Input => input;

    /// <summary>As <see cref="LineUp.Project"/> does.</summary>
    /// <param name="from">The present, or what was the present when it was read.</param>
    public IReadOnlyList<LineUpPlace> Project(Instant from, Instant until)
    {
        if (until <= from)
            return [];
        lock (_lock)
        {
            if (_known?.Holds(from, until) != true)
            {
                Instant end = Instant.Max(until, from + Least);
                _known = new(from, end, LineUp.Project(input, from, end));
            }
            return [.. _known!.Places.TakeWhile(p => p.Occurrence.At < until)];
        }
    }

    /// <summary>What goes out in so many days, summed up.</summary>
    public LookAhead Look(Instant from, int days)
    {
        Instant until = LookAhead.End(from, days);
        IReadOnlyList<LineUpPlace> places = Project(from, until);
        List<Instant> exact =
        [
            .. input.Deliveries.Where(d => d.Origin.SlotId is null && d.At >= from && d.At < until).Select(d => d.At).Order(),
        ];
        Span span = new(
            from.InZone(input.Zone).Date,
            places.Count,
            places.Count == 0 ? null : places[0].Occurrence.At,
            places.Count == 0 ? null : places[^1].Occurrence.At,
            exact.Count,
            exact.Count == 0 ? null : exact[0]
        );
        lock (_lock)
        {
            if (!_looks.TryGetValue(days, out var known) || known.Span != span)
                _looks[days] = known = (span, LookAhead.Of(input, places, from, days));
            return known.LookAhead;
        }
    }
}
