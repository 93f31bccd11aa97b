using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Results;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Outlooks;

/// <summary>How long a category lasts, on all its channels together or on one. A date that is null lies beyond the look-ahead.</summary>
/// <param name="ChannelId">Null: all channels together.</param>
/// <param name="Posts">Posts that can go there at all.</param>
/// <param name="OccurrencesAWeek">On average over the look-ahead.</param>
/// <param name="NewLastUntil">Date of the last sending of a never-sent post, when others follow it.</param>
/// <param name="FirstRepeat">First date on which a post goes out that went out earlier in this look-ahead.</param>
/// <param name="FirstEmpty">First date with an occurrence that has nothing to send.</param>
/// <param name="ShortestGap">Fewest days between two turns of one post on one channel, the past included.</param>
/// <param name="ShareOfRepeats">Of its deliveries, those whose post had a turn on that channel before: 0 to 1.</param>
/// <param name="PostsNeeded">Posts that its gap needs: the most occurrences in any so many consecutive dates; null without a gap.</param>
public sealed record Runway(
    Id<Category> CategoryId,
    Id<Channel>? ChannelId,
    int Posts,
    double OccurrencesAWeek,
    LocalDate? NewLastUntil,
    LocalDate? FirstRepeat,
    LocalDate? FirstEmpty,
    int? ShortestGap,
    double? MedianGap,
    double ShareOfRepeats,
    int Deliveries,
    int Empty,
    int? PostsNeeded
)
{
    /// <summary>Posts still to be written for its gap to hold.</summary>
    public int PostsMissing => Math.Max(0, (PostsNeeded ?? 0) - Posts);
}

/// <summary>Works runways out of a look-ahead.</summary>
public static class Runways
{
    private sealed record Line(LocalDate Date, Id<Channel> Channel, Id<Post>? Post, bool IsRepeat, int? Gap);

    /// <summary>All that goes out on one channel in the look-ahead: how much, which share of it is repeats (null without any), and the
    /// places left empty.</summary>
    public static (int Deliveries, double? ShareOfRepeats, int Empty) On(Id<Channel> channel, IReadOnlyList<Runway> runways)
    {
        List<Runway> there = [.. runways.Where(r => r.ChannelId == channel)];
        int deliveries = there.Sum(r => r.Deliveries);
        return (deliveries, deliveries == 0 ? null : there.Sum(r => r.ShareOfRepeats * r.Deliveries) / deliveries, there.Sum(r => r.Empty));
    }

    /// <summary>Every category with an occurrence in the look-ahead: all channels together, then each channel.</summary>
    /// <param name="places">The look-ahead from <see cref="LineUp.Project"/>.</param>
    /// <param name="days">Its length.</param>
    public static IReadOnlyList<Runway> Of(LineUpInput input, IReadOnlyList<LineUpPlace> places, int days)
    {
        Dictionary<(Id<Post>, Id<Channel>), LocalDate> last = [];
        foreach (OlderTurns older in input.Older.Turns.OrderBy(t => t.LastDate))
            last[(older.PostId, older.ChannelId)] = older.LastDate;
        foreach (LineUpDelivery d in input.Deliveries.Where(d => d.State.IsTurn()).OrderBy(d => d.At))
            last[(d.PostId, d.ChannelId)] = d.LocalDate;
        Dictionary<Id<Post>, LineUpPost> posts = input.Bank.ToDictionary(p => p.Id);
        Dictionary<Id<Category>, List<Line>> lines = input.Categories.ToDictionary(c => c.Id, _ => new List<Line>());
        foreach (LineUpPlace place in places.Where(p => p.State == PlaceState.Open))
        {
            LocalDate date = place.Occurrence.At.InZone(input.Zone).Date;
            foreach (Pick pick in place.Picks)
            {
                if (CategoryOf(place.Occurrence, pick, posts) is not { } category || !lines.TryGetValue(category, out List<Line>? line))
                    continue;
                if (pick.PostId is not { } post)
                {
                    // Only nothing to send is empty; a channel that gives way or is left out is not.
                    if (pick.Reason.Code == ReasonCode.NoCandidate)
                        line.Add(new(date, pick.ChannelId, null, false, null));
                    continue;
                }
                bool isRepeat = last.TryGetValue((post, pick.ChannelId), out LocalDate before) && before < date;
                line.Add(new(date, pick.ChannelId, post, isRepeat, isRepeat ? Period.DaysBetween(before, date) : null));
                last[(post, pick.ChannelId)] = date;
            }
        }
        var able = Able(input);
        Dictionary<Id<Channel>, int> order = input.Channels.Select((c, i) => (c.Id, i)).ToDictionary(c => c.Id, c => c.i);
        return
        [
            .. from category in input.Categories
            let all = lines[category.Id]
            where all.Count > 0
            from channel in all.Select(l => (Id<Channel>?)l.Channel)
                .Distinct()
                .OrderBy(c => order.GetValueOrDefault(c!.Value))
                .Prepend(null)
            select One(able, category, channel, [.. all.Where(l => channel is null || l.Channel == channel)], days),
        ];
    }

    /// <summary>The category that a channel of an occurrence serves.</summary>
    public static Id<Category>? CategoryOf(Occurrence occurrence, Pick pick, IReadOnlyDictionary<Id<Post>, LineUpPost> posts)
    {
        SlotSource source = occurrence.Slot.Source;
        if (pick.CategoryId is { } known)
            return known;
        if (source.IsNone)
            return null;
        if (
            pick.PostId is { } id
            && posts.TryGetValue(id, out LineUpPost? post)
            && source.Categories.FirstOrDefault(post.HasCategory) is { Value: var value } found
            && value != Guid.Empty
        )
            return found;
        return source.From(occurrence.Number).First();
    }

    private static Runway One(
        Dictionary<(Id<Category>, Id<Channel>?), int> able,
        Category category,
        Id<Channel>? channel,
        List<Line> lines,
        int days
    )
    {
        List<Line> deliveries = [.. lines.Where(l => l.Post is not null)];
        List<int> gaps = [.. deliveries.Select(l => l.Gap).OfType<int>().Order()];
        HashSet<(Id<Post>, Id<Channel>)> seen = [];
        LocalDate? firstRepeat = deliveries
            .Where(l => !seen.Add((l.Post!.Value, l.Channel)))
            .Select(l => (LocalDate?)l.Date)
            .FirstOrDefault();
        int lastNew = deliveries.FindLastIndex(l => !l.IsRepeat);
        LocalDate? newLast = lastNew >= 0 && lastNew < deliveries.Count - 1 ? deliveries[lastNew].Date : null;
        // On all channels together an occurrence counts once, however many channels it has.
        List<LocalDate> dates =
        [
            .. channel is null ? lines.GroupBy(l => l.Channel).MaxBy(g => g.Count())!.Select(l => l.Date) : lines.Select(l => l.Date),
        ];
        return new(
            category.Id,
            channel,
            able.GetValueOrDefault((category.Id, channel)),
            dates.Count * 7.0 / days,
            newLast,
            firstRepeat,
            lines.Where(l => l.Post is null).Select(l => (LocalDate?)l.Date).FirstOrDefault(),
            gaps.Count == 0 ? null : gaps[0],
            gaps.Count == 0 ? null : Median.Of([.. gaps.Select(g => (double)g)]),
            deliveries.Count == 0 ? 0 : deliveries.Count(l => l.IsRepeat) / (double)deliveries.Count,
            deliveries.Count,
            lines.Count - deliveries.Count,
            category.GapDays is { } gap ? PostsNeeded(dates, gap) : null
        );
    }

    /// <summary>The most occurrences in any so many consecutive local dates.</summary>
    public static int PostsNeeded(IReadOnlyList<LocalDate> dates, int gapDays)
    {
        int most = 0;
        int first = 0;
        for (int i = 0; i < dates.Count; i++)
        {
            while (Period.DaysBetween(dates[first], dates[i]) >= gapDays)
                first++;
            most = Math.Max(most, i - first + 1);
        }
        return most;
    }

    /// <summary>Posts that can go at all: by category on each channel, and (without a channel) on any.</summary>
    private static Dictionary<(Id<Category>, Id<Channel>?), int> Able(LineUpInput input)
    {
        Dictionary<Id<Category>, Category> categories = input.Categories.ToDictionary(c => c.Id);
        Dictionary<Id<Channel>, Channel> all = input.Channels.ToDictionary(c => c.Id);
        Dictionary<(Id<Category>, Id<Channel>?), int> able = [];
        foreach (LineUpPost post in input.Bank)
        {
            if (
                post.Stage is not (Stage.Ready or Stage.WaitingForApproval)
                || !post.InRotation
                || !categories.TryGetValue(post.CategoryId, out Category? main)
            )
                continue;
            List<Id<Channel>> channels =
            [
                .. post.ChannelsOr(main).Where(c => all.TryGetValue(c, out Channel? channel) && post.FitOn(channel) is { Fits: true }),
            ];
            if (channels.Count == 0)
                continue;
            foreach (Id<Category> category in post.FurtherCategories.Where(f => f != post.CategoryId).Prepend(post.CategoryId))
            {
                Count((category, null));
                foreach (Id<Channel> channel in channels)
                    Count((category, channel));
            }
        }
        return able;

        void Count((Id<Category>, Id<Channel>?) key) => able[key] = able.GetValueOrDefault(key) + 1;
    }
}
