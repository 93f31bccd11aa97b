using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Outlooks;

public enum ClashKind
{
    /// <summary>Two deliveries on a channel closer than its spacing.</summary>
    TooClose,

    /// <summary>More on a day than the channel's limit.</summary>
    TooMany,

    /// <summary>The same post on several channels of one network within the hour.</summary>
    SameTextWithinTheHour,
}

/// <summary>A change of one slot that ends a clash.</summary>
/// <param name="Time">The slot's new time; null: it keeps its own.</param>
/// <param name="Without">A channel that the slot leaves out; null: none.</param>
public sealed record ClashMend(Id<Slot> SlotId, LocalTime? Time, Id<Channel>? Without);

/// <summary>Deliveries that are in each other's way, again and again for the same reason.</summary>
/// <param name="With">The channel with which it shares a post; null: the clash is on one channel.</param>
/// <param name="SlotId">Whose place comes second; null: an exact time.</param>
/// <param name="OtherSlotId">Whose place comes first; null: an exact time, or a day that is too full.</param>
/// <param name="First">When it first happens.</param>
/// <param name="Mend">Null: no change of a single slot ends it.</param>
public sealed record Clash(
    ClashKind Kind,
    Id<Channel> ChannelId,
    Id<Channel>? With,
    Id<Slot>? SlotId,
    Id<Slot>? OtherSlotId,
    int Times,
    Instant First,
    ClashMend? Mend
);

/// <summary>What goes out, or would, in a look-ahead.</summary>
/// <param name="Slot">Null: an exact time.</param>
internal sealed record Going(Instant At, LocalDateTime Local, Id<Channel> Channel, Id<Post> Post, Id<Category>? Category, Id<Slot>? Slot);

internal static class Clashes
{
    private static readonly Duration SameHour = Duration.FromHours(1);

    /// <summary>Minutes that keep two posts of one text well out of the same hour.</summary>
    private const int Apart = 65;

    private sealed record Pair(ClashKind Kind, Going First, Going Second);

    public static IReadOnlyList<Clash> Among(LineUpInput input, IReadOnlyList<Going> all)
    {
        Dictionary<Id<Slot>, (Rota Rota, Slot Slot)> slots = input
            .Rotas.SelectMany(r => r.Slots.Select(s => (Rota: r, Slot: s)))
            .ToDictionary(x => x.Slot.Id);
        Dictionary<Id<Channel>, Channel> channels = input.Channels.ToDictionary(c => c.Id);
        return
        [
            .. Pairs(input, all)
                .GroupBy(p =>
                    (
                        p.Kind,
                        Channel: p.Second.Channel,
                        With: p.First.Channel,
                        Slot: p.Second.Slot,
                        Other: p.Kind == ClashKind.TooMany ? null : p.First.Slot
                    )
                )
                .Select(g => new Clash(
                    g.Key.Kind,
                    g.Key.Channel,
                    g.Key.With == g.Key.Channel ? null : g.Key.With,
                    g.Key.Slot,
                    g.Key.Other,
                    g.Count(),
                    g.Min(p => p.Second.At),
                    Mend(g.Key.Kind, channels[g.Key.Channel], g.Key.Slot, g.Key.Other)
                ))
                .OrderByDescending(c => c.Times)
                .ThenBy(c => c.First),
        ];

        ClashMend? Mend(ClashKind kind, Channel channel, Id<Slot>? second, Id<Slot>? first)
        {
            if (second is not { } id || !slots.TryGetValue(id, out var slot))
                return null;
            int? apart = kind switch
            {
                ClashKind.TooClose when channel.Spacing is { } spacing => (int)Math.Ceiling(spacing.TotalMinutes),
                ClashKind.SameTextWithinTheHour => Apart,
                _ => null,
            };
            // The later of two slots moves on, where the day has room for that.
            if (
                apart is { } minutes
                && first is { } earlier
                && earlier != id
                && slots.TryGetValue(earlier, out var other)
                && other.Rota.Zone.Equals(slot.Rota.Zone)
                && other.Slot.Time.TickOfDay / NodaConstants.TicksPerMinute + minutes is var moved
                && moved < 24 * 60
            )
                return new(id, new LocalTime((int)(moved / 60), (int)(moved % 60)), null);
            return slot.Slot.Channels.Count > 1 ? new(id, null, channel.Id) : null;
        }
    }

    private static IEnumerable<Pair> Pairs(LineUpInput input, IReadOnlyList<Going> all)
    {
        foreach (Channel channel in input.Channels)
        {
            List<Going> on = [.. all.Where(g => g.Channel == channel.Id).OrderBy(g => g.At)];
            if (channel.Spacing is { } spacing)
                foreach ((Going first, Going second) in on.Zip(on.Skip(1)).Where(p => p.Second.At - p.First.At < spacing))
                    yield return new(ClashKind.TooClose, first, second);
            if (channel.DailyLimit is not { } limit)
                continue;
            foreach (var day in on.GroupBy(g => g.At.InZone(channel.Zone ?? input.Zone).Date).Where(g => g.Count() > limit))
                yield return new(ClashKind.TooMany, day.Last(), day.Last());
        }
        Dictionary<Id<Channel>, string> networks = input.Channels.ToDictionary(c => c.Id, c => c.Network);
        foreach (var same in all.Where(g => networks.ContainsKey(g.Channel)).GroupBy(g => (g.Post, networks[g.Channel])))
        {
            List<Going> times = [.. same.OrderBy(g => g.At)];
            foreach ((Going first, Going second) in times.Zip(times.Skip(1)))
            {
                if (first.Channel != second.Channel && second.At - first.At <= SameHour)
                    yield return new(ClashKind.SameTextWithinTheHour, first, second);
            }
        }
    }
}
