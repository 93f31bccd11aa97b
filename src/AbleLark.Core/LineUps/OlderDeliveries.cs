using System.Runtime.InteropServices;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>Turns of a post on a channel, of one wording and text, that lie back further than deliveries are read one by one.</summary>
/// <param name="TextFingerprint">Of what was sent; null: not known.</param>
/// <param name="LastDate">Local date of the latest.</param>
public sealed record OlderTurns(
    Id<Post> PostId,
    Id<Channel> ChannelId,
    int Wording,
    string? TextFingerprint,
    Instant First,
    Instant Last,
    LocalDate LastDate
);

/// <summary>What came to nothing, that long ago.</summary>
/// <param name="IsOpen">True while any of it is still to be dealt with.</param>
/// <param name="Front">When it last put the post to the front of its line; null: never.</param>
public sealed record OlderFailures(Id<Post> PostId, Id<Channel> ChannelId, bool IsOpen, Instant? Front);

/// <summary>A post that a line gave on a channel from one slot: once, or all the times that long ago.</summary>
/// <param name="SlotId">Whose place it was; null: rescheduled to a time of its own.</param>
/// <param name="Round">The latest in which it was given; see <see cref="Order.Shuffled"/>.</param>
public sealed record Draws(Guid Line, Order Order, Id<Channel> ChannelId, Id<Post> PostId, Id<Slot>? SlotId, int? Round, Instant Last);

/// <summary>
/// Everything that lies back too far to be weighed one by one, summed up. Of turns that have been, only the first and the latest of each
/// post, wording and text can still decide anything, so that years of deliveries cost no more than what they were of.
/// </summary>
public sealed record OlderDeliveries(IReadOnlyList<OlderTurns> Turns, IReadOnlyList<OlderFailures> Failures, IReadOnlyList<Draws> Draws)
{
    /// <summary>Nothing below this many days back is summed up: limits of a day and distances between deliveries look at single
    /// ones.</summary>
    public const int Days = 3;

    public static OlderDeliveries None { get; } = new([], [], []);

    /// <summary>What lies before this instant is summed up, unless it is still to go.</summary>
    /// <param name="from">The first instant that is asked about.</param>
    public static Instant Before(Instant from, IEnumerable<Channel> channels) =>
        from - Duration.FromDays(Days) - channels.Select(c => c.Spacing ?? Duration.Zero).Append(Duration.Zero).Max();

    /// <summary>A delivery whose own place has this date or a later one is read singly however old it is: the place may have been moved
    /// to an earlier day, and is taken whether or not the move stands.</summary>
    public static LocalDate PlacesFrom(Instant before) => before.InUtc().Date.PlusDays(-1);

    /// <summary>Places that a decision has moved from a date before <see cref="PlacesFrom"/> to that date or a later one.</summary>
    public static IReadOnlyList<Origin> MovedOn(IEnumerable<Decision> decisions, Instant before)
    {
        LocalDate from = PlacesFrom(before);
        return [.. decisions.Where(d => d.MovedTo?.Date >= from && d.OriginDate < from).Select(d => d.Origin)];
    }

    /// <summary>Sums of parts of the past, put together: the same as if all of it had been summed up at once.</summary>
    public static OlderDeliveries Together(IReadOnlyList<OlderDeliveries> parts)
    {
        if (parts is [var only])
            return only;
        Dictionary<(Id<Post>, Id<Channel>, int, string?), OlderTurns> turns = [];
        Dictionary<(Id<Post>, Id<Channel>), OlderFailures> failures = [];
        Dictionary<(Guid, Order, Id<Channel>, Id<Post>, Id<Slot>?), Draws> draws = [];
        foreach (OlderDeliveries part in parts)
        {
            foreach (OlderTurns t in part.Turns)
                Add(turns, (t.PostId, t.ChannelId, t.Wording, t.TextFingerprint), t, BothTurns);
            foreach (OlderFailures f in part.Failures)
                Add(failures, (f.PostId, f.ChannelId), f, BothFailures);
            foreach (Draws d in part.Draws)
                Add(draws, (d.Line, d.Order, d.ChannelId, d.PostId, d.SlotId), d, BothDraws);
        }
        return new([.. turns.Values], [.. failures.Values], [.. draws.Values]);

        static void Add<TKey, T>(Dictionary<TKey, T> all, TKey key, T part, Func<T, T, T> both)
            where TKey : notnull
        {
            ref T? place = ref CollectionsMarshal.GetValueRefOrAddDefault(all, key, out bool isThere);
            place = isThere ? both(place!, part) : part;
        }
        static OlderTurns BothTurns(OlderTurns a, OlderTurns b) =>
            a with
            {
                First = Instant.Min(a.First, b.First),
                Last = Instant.Max(a.Last, b.Last),
                LastDate = LocalDate.Max(a.LastDate, b.LastDate),
            };
        static OlderFailures BothFailures(OlderFailures a, OlderFailures b) =>
            a with
            {
                IsOpen = a.IsOpen || b.IsOpen,
                Front = Later(a.Front, b.Front),
            };
        static Draws BothDraws(Draws a, Draws b) => a with { Round = Later(a.Round, b.Round), Last = Instant.Max(a.Last, b.Last) };
        static T? Later<T>(T? a, T? b)
            where T : struct, IComparable<T> => a is { } one && (b is not { } other || one.CompareTo(other) >= 0) ? one : b;
    }

    /// <summary>Parts deliveries into those that are read one by one and the others, summed up.</summary>
    public static (IReadOnlyList<LineUpDelivery> Recent, OlderDeliveries Older) Of(
        IEnumerable<LineUpDelivery> deliveries,
        IEnumerable<Decision> decisions,
        Instant before
    )
    {
        LocalDate from = PlacesFrom(before);
        HashSet<Origin> movedOn = [.. MovedOn(decisions, before)];
        ILookup<bool, LineUpDelivery> parts = deliveries.ToLookup(d =>
            d.At < before
            && d.TurnAt < before
            && !d.State.IsToCome()
            && !(d.Origin.SlotId is not null && (d.Origin.Date >= from || movedOn.Contains(d.Origin)))
        );
        List<LineUpDelivery> older = [.. parts[true]];
        return (
            [.. parts[false]],
            new(
                [
                    .. older
                        .Where(d => d.State.IsTurn())
                        .GroupBy(d => (d.PostId, d.ChannelId, d.Wording, d.TextFingerprint))
                        .Select(g => new OlderTurns(
                            g.Key.PostId,
                            g.Key.ChannelId,
                            g.Key.Wording,
                            g.Key.TextFingerprint,
                            g.Min(d => d.TurnAt),
                            g.Max(d => d.TurnAt),
                            g.Max(d => d.LocalDate)
                        )),
                ],
                [
                    .. older
                        .Where(d => d.State is DeliveryState.Refused or DeliveryState.MayHaveGoneOut or DeliveryState.Missed)
                        .GroupBy(d => (d.PostId, d.ChannelId))
                        .Select(g => new OlderFailures(
                            g.Key.PostId,
                            g.Key.ChannelId,
                            g.Any(d => d.HoldsBack),
                            g.Where(d => d.PutsToFront).Select(d => (Instant?)d.At).Max()
                        )),
                ],
                [
                    .. older
                        .Where(d => d is { DrawnBy: not null, DrawnInOrder: not null } && d.State.IsTurn())
                        .GroupBy(d => (d.DrawnBy, d.DrawnInOrder, d.ChannelId, d.PostId, d.Origin.SlotId))
                        .Select(g => new Draws(
                            g.Key.DrawnBy!.Value,
                            g.Key.DrawnInOrder!.Value,
                            g.Key.ChannelId,
                            g.Key.PostId,
                            g.Key.SlotId,
                            g.Max(d => d.Round),
                            g.Max(d => d.At)
                        )),
                ]
            )
        );
    }
}
