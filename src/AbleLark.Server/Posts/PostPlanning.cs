using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Access;
using AbleLark.Server.Categories;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Posts;

/// <summary>Giving a post an exact time.</summary>
public static class PostPlanning
{
    private static readonly Duration JustNow = Duration.FromMinutes(10);

    public static void MapPostPlanning(this RouteGroupBuilder workspace) =>
        workspace.MapPost("/posts/{id}/deliveries", PlanAsync).Needs(Right.Schedule);

    private static async Task<PlanResult> PlanAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        PlanRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // Two who press at once, or one who presses twice, are one after the other.
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        Post post = await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        if (post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
            throw ProblemException.Conflict($"“{post.Title}” is not ready. Mark it as ready, then give it a time.");
        if (request.Date is null != request.Time is null)
            throw ProblemException.BadInput("Give a date and a time, or neither: then it goes out now.");
        bool isNow = request.Date is null;
        Instant at = isNow ? now : workspace.ComingInstant(request.Date!.Value, request.Time!.Value, now);
        Category category = await db.Categories.SingleAsync(c => c.WorkspaceId == workspaceId && c.Id == post.CategoryId, cancellation);
        List<Id<Channel>> wanted = request.Channels is { Count: > 0 } given
            ? await db.KnownChannelsAsync(workspaceId, given, cancellation)
            : [.. post.ChannelsOr(category)];
        List<Channel> channels = await db
            .Channels.Where(c => c.WorkspaceId == workspaceId && wanted.Contains(c.Id))
            .OrderBy(c => c.Position)
            .ToListAsync(cancellation);
        if (channels.Count == 0)
            throw ProblemException.BadInput("Choose at least one channel: neither the post nor its category has any.");

        var act = db.BeginAct(workspaceId, http.PersonId(), now, isNow ? $"Sent “{post.Title}” at once" : $"Gave “{post.Title}” a time");
        List<string> leftOut = [];
        List<Delivery> planned = [];
        // Whoever presses twice, or presses again because an answer was lost, sends it once.
        Instant since = isNow ? at - JustNow : at;
        List<Id<Channel>> there = await db
            .Deliveries.Where(d =>
                d.WorkspaceId == workspaceId && d.PostId == id && d.At >= since && d.At <= at && d.State != DeliveryState.Cancelled
            )
            .Select(d => d.ChannelId)
            .ToListAsync(cancellation);
        foreach (Channel channel in channels)
        {
            Fit? fit = post.FitOn(channel);
            if (fit is not { FirstWording: { } wording })
            {
                leftOut.Add($"{channel.Name}: {fit?.Block?.Words ?? "it was never checked for it."}");
                continue;
            }
            if (channel.Connection == ConnectionState.Disconnected)
                leftOut.Add($"{channel.Name}: it is disconnected.");
            else if (there.Contains(channel.Id))
                leftOut.Add($"{channel.Name}: it {(isNow ? "went out there just now" : "already goes out there at that time")}.");
            else
                planned.Add(Delivery.AtExactTime(workspace, post.Id, channel.Id, at, wording));
        }
        if (planned.Count == 0)
            throw ProblemException.Conflict($"Nothing was planned. {string.Join(" ", leftOut)}");
        foreach (Delivery delivery in planned)
            delivery.WaitOrGo(post, channels.Single(c => c.Id == delivery.ChannelId));
        if (isNow && planned.Exists(d => d.State == DeliveryState.WaitingForApproval))
            throw ProblemException.Conflict(
                $"“{post.Title}” waits for approval, so it can't go out now. Give it a time, or have it approved first."
            );
        db.Deliveries.AddRange(planned);
        if (request.KeyDateId is { } keyDate)
        {
            KeyDateComing coming =
                await db.ComingOfAsync(workspace, keyDate, request.Occurrence, cancellation)
                ?? throw ProblemException.NotFound("This key date, on that date");
            foreach (Delivery delivery in planned)
                db.Tie(delivery, coming);
        }
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new([.. planned.Select(View)], leftOut, act.Id.Value);
    }

    internal static PostDelivery View(Delivery d) =>
        new(d.Id, d.ChannelId, d.SentAt ?? d.At, d.LocalDate, d.LocalTime, d.State, d.OriginKind, d.Trouble, d.ShownAddress);
}
