using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Results;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Results;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Outside;

/// <param name="Date">Local date in the workspace's zone.</param>
/// <param name="Engagements">As last read; null: not read, or a part of them is missing.</param>
/// <param name="PostId">The delivery's post, for one that counts.</param>
/// <param name="SamePostId">A post of the bank that went out in just these words; null: none did.</param>
public sealed record OutsideView(
    Id<OutsidePost> Id,
    Id<Channel> ChannelId,
    string Text,
    string? Link,
    IReadOnlyList<string> Media,
    string? Address,
    Instant PostedAt,
    LocalDate Date,
    LocalTime Time,
    double? Engagements,
    bool LeftOut,
    Id<Delivery>? DeliveryId,
    Id<Post>? PostId,
    Id<Post>? SamePostId,
    string? SamePostTitle
);

/// <summary>Of which category it is, or which post of the bank: one of the two.</summary>
public sealed record CountOutside(Id<Category>? CategoryId, Id<Post>? PostId);

public sealed record LeaveOutside(bool LeftOut);

/// <summary>Posts that were made on channels themselves: looked at, given a category, or left out.</summary>
public static class OutsideEndpoints
{
    private const int Most = 200;

    public static void MapOutside(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/outside", ListAsync).Needs(Right.Results);
        workspace.MapPost("/outside/{id}/count", CountAsync).Needs(Right.Schedule);
        workspace.MapPut("/outside/{id}/left-out", LeaveAsync).Needs(Right.Schedule);
    }

    /// <summary>The latest first.</summary>
    private static async Task<List<OutsideView>> ListAsync(
        Id<Workspace> workspaceId,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        List<OutsidePost> posts = await db
            .OutsidePosts.AsNoTracking()
            .Where(o => o.WorkspaceId == workspaceId)
            .OrderByDescending(o => o.PostedAt)
            .Take(Most)
            .ToListAsync(cancellation);
        Dictionary<Id<Channel>, string> network = await db
            .Channels.Where(c => c.WorkspaceId == workspaceId)
            .ToDictionaryAsync(c => c.Id, c => c.Network, cancellation);
        List<Id<Delivery>> counted = [.. posts.Select(p => p.DeliveryId).OfType<Id<Delivery>>()];
        Dictionary<Id<Delivery>, Id<Post>> postOf = await db
            .Deliveries.Where(d => d.WorkspaceId == workspaceId && counted.Contains(d.Id))
            .ToDictionaryAsync(d => d.Id, d => d.PostId, cancellation);
        string[] prints = [.. posts.Where(p => p.DeliveryId is null).Select(p => IdenticalText.Fingerprint(p.Text)).Distinct()];
        var same = await db
            .Deliveries.Where(d => d.WorkspaceId == workspaceId && prints.Contains(d.TextFingerprint!))
            .Join(
                db.Posts.Where(p => p.RemovedAt == null),
                d => new { d.WorkspaceId, Id = d.PostId },
                p => new { p.WorkspaceId, p.Id },
                (d, p) =>
                    new
                    {
                        d.TextFingerprint,
                        p.Id,
                        p.Title,
                    }
            )
            .Distinct()
            .ToListAsync(cancellation);
        MeasureRule engagements = MeasureRule.Of(Measure.Engagements);
        return
        [
            .. posts.Select(o =>
            {
                LocalDateTime local = o.PostedAt.InZone(workspace.Zone).LocalDateTime;
                string print = IdenticalText.Fingerprint(o.Text);
                var alike = o.DeliveryId is null && o.Text.Length > 0 ? same.Find(s => s.TextFingerprint == print) : null;
                return new OutsideView(
                    o.Id,
                    o.ChannelId,
                    o.Text,
                    o.Link,
                    o.Media,
                    o.Address,
                    o.PostedAt,
                    local.Date,
                    local.TimeOfDay,
                    o.Readings.LastOrDefault() is { } last && networks.Has(network[o.ChannelId])
                        ? engagements.Take(last.Figures, networks[network[o.ChannelId]])?.Above
                        : null,
                    o.LeftOut,
                    o.DeliveryId,
                    o.DeliveryId is { } delivery && postOf.TryGetValue(delivery, out Id<Post> post) ? post : null,
                    alike?.Id,
                    alike?.Title
                );
            }),
        ];
    }

    /// <summary>From now on it counts, as a delivery of a post of that category, or of that post.</summary>
    private static async Task<ActDone> CountAsync(
        Id<Workspace> workspaceId,
        Id<OutsidePost> id,
        CountOutside request,
        HttpContext http,
        LarkDb db,
        OutsideCounting counting,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        OutsidePost outside = await FindAsync(workspaceId, id, db, cancellation);
        var act = await counting.CountAsync(outside, request, http.Actor(), await clock.NowAsync(cancellation), cancellation);
        await transaction.CommitAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>It needn't count, or may again.</summary>
    private static async Task LeaveAsync(
        Id<Workspace> workspaceId,
        Id<OutsidePost> id,
        LeaveOutside request,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        OutsidePost outside = await FindAsync(workspaceId, id, db, cancellation);
        outside.DemandUncounted();
        outside.LeftOut = request.LeftOut;
        if (!request.LeftOut)
            outside.NextReadingAt = ReadingTimes.Next(outside.PostedAt, await clock.NowAsync(cancellation));
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
    }

    /// <summary>Locked, so that of two people one decides.</summary>
    private static async Task<OutsidePost> FindAsync(
        Id<Workspace> workspace,
        Id<OutsidePost> id,
        LarkDb db,
        CancellationToken cancellation
    ) =>
        await db
            .OutsidePosts.FromSql($"select * from outside_posts where workspace_id = {workspace.Value} and id = {id.Value} for update")
            .SingleOrDefaultAsync(cancellation)
        ?? throw ProblemException.NotFound("This post");
}
