using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.LineUps;
using AbleLark.Server.Places;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Rotas;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Outlooks;

/// <param name="Weeks">Length of the look-ahead.</param>
/// <param name="Shortages">What runs short in the next three weeks.</param>
public sealed record RunwayView(LocalDate Today, int Weeks, IReadOnlyList<Runway> Runways, Shortages Shortages);

/// <summary>A rota as it would be; without <paramref name="Id"/> one more.</summary>
public sealed record RotaTry(Id<Rota>? Id, RotaEdit Rota);

/// <summary>A category's settings as they would be.</summary>
public sealed record CategoryTry(
    Id<Category> Id,
    OrderRule Order,
    [Range(1, 730, ErrorMessage = "A repeat gap lies between 1 and 730 days.")] int? GapDays,
    [Range(0.0, 1.0, ErrorMessage = "A target share lies between 0 and 100 %.")] double? TargetShare,
    IReadOnlyList<Id<Channel>> UsualChannels
);

/// <summary>A post as it would be treated.</summary>
public sealed record PostTry(Id<Post> Id, bool InRotation, int? GapDays);

/// <summary>So many new posts of a category, fit for all its usual channels.</summary>
public sealed record MorePosts(Id<Category> CategoryId, int Count);

/// <summary>A change to be tried; what isn't named stays as it is.</summary>
/// <param name="Weeks">4 to 26.</param>
/// <param name="PlanStamp">The state it was made on, as an earlier answer gave it; refused when that has changed. Null: any.</param>
public sealed record WhatIfRequest(
    [Range(4, 26, ErrorMessage = "Look ahead over 4 to 26 weeks.")] int Weeks,
    long? PlanStamp = null,
    IReadOnlyList<RotaTry>? Rotas = null,
    IReadOnlyList<CategoryTry>? Categories = null,
    IReadOnlyList<PostTry>? Posts = null,
    IReadOnlyList<MorePosts>? MorePosts = null
);

public sealed record WhatIfView(
    long PlanStamp,
    LocalDate Today,
    int Weeks,
    LocalDate? FirstChange,
    int PlacesThatChange,
    Outlook Before,
    Outlook After
);

/// <param name="At">In the workspace's zone; null: not within 26 weeks.</param>
/// <param name="Sooner">A scheduled place that comes sooner and may be taken; null when there is none.</param>
public sealed record FirstOut(LocalDateTime? At, Id<Channel>? ChannelId, string Why, ScheduledPlaceView? Sooner);

/// <param name="Next">Titles of the next five posts it gives.</param>
public sealed record OrderPreview(Order Order, IReadOnlyList<string> Next);

/// <summary>What the present state, or another, leads to.</summary>
public static class OutlookEndpoints
{
    private const int UsualWeeks = 12;
    private const int MostMorePosts = 500;
    private const int MostNext = 5;

    public static void MapOutlook(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/runway", RunwayAsync).Needs(Right.View);
        workspace.MapPost("/what-if", TryAsync).Needs(Right.View);
        workspace.MapGet("/categories/{id}/orders", OrdersAsync).Needs(Right.View);
        workspace.MapGet("/posts/{id}/first-out", FirstOutAsync).Needs(Right.View);
    }

    private static async Task<RunwayView> RunwayAsync(
        Id<Workspace> workspaceId,
        int? weeks,
        BusinessClock clock,
        LineUpCache cache,
        CancellationToken cancellation
    )
    {
        int length = Weeks(weeks ?? UsualWeeks);
        (Workspace workspace, SharedLineUp lineUp) = await cache.GetAsync(workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        (IReadOnlyList<Runway> runways, Shortages shortages) = Shortages.Within(length, workspace, lineUp, now);
        return new(workspace.DateOf(now), length, runways, shortages);
    }

    private static async Task<WhatIfView> TryAsync(
        Id<Workspace> workspaceId,
        WhatIfRequest request,
        BusinessClock clock,
        LineUpCache cache,
        CancellationToken cancellation
    )
    {
        int weeks = Weeks(request.Weeks);
        (Workspace workspace, SharedLineUp known) = await cache.GetAsync(workspaceId, cancellation);
        LineUpInput before = known.Input;
        if (request.PlanStamp is { } stamp && stamp != workspace.PlanStamp)
            throw ProblemException.Outdated(
                "The plan has changed since this was begun. Fetch it again and try once more; your changes are still with you."
            );
        Instant now = await clock.NowAsync(cancellation);
        RotaEdits edits = new(
            workspace,
            workspace.DateOf(now),
            [.. before.Categories.Select(c => c.Id)],
            [.. before.Channels.Select(c => c.Id)],
            [.. before.Rotas.Select(r => r.Id)]
        );
        LineUpInput after = before with
        {
            Rotas = Rotas(before, request, edits),
            Categories = Categories(before, request),
            Bank = Bank(before, request, workspace, now),
        };
        WhatIf whatIf = WhatIf.Try(known, after, now, 7 * weeks);
        return new(workspace.PlanStamp, edits.Today, weeks, whatIf.FirstChange, whatIf.PlacesThatChange, whatIf.Before, whatIf.After);
    }

    /// <summary>Beside each order, the next five posts that a category would send by it.</summary>
    private static async Task<List<OrderPreview>> OrdersAsync(
        Id<Workspace> workspaceId,
        Id<Category> id,
        BusinessClock clock,
        LineUpCache cache,
        CancellationToken cancellation
    )
    {
        LineUpInput input = (await cache.GetAsync(workspaceId, cancellation)).LineUp.Input;
        Category category = input.Categories.FirstOrDefault(c => c.Id == id) ?? throw ProblemException.NotFound("This category");
        Instant now = await clock.NowAsync(cancellation);
        Dictionary<Id<Post>, string> titles = input.Bank.ToDictionary(p => p.Id, p => p.Title);
        return
        [
            .. Enum.GetValues<Order>()
                .Select(order => new OrderPreview(order, [.. NextOut.By(order, category, input, now, MostNext).Select(p => titles[p])])),
        ];
    }

    /// <summary>Where a post would go out first, of its own times and the rota's places in the coming 26 weeks.</summary>
    private static async Task<FirstOut> FirstOutAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        LarkDb db,
        BusinessClock clock,
        LineUpCache cache,
        CancellationToken cancellation
    )
    {
        await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
        (Workspace workspace, SharedLineUp lineUp) = await cache.GetAsync(workspaceId, cancellation);
        FirstPlace first = NextOut.Of(id, lineUp, await clock.NowAsync(cancellation));
        ScheduledPlaceView? sooner = first.Sooner is { } place ? ScheduledPlaceView.Of(place, lineUp.Input) : null;
        if (first.Place is { } given)
            return new(Local(given.At), given.Pick.ChannelId, given.Pick.Reason.Words, sooner);
        if (first.Planned is not { } planned)
            return new(null, null, $"Not within {NextOut.Weeks} weeks, as things stand.", sooner);
        Reason? why = await db
            .Deliveries.Where(d => d.WorkspaceId == workspaceId && d.Id == planned.Id)
            .Select(d => d.Why)
            .SingleOrDefaultAsync(cancellation);
        return new(Local(planned.At), planned.ChannelId, why?.Words ?? "Date and time set by a person.", sooner);

        LocalDateTime Local(Instant at) => at.InZone(workspace.Zone).LocalDateTime;
    }

    private static int Weeks(int weeks) =>
        weeks is >= 4 and <= 26 ? weeks : throw ProblemException.BadInput("Look ahead over 4 to 26 weeks.");

    private static List<Rota> Rotas(LineUpInput before, WhatIfRequest request, RotaEdits edits)
    {
        List<Rota> rotas = [.. before.Rotas];
        if ((request.Rotas ?? []).Where(r => r.Id is not null).GroupBy(r => r.Id).Any(g => g.Count() > 1))
            throw ProblemException.BadInput("A rota is named twice. Say once how it would be.");
        foreach (RotaTry wanted in request.Rotas ?? [])
        {
            int at = wanted.Id is { } id ? rotas.FindIndex(r => r.Id == id) : -1;
            if (wanted.Id is not null && at < 0)
                throw ProblemException.NotFound("This rota");
            Rota tried = edits.Tried(at < 0 ? null : rotas[at], wanted.Rota);
            if (at < 0)
                rotas.Add(tried);
            else
                rotas[at] = tried;
        }
        return rotas;
    }

    private static List<Category> Categories(LineUpInput before, WhatIfRequest request)
    {
        Dictionary<Id<Category>, CategoryTry> wanted = ById(request.Categories, c => c.Id, "category");
        if (wanted.Keys.Any(id => before.Categories.All(c => c.Id != id)))
            throw ProblemException.NotFound("This category");
        if (wanted.Values.SelectMany(c => c.UsualChannels).Any(id => before.Channels.All(c => c.Id != id)))
            throw ProblemException.BadInput("One of the channels isn't in this workspace. Fetch the list again and choose from it.");
        return
        [
            .. before.Categories.Select(c =>
                wanted.TryGetValue(c.Id, out CategoryTry? w)
                    ? c.CopyWith(o =>
                        (o.Order, o.GapDays, o.TargetShare, o.UsualChannels) = (w.Order, w.GapDays, w.TargetShare, [.. w.UsualChannels])
                    )
                    : c
            ),
        ];
    }

    private static Dictionary<TId, T> ById<TId, T>(IReadOnlyList<T>? tries, Func<T, TId> id, string what)
        where TId : notnull
    {
        if ((tries ?? []).DistinctBy(id).Count() < (tries ?? []).Count)
            throw ProblemException.BadInput($"A {what} is named twice. Say once how it would be.");
        return (tries ?? []).ToDictionary(id);
    }

    private static List<LineUpPost> Bank(LineUpInput before, WhatIfRequest request, Workspace workspace, Instant now)
    {
        Dictionary<Id<Post>, PostTry> wanted = ById(request.Posts, p => p.Id, "post");
        if (wanted.Keys.Except(before.Bank.Select(p => p.Id)).Any())
            throw ProblemException.NotFound("This post");
        if ((request.MorePosts ?? []).Any(m => before.Categories.All(c => c.Id != m.CategoryId)))
            throw ProblemException.NotFound("This category");
        List<LineUpPost> bank =
        [
            .. before.Bank.Select(p =>
                wanted.TryGetValue(p.Id, out PostTry? w) ? p with { InRotation = w.InRotation, GapDays = w.GapDays } : p
            ),
        ];
        if ((request.MorePosts ?? []).Sum(m => (long)m.Count) is < 0 or > MostMorePosts)
            throw ProblemException.BadInput($"Try up to {MostMorePosts} more posts at once.");
        return
        [
            .. bank,
            .. (request.MorePosts ?? []).SelectMany(m => LineUpPost.MadeUp(m.Count, workspace.Id, m.CategoryId, before.Networks, now)),
        ];
    }
}
