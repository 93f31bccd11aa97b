using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Checks;
using AbleLark.Server.Deliveries;
using AbleLark.Server.KeyDates;
using AbleLark.Server.LineUps;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Sessions;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Overview;

/// <summary>How one of a person's workspaces stands.</summary>
/// <param name="Failed">What failed, or may have gone out, and waits for a person.</param>
/// <param name="Yours">What a person has to post.</param>
/// <param name="Waiting">Posts that wait for approval.</param>
/// <param name="RunningShort">Channels and categories that run dry or repeat themselves within three weeks.</param>
/// <param name="LineUp">From the first date asked for to the last, each of the workspace's own zone.</param>
/// <param name="KeyDates">Of the same dates.</param>
/// <param name="Trouble">Why nothing of it can be shown; null: it can.</param>
public sealed record WorkspaceOverview(
    Id<Workspace> WorkspaceId,
    int Failed,
    int Yours,
    int Waiting,
    int RunningShort,
    LineUpView LineUp,
    IReadOnlyList<KeyDateView> KeyDates,
    string? Trouble = null
);

/// <param name="Stage">How far it has come.</param>
public sealed record FoundPost(Id<Workspace> WorkspaceId, Id<Post> PostId, string Title, Stage Stage);

/// <summary>All workspaces that a person belongs to, at once. Each is read as its own members read it, by the rights that the person has
/// there.</summary>
public static class OverviewEndpoints
{
    private const int MostDays = 14;
    private const int MostFound = 12;

    /// <summary>Over which repeats are counted and what runs short is looked for, as on the page of one workspace.</summary>
    private const int ShortageWeeks = 4;

    public static void MapOverview(this IEndpointRouteBuilder api)
    {
        api.MapGet("/overview", ShowAsync).RequireAuthorization();
        api.MapGet("/overview/posts", FindAsync).RequireAuthorization();
    }

    /// <param name="from">Null: today, of each workspace.</param>
    /// <param name="days">How many days, the first included; 2 unless said.</param>
    private static async Task<List<WorkspaceOverview>> ShowAsync(
        QueryDate? from,
        int? days,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        LineUpCache cache,
        LineUpViews views,
        KeyDateReader keyDates,
        DamageWatch watch,
        CancellationToken cancellation
    )
    {
        if (days is < 1 or > MostDays)
            throw ProblemException.BadInput($"Ask for 1 to {MostDays} days.");
        IReadOnlyList<WorkspaceLink> links = await LinksAsync(http, db, cancellation);
        List<Id<Workspace>> ids = [.. links.Select(l => l.Id)];
        var needs = await db.NeedingSomebody()
            .Where(d => ids.Contains(d.WorkspaceId))
            .GroupBy(d => new { d.WorkspaceId, Yours = d.State == DeliveryState.PostItYourself })
            .Select(g => new
            {
                g.Key.WorkspaceId,
                g.Key.Yours,
                Count = g.Count(),
            })
            .ToListAsync(cancellation);
        Dictionary<Id<Workspace>, int> waiting = await db
            .Posts.Where(p => ids.Contains(p.WorkspaceId) && p.RemovedAt == null && p.Stage == Stage.WaitingForApproval)
            .GroupBy(p => p.WorkspaceId)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        List<WorkspaceOverview> all = [];
        foreach (WorkspaceLink link in links)
            all.Add(await ApartAsync(link));
        return all;

        // One that can't be worked out is said to be, and spoils none of the others.
        async Task<WorkspaceOverview> ApartAsync(WorkspaceLink link)
        {
            try
            {
                return await OneAsync(link);
            }
            catch (Exception e) when (DamageWatch.MayBeDamage(e))
            {
                bool isOther = await watch.LookAsync(link.Id, cancellation);
                try
                {
                    if (isOther)
                        return await OneAsync(link);
                }
                catch (Exception again) when (DamageWatch.MayBeDamage(again))
                {
                    // It stays with what is said below.
                }
                return new(
                    link.Id,
                    Failed(link),
                    Yours(link),
                    waiting.GetValueOrDefault(link.Id),
                    0,
                    new(now, default, "", null, []),
                    [],
                    "Something of this workspace can't be worked out. Open it, and tell whoever runs Able Lark if it stays so."
                );
            }
        }

        async Task<WorkspaceOverview> OneAsync(WorkspaceLink link)
        {
            (Workspace workspace, SharedLineUp lineUp) = await cache.GetAsync(link.Id, cancellation);
            Shortages shortages = Shortages.Within(ShortageWeeks, workspace, lineUp, now).Shortages;
            LocalDate first = from?.Value ?? workspace.DateOf(now);
            LocalDate last = first.PlusDays((days ?? 2) - 1);
            return new(
                link.Id,
                Failed(link),
                Yours(link),
                waiting.GetValueOrDefault(link.Id),
                shortages.Dry.Count + shortages.Repeating.Count,
                await views.ReadAsync(link.Id, first, last, link.Rights.Contains(Right.Schedule), cancellation),
                await keyDates.ReadAsync(workspace, first, last, Caller.Of(http.User, link.Role), cancellation)
            );
        }

        int Failed(WorkspaceLink link) => needs.Where(n => n.WorkspaceId == link.Id && !n.Yours).Sum(n => n.Count);

        int Yours(WorkspaceLink link) => needs.Where(n => n.WorkspaceId == link.Id && n.Yours).Sum(n => n.Count);
    }

    /// <summary>Those that whoever asks may look at: a script may be let in for other things.</summary>
    private static async Task<IReadOnlyList<WorkspaceLink>> LinksAsync(HttpContext http, LarkDb db, CancellationToken cancellation) =>
        [.. (await db.WorkspacesOfAsync(http, cancellation)).Where(l => l.Rights.Contains(Right.View))];

    /// <summary>Posts of all these workspaces whose words match.</summary>
    private static async Task<List<FoundPost>> FindAsync(string? search, HttpContext http, LarkDb db, CancellationToken cancellation)
    {
        if (string.IsNullOrWhiteSpace(search))
            throw ProblemException.BadInput("Say what to look for.");
        List<FoundPost> found = [];
        foreach (WorkspaceLink link in await LinksAsync(http, db, cancellation))
        {
            found.AddRange(
                await PostSearching
                    .Among(db, link.Id, search, Caller.Of(http.User, link.Role))
                    .OrderBy(p => p.Title)
                    .Take(MostFound)
                    .Select(p => new FoundPost(p.WorkspaceId, p.Id, p.Title, p.Stage))
                    .ToListAsync(cancellation)
            );
        }
        return found;
    }
}
