using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Imports;
using AbleLark.Core.LineUps;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Posts;
using AbleLark.Core.Results;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.Hours;
using AbleLark.Server.LineUps;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <summary>Reads what the rows of a sheet are held against.</summary>
public sealed class ImportContexts(LarkDb db, NetworkBook networks, BusinessClock clock, LineUpCache lineUps, GoodHours good)
{
    public async Task<ImportContext> ReadAsync(Id<Workspace> workspaceId, CancellationToken cancellation)
    {
        (Workspace workspace, SharedLineUp lineUp) = await lineUps.GetAsync(workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        List<Category> categories = await db
            .Categories.AsNoTracking()
            .Where(c => c.WorkspaceId == workspaceId)
            .OrderBy(c => c.Position)
            .ToListAsync(cancellation);
        if (categories.Count == 0)
            throw ProblemException.BadInput("There are no categories yet, and every row needs one. Make them in Set-up first.");
        List<Channel> channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == workspaceId)
            .OrderBy(c => c.Position)
            .ToListAsync(cancellation);
        Dictionary<string, MediaFile> files = new(StringComparer.OrdinalIgnoreCase);
        List<MediaFile> kept = await db
            .Media.AsNoTracking()
            .Where(m => m.WorkspaceId == workspaceId && m.RemovedAt == null)
            .OrderBy(m => m.AddedAt)
            .ToListAsync(cancellation);
        foreach (MediaFile file in kept)
            files[file.FileName] = file;
        Dictionary<Id<MediaFile>, MediaFile> byId = kept.ToDictionary(f => f.Id);
        return new(categories, channels, networks, files, workspace.Zone, now.InZone(workspace.Zone).LocalDateTime)
        {
            Sources = new(byId.GetValueOrDefault)
            {
                Contacts = await db.Contacts.AsNoTracking().Where(c => c.WorkspaceId == workspaceId).ToListAsync(cancellation),
                ButtonVerbs = workspace.ButtonVerbs,
            },
            Groups = await db.ChannelGroups.AsNoTracking().Where(g => g.WorkspaceId == workspaceId).ToListAsync(cancellation),
            TimeFor = await TimesAsync(workspace, lineUp.Input, channels, now, cancellation),
            Going = await GoingAsync(workspaceId, now, cancellation),
            Known = await KnownAsync(workspaceId, cancellation),
        };
    }

    private async Task<Dictionary<Id<Channel>, IReadOnlyList<Instant>>> GoingAsync(
        Id<Workspace> workspace,
        Instant now,
        CancellationToken cancellation
    )
    {
        var going = await db
            .Deliveries.Where(d =>
                d.WorkspaceId == workspace
                && d.At > now - Duration.FromDays(1)
                && d.State != DeliveryState.Cancelled
                && d.State != DeliveryState.Missed
                && d.State != DeliveryState.Refused
            )
            .Select(d => new { d.ChannelId, d.At })
            .ToListAsync(cancellation);
        return going.GroupBy(d => d.ChannelId).ToDictionary(g => g.Key, IReadOnlyList<Instant> (g) => [.. g.Select(d => d.At)]);
    }

    /// <summary>The bank in short; what posts say is read one after the other and not kept.</summary>
    private async Task<KnownPosts> KnownAsync(Id<Workspace> workspace, CancellationToken cancellation)
    {
        List<KnownPost> known = [];
        await foreach (
            var post in db
                .Posts.AsNoTracking()
                .Where(p => p.WorkspaceId == workspace && p.RemovedAt == null)
                .OrderBy(p => p.Id)
                .Select(p => new
                {
                    p.Id,
                    p.Title,
                    p.OutsideId,
                    p.Content,
                })
                .AsAsyncEnumerable()
                .WithCancellation(cancellation)
        )
            known.Add(
                new(
                    post.Id,
                    post.Title,
                    post.OutsideId,
                    [
                        Doubles.KeyOf(post.Content),
                        .. post.Content.Wordings.Select(w => Doubles.KeyOf(new PostContent(w.Common, w.Networks, w.Channels))),
                    ],
                    TextSketch.Of(
                        post.Content.Common.Get(ContentFields.Text)
                            ?? post.Content.AllLayers().Select(l => l.Get(ContentFields.Text)).FirstOrDefault(t => t is not null)
                            ?? ""
                    )
                )
            );
        return new(known);
    }

    /// <summary>That day's place of a category; else the hour in which its channels do best.</summary>
    private async Task<Func<LocalDate, Category, IReadOnlyList<Channel>, OfferedTime?>> TimesAsync(
        Workspace workspace,
        LineUpInput input,
        List<Channel> channels,
        Instant now,
        CancellationToken cancellation
    )
    {
        var online = (
            await db.ChannelAudiences.AsNoTracking().Where(a => a.WorkspaceId == workspace.Id).ToListAsync(cancellation)
        ).ToDictionary(a => a.ChannelId, a => a.Online);
        IReadOnlyList<HourResult> all = (await good.OfAsync(workspace, cancellation)).Results;
        Dictionary<LocalDate, IReadOnlyList<Occurrence>> places = [];
        Dictionary<string, IReadOnlyList<WeekHour>> hours = [];
        Lock shared = new();
        return (date, category, to) =>
        {
            lock (shared)
            {
                if (!DateBounds.Contains(date, workspace.DateOf(now)))
                    return null;
                if (!places.TryGetValue(date, out IReadOnlyList<Occurrence>? day))
                    places[date] = day = Occurrences.Between(
                        input.Rotas,
                        workspace.StartOf(date),
                        workspace.StartOf(date.PlusDays(1)),
                        input.Decisions
                    );
                if (day.FirstOrDefault(o => IsPlaceOf(o, category, to)) is { } place)
                    return new(place.At.InZone(workspace.Zone).TimeOfDay, Place: true);
                string key = string.Join(' ', to.Select(c => c.Id));
                if (!hours.TryGetValue(key, out IReadOnlyList<WeekHour>? week))
                    hours[key] = week = WeekHours.Of(
                        [.. to.Select(c => online.GetValueOrDefault(c.Id)).OfType<List<double>>().Where(o => o.Count > 0)],
                        all.Where(r => to.Any(c => c.Id == r.ChannelId)),
                        workspace.Zone,
                        now
                    );
                WeekHour? best = week.Where(h => h.Day == date.DayOfWeek && (h.HasEnough || h.Online is not null)).MaxBy(h => h.Worth);
                return best is null ? null : new(new LocalTime(best.Hour, 0), Place: false);
            }
        };
    }

    private static bool IsPlaceOf(Occurrence place, Category category, IReadOnlyList<Channel> to) =>
        place.ReplacedBy is null
        && place.Decision is not { IsSkipped: true }
        && place.Slot.Source.Takes(c => c == category.Id)
        && to.Any(c => place.Slot.Channels.Contains(c.Id));
}
