using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Outlooks;

/// <summary>What a category does over a look-ahead.</summary>
/// <param name="Share">Of all deliveries, 0 to 1.</param>
/// <param name="AWeek">Deliveries in each of the weeks, the first beginning today.</param>
/// <param name="AlwaysAt">The local hour at which all its places are, when it has at least four; null: at several.</param>
public sealed record CategoryOutlook(
    Id<Category> CategoryId,
    int Deliveries,
    double Share,
    double? TargetShare,
    IReadOnlyList<int> AWeek,
    int? AlwaysAt,
    Runway? Runway
);

/// <param name="AWeek">Deliveries in each of the weeks.</param>
/// <param name="ShareOfRepeats">Of its deliveries, 0 to 1; null without any.</param>
/// <param name="Empty">Places with nothing to send there.</param>
public sealed record ChannelOutlook(Id<Channel> ChannelId, IReadOnlyList<int> AWeek, double? ShareOfRepeats, int Empty);

/// <summary>What a state of rota, settings and bank leads to.</summary>
public sealed record Outlook(
    IReadOnlyList<CategoryOutlook> Categories,
    IReadOnlyList<ChannelOutlook> Channels,
    IReadOnlyList<Runway> Runways,
    IReadOnlyList<Clash> Clashes,
    int Empty
);

/// <summary>Sums a look-ahead up.</summary>
public static class OutlookSums
{
    private const int FewestForAnHour = 4;

    public static Outlook Of(LineUpInput input, IReadOnlyList<LineUpPlace> places, Instant from, int days)
    {
        Dictionary<Id<Post>, LineUpPost> posts = input.Bank.ToDictionary(p => p.Id);
        Instant until = from + Duration.FromDays(days);
        LocalDate today = from.InZone(input.Zone).Date;
        List<Going> byRota =
        [
            .. from place in places
            from pick in place.Picks
            let post = pick.PostId
            where post is not null && pick.Scheduled?.State != DeliveryState.Cancelled
            select new Going(
                place.Occurrence.At,
                place.Occurrence.At.InZone(input.Zone).LocalDateTime,
                pick.ChannelId,
                post.Value,
                Runways.CategoryOf(place.Occurrence, pick, posts),
                place.Occurrence.Slot.Id
            ),
        ];
        List<Going> all =
        [
            .. byRota,
            .. input
                .Deliveries.Where(d =>
                    d.Origin.Kind == OriginKind.ExactTime && d.State == DeliveryState.Planned && d.At >= from && d.At < until
                )
                .Select(d => new Going(
                    d.At,
                    d.At.InZone(input.Zone).LocalDateTime,
                    d.ChannelId,
                    d.PostId,
                    posts.GetValueOrDefault(d.PostId)?.CategoryId,
                    null
                )),
        ];
        IReadOnlyList<Runway> runways = Runways.Of(input, places, days);
        int[] Weeks(IEnumerable<Going> some)
        {
            int[] weeks = new int[(days + 6) / 7];
            foreach (Going g in some)
                weeks[Math.Clamp(Period.DaysBetween(today, g.Local.Date) / 7, 0, weeks.Length - 1)]++;
            return weeks;
        }
        ILookup<Id<Category>?, Going> byCategory = all.ToLookup(g => g.Category);
        ILookup<Id<Category>?, int> hours = byRota.ToLookup(g => g.Category, g => g.Local.Hour);
        return new(
            [
                .. input.Categories.Select(c => new CategoryOutlook(
                    c.Id,
                    byCategory[c.Id].Count(),
                    all.Count == 0 ? 0 : byCategory[c.Id].Count() / (double)all.Count,
                    c.TargetShare,
                    Weeks(byCategory[c.Id]),
                    hours[c.Id].Count() >= FewestForAnHour && hours[c.Id].Distinct().Count() == 1 ? hours[c.Id].First() : null,
                    runways.FirstOrDefault(r => r.CategoryId == c.Id && r.ChannelId is null)
                )),
            ],
            [
                .. from channel in input.Channels
                let there = Runways.On(channel.Id, runways)
                select new ChannelOutlook(channel.Id, Weeks(all.Where(g => g.Channel == channel.Id)), there.ShareOfRepeats, there.Empty),
            ],
            runways,
            Clashes.Among(input, all),
            runways.Where(r => r.ChannelId is null).Sum(r => r.Empty)
        );
    }
}
