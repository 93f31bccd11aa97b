using AbleLark.Core.Bookings;
using AbleLark.Core.Categories;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Outlooks;

/// <summary>Where a post goes out first, as things stand: at a place, or as what is scheduled already; neither: not within the weeks looked
/// at.</summary>
/// <param name="Place">A place of the rota that gives it.</param>
/// <param name="Planned">What is scheduled of it, where no place comes before.</param>
/// <param name="Sooner">A scheduled place of another post that comes before it, and may be taken.</param>
public sealed record FirstPlace((Instant At, Pick Pick)? Place, LineUpDelivery? Planned, LineUpDelivery? Sooner);

/// <summary>What comes next, asked of a line-up.</summary>
public static class NextOut
{
    /// <summary>How far is looked for a post's first place.</summary>
    public const int Weeks = 26;

    private const int OrderDays = 28;

    /// <summary>The posts that a category would send next by an order, at most so many within four weeks.</summary>
    public static IEnumerable<Id<Post>> By(Order order, Category category, LineUpInput input, Instant now, int most)
    {
        Category tried = category.CopyWith(c => c.Order = c.Order with { Order = order });
        LineUpInput by = input with { Categories = [.. input.Categories.Select(c => c.Id == category.Id ? tried : c)] };
        return LineUp
            .Project(by, now, now + Duration.FromDays(OrderDays))
            .Where(p => !p.IsScheduled && p.Occurrence.Slot.Source.Categories.Contains(category.Id))
            .Select(p => p.Picks.FirstOrDefault(k => k.PostId is not null && (k.CategoryId ?? category.Id) == category.Id)?.PostId)
            .OfType<Id<Post>>()
            .Take(most);
    }

    /// <summary>Where a post would go out first, of its own times and the rota's places.</summary>
    public static FirstPlace Of(Id<Post> id, SharedLineUp lineUp, Instant now)
    {
        LineUpInput input = lineUp.Input;
        LineUpDelivery? planned = input
            .Deliveries.Where(d => d.PostId == id && d.At >= now && (d.State is DeliveryState.Planned or DeliveryState.WaitingForApproval))
            .MinBy(d => d.At);
        (Instant At, Pick Pick)? place = lineUp
            .Project(now, planned?.At ?? now + Duration.FromDays(7 * Weeks))
            .SelectMany(p => p.Picks.Where(k => k.PostId == id).Select(k => ((Instant, Pick)?)(p.Occurrence.At, k)))
            .FirstOrDefault();
        return new(place, place is null ? planned : null, Sooner(place?.At ?? planned?.At ?? Instant.MaxValue));

        LineUpDelivery? Sooner(Instant before)
        {
            if (input.Bank.FirstOrDefault(p => p.Id == id) is not { } post)
                return null;
            Booking booking = new(input, now);
            return booking.ChannelsOf(post).Select(c => booking.SoonerScheduled(post, c, before)).OfType<LineUpDelivery>().MinBy(d => d.At);
        }
    }
}
