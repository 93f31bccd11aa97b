using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.LineUps;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Calendars;

/// <summary>A week of one category.</summary>
/// <param name="Week">Its Monday, local.</param>
/// <param name="CategoryId">Null: a place that is kept free.</param>
/// <param name="Sent">Deliveries that went out.</param>
/// <param name="Coming">What is planned, waits, or would be sent as things stand.</param>
/// <param name="Stopped">What was refused or missed, or may have gone out.</param>
/// <param name="Empty">Places with nothing to send.</param>
public sealed record WeekDensity(LocalDate Week, Id<Category>? CategoryId, int Sent, int Coming, int Stopped, int Empty);

/// <summary>How a long time is filled.</summary>
public sealed record DensityView(LocalDate From, LocalDate To, IReadOnlyList<WeekDensity> Weeks);

/// <summary>Whether something waits for approval.</summary>
public enum ApprovalStanding
{
    Waits,
    None,
}

/// <summary>What may speak against something.</summary>
public enum EntryFinding
{
    /// <summary>It failed, or went out with a trouble.</summary>
    Trouble,

    /// <summary>Its post has findings there.</summary>
    Warned,
}

/// <summary>What is asked of a long time; what isn't named takes all.</summary>
public sealed record DensityQuery
{
    [FromQuery(Name = "from")]
    public QueryDate From { get; init; }

    [FromQuery(Name = "to")]
    public QueryDate To { get; init; }

    [FromQuery(Name = "channels")]
    public Guid[]? Channels { get; init; }

    /// <summary>None: places that are kept free.</summary>
    [FromQuery(Name = "categories")]
    public QueryIdOrNone[]? Categories { get; init; }

    /// <summary>None: what goes out at an exact time.</summary>
    [FromQuery(Name = "rotas")]
    public QueryIdOrNone[]? Rotas { get; init; }

    [FromQuery(Name = "states")]
    public QueryWord<EntryForm>[]? States { get; init; }

    [FromQuery(Name = "approval")]
    public QueryWord<ApprovalStanding>[]? Approval { get; init; }

    [FromQuery(Name = "findings")]
    public QueryWord<EntryFinding>[]? Findings { get; init; }

    /// <summary>Posts whose title has it, in capitals or not.</summary>
    [FromQuery(Name = "text")]
    public string? Text { get; init; }
}

/// <summary>A year at a glance: counts by week and category alone, quick over any number of deliveries.</summary>
public static class DensityEndpoints
{
    private const int MostDays = 400;

    public static void MapDensity(this RouteGroupBuilder workspace) => workspace.MapGet("/line-up/density", ShowAsync).Needs(Right.View);

    private static async Task<DensityView> ShowAsync(
        Id<Workspace> workspaceId,
        [AsParameters] DensityQuery query,
        LarkDb db,
        BusinessClock clock,
        LineUpCache cache,
        CancellationToken cancellation
    )
    {
        (LocalDate first, LocalDate last) = (query.From.Value, query.To.Value);
        Inputs.Days(first, last, MostDays);
        (Workspace workspace, SharedLineUp lineUp) = await cache.GetAsync(workspaceId, cancellation);
        Dictionary<Id<Slot>, Id<Rota>> rotas = await db.RotasOfSlotsAsync(workspaceId, cancellation);
        var counts = new Dictionary<(LocalDate Week, Id<Category>? Category), int[]>();
        FindingCounts findings = new(lineUp.Input);
        foreach (var some in await DeliveriesAsync(query, workspace, rotas, findings, db, cancellation))
        {
            if (Meets(query, EntryForms.Of(some.State, some.DealtWith), some.State == DeliveryState.WaitingForApproval))
                Count(some.Date, some.CategoryId, (int)KindOf(some.State), some.Count);
        }

        HashSet<Id<Channel>>? channels = query.Channels is { Length: > 0 } c ? [.. c.Select(id => new Id<Channel>(id))] : null;
        IReadOnlyDictionary<Id<Post>, LineUpPost> bank = findings.Bank;
        Instant now = await clock.NowAsync(cancellation);
        foreach (LineUpPlace place in lineUp.Project(now, workspace.StartOf(last.PlusDays(1))))
        {
            LocalDate date = place.Occurrence.At.InZone(workspace.Zone).Date;
            if (date < first || !IsOf(query.Rotas, place.Occurrence.Rota.Id.Value))
                continue;
            foreach (Pick pick in place.Picks)
            {
                if (
                    pick.Scheduled is not null && pick.Scheduled.State != DeliveryState.Cancelled
                    || channels?.Contains(pick.ChannelId) == false
                )
                    continue;
                LineUpPost? post = pick.PostId is { } id ? bank[id] : null;
                Id<Category>? category = post?.CategoryId ?? Runways.CategoryOf(place.Occurrence, pick, bank);
                EntryForm form = post is null ? EntryForm.Empty : EntryForms.OfProjected(pick.IsGiven);
                if (
                    Says(post?.Title, query.Text)
                    && IsOf(query.Categories, category?.Value)
                    && Meets(query, form, pick.IsWaiting)
                    && MeetsFindings(query, false, () => post is null ? 0 : findings.Of(post.Id, pick.ChannelId))
                )
                    Count(date, category, (int)(post is null ? Kind.Empty : Kind.Coming), 1);
            }
        }
        return new(
            first,
            last,
            [
                .. counts
                    .OrderBy(x => x.Key.Week)
                    .ThenBy(x => x.Key.Category)
                    .Select(x => new WeekDensity(x.Key.Week, x.Key.Category, x.Value[0], x.Value[1], x.Value[2], x.Value[3])),
            ]
        );

        void Count(LocalDate date, Id<Category>? category, int kind, int more)
        {
            (LocalDate, Id<Category>?) key = (date.PlusDays(1 - (int)date.DayOfWeek), category);
            if (!counts.TryGetValue(key, out int[]? of))
                counts[key] = of = new int[4];
            of[kind] += more;
        }
    }

    private enum Kind
    {
        Sent,
        Coming,
        Stopped,
        Empty,
    }

    private static Kind KindOf(DeliveryState state) =>
        state switch
        {
            DeliveryState.Sent => Kind.Sent,
            DeliveryState.Refused or DeliveryState.Missed or DeliveryState.MayHaveGoneOut => Kind.Stopped,
            _ => Kind.Coming,
        };

    private static bool Meets(DensityQuery query, EntryForm form, bool waits) =>
        (query.States is not { Length: > 0 } states || states.Any(s => s.Value == form))
        && (query.Approval is not { Length: > 0 } wanted || wanted.Any(a => (a.Value == ApprovalStanding.Waits) == waits));

    private static bool MeetsFindings(DensityQuery query, bool hasTrouble, Func<int> findings) =>
        query.Findings is not { Length: > 0 } wanted || wanted.Any(f => f.Value == EntryFinding.Trouble ? hasTrouble : findings() > 0);

    private static bool IsOf(QueryIdOrNone[]? wanted, Guid? id) => wanted is not { Length: > 0 } || wanted.Any(w => w.Value == id);

    private static bool Says(string? title, string? text) =>
        string.IsNullOrWhiteSpace(text) || title?.Contains(text.Trim(), StringComparison.OrdinalIgnoreCase) == true;

    private static async Task<
        List<(LocalDate Date, Id<Category> CategoryId, DeliveryState State, bool DealtWith, int Count)>
    > DeliveriesAsync(
        DensityQuery query,
        Workspace workspace,
        Dictionary<Id<Slot>, Id<Rota>> rotas,
        FindingCounts findings,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        (LocalDate first, LocalDate last) = (query.From.Value, query.To.Value);
        var found = db.ShownDeliveries(workspace, first, last)
            .Join(
                db.Posts,
                d => new { d.WorkspaceId, d.PostId },
                p => new { p.WorkspaceId, PostId = p.Id },
                (d, p) =>
                    new
                    {
                        Delivery = d,
                        p.CategoryId,
                        p.Title,
                    }
            );
        if (query.Channels is { Length: > 0 } given)
        {
            Id<Channel>[] channels = [.. given.Select(c => new Id<Channel>(c))];
            found = found.Where(f => channels.Contains(f.Delivery.ChannelId));
        }
        if (query.Categories is { Length: > 0 } of)
        {
            Id<Category>[] categories = [.. of.Select(c => c.Value).OfType<Guid>().Select(c => new Id<Category>(c))];
            found = found.Where(f => categories.Contains(f.CategoryId));
        }
        if (query.Rotas is { Length: > 0 })
        {
            Guid[] slots = [.. rotas.Where(r => IsOf(query.Rotas, r.Value.Value)).Select(r => r.Key.Value)];
            bool alsoExact = IsOf(query.Rotas, null);
            found = found.Where(f => f.Delivery.OriginKind == OriginKind.Place ? slots.Contains(f.Delivery.OriginId) : alsoExact);
        }
        if (!string.IsNullOrWhiteSpace(query.Text))
        {
            string text = query.Text.Trim().ToLowerInvariant();
#pragma warning disable CA1862, CA1304, CA1311 // Translated into SQL.
            found = found.Where(f => f.Title.ToLower().Contains(text));
#pragma warning restore CA1862, CA1304, CA1311
        }
        if (query.Findings is { Length: > 0 })
        {
            // What speaks against each is known here, not in the database.
            var each = await found
                .Select(f => new
                {
                    f.Delivery.LocalDate,
                    f.CategoryId,
                    f.Delivery.State,
                    f.Delivery.DealtWith,
                    HasTrouble = f.Delivery.Trouble != null,
                    f.Delivery.PostId,
                    f.Delivery.ChannelId,
                })
                .ToListAsync(cancellation);
            return
            [
                .. each.Where(d =>
                        MeetsFindings(
                            query,
                            d.HasTrouble || EntryForms.Of(d.State, d.DealtWith) == EntryForm.Failed,
                            () =>
                                d.State is DeliveryState.Planned or DeliveryState.WaitingForApproval
                                    ? findings.Of(d.PostId, d.ChannelId)
                                    : 0
                        )
                    )
                    .Select(d => (d.LocalDate, d.CategoryId, d.State, d.DealtWith, 1)),
            ];
        }
        var groups = await found
            .GroupBy(f => new
            {
                f.Delivery.LocalDate,
                f.CategoryId,
                f.Delivery.State,
                f.Delivery.DealtWith,
            })
            .Select(g => new
            {
                g.Key.LocalDate,
                g.Key.CategoryId,
                g.Key.State,
                g.Key.DealtWith,
                Count = g.Count(),
            })
            .ToListAsync(cancellation);
        return [.. groups.Select(g => (g.LocalDate, g.CategoryId, g.State, g.DealtWith, g.Count))];
    }
}
