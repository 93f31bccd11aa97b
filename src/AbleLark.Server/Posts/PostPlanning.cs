using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Access;
using AbleLark.Server.Categories;
using AbleLark.Server.Planning;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Posts;

/// <summary>Giving a post an exact time.</summary>
public static class PostPlanning
{
    public static void MapPostPlanning(this RouteGroupBuilder workspace) =>
        workspace.MapPost("/posts/{id}/deliveries", PlanAsync).Needs(Right.Schedule);

    private static async Task<PlanResult> PlanAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        PlanRequest request,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        if (request.Date is null != request.Time is null)
            throw ProblemException.BadInput("Give a date and a time, or neither: then it goes out now.");
        LocalDateTime? to = request.Date is { } date ? date + request.Time!.Value : null;
        Dictionary<Id<Channel>, string> names = [];
        string title = "";
        (PlanChange change, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (workspace, now) =>
            {
                Post post = await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
                if (post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
                    throw ProblemException.Conflict($"“{post.Title}” is not ready. Mark it as ready, then give it a time.");
                if (request.Date is { } on)
                    _ = workspace.ComingInstant(on, request.Time!.Value, now);
                List<Channel> channels = await ChannelsAsync(post, request, db, cancellation);
                (title, names) = (post.Title, channels.ToDictionary(c => c.Id, c => c.Name));
                LocalDateTime local = to ?? now.InZone(workspace.Zone).LocalDateTime;
                return new(
                    new PlanAct.Copy([.. channels.Select(c => new CopyWish(post.Id, c.Id, null, local, to))]),
                    new(to is null ? ActCode.PostSentAtOnce : ActCode.PostPlanned, post.Title)
                );
            },
            cancellation,
            async (workspace, change) =>
            {
                if (request.KeyDateId is not { } keyDate)
                    return;
                KeyDateComing coming =
                    await db.ComingOfAsync(workspace, keyDate, request.Occurrence, cancellation)
                    ?? throw ProblemException.NotFound("This key date, on that date");
                foreach (PlanAddition added in change.Added)
                    db.Tie(added.Delivery, coming);
            }
        );
        return new(
            [.. change.Added.Select(a => View(a.Delivery))],
            [.. change.Stays.Select(s => $"{names[s.ChannelId!.Value]}: {PlanWords.Why(s, title)}")],
            act
        );
    }

    /// <summary>Those that were asked for, or the post's own.</summary>
    private static async Task<List<Channel>> ChannelsAsync(Post post, PlanRequest request, LarkDb db, CancellationToken cancellation)
    {
        Category category = await db.Categories.SingleAsync(
            c => c.WorkspaceId == post.WorkspaceId && c.Id == post.CategoryId,
            cancellation
        );
        List<Id<Channel>> wanted = request.Channels is { Count: > 0 } given
            ? await db.KnownChannelsAsync(post.WorkspaceId, given, cancellation)
            : [.. post.ChannelsOr(category)];
        List<Channel> channels = await db
            .Channels.Where(c => c.WorkspaceId == post.WorkspaceId && wanted.Contains(c.Id))
            .OrderBy(c => c.Position)
            .ToListAsync(cancellation);
        return channels.Count > 0
            ? channels
            : throw ProblemException.BadInput("Choose at least one channel: neither the post nor its category has any.");
    }

    internal static PostDelivery View(Delivery d) =>
        new(d.Id, d.ChannelId, d.SentAt ?? d.At, d.LocalDate, d.LocalTime, d.State, d.OriginKind, d.Trouble, d.ShownAddress);
}
