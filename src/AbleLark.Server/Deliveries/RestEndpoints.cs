using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Planning;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Deliveries;

/// <param name="Words">What the comment, or the part, that is lacking says now; null tries the same again.</param>
public sealed record SendRestRequest(string? Words = null);

/// <summary>What of a post isn't out.</summary>
/// <param name="Step">`comment`, or which part.</param>
/// <param name="Words">What it was to say.</param>
public sealed record LackingView(string Step, string Words);

/// <summary>What is done about a post that is out, but not all of it.</summary>
public static class RestEndpoints
{
    public static void MapRest(this RouteGroupBuilder workspace) =>
        workspace.MapPost("/deliveries/{id}/rest", SendRestAsync).Needs(Right.Schedule);

    /// <summary>Tries once more what was refused of a post that is out: its first comment, or further parts.</summary>
    private static async Task<ActDone> SendRestAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        SendRestRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        StepsOf stepsOf,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.SendRest))
            throw ProblemException.Conflict($"Nothing of this delivery is lacking: it is {PlanWords.Of(delivery.State)}.");
        SendingStep.Publish lacking =
            await LackingAsync(delivery, db, networks, stepsOf, cancellation)
            ?? throw ProblemException.Conflict("Nothing of this delivery is lacking: all of it is out.");
        string? words = request.Words;
        if (words is not null)
        {
            if (string.IsNullOrWhiteSpace(words))
                throw ProblemException.BadInput("There are no words. Write some, or dismiss what is lacking.");
            words = Tidied(words);
            await MindApprovalAsync(delivery, db, cancellation);
        }
        var act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.RestTried));
        delivery.SendRest(lacking, words);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>What readers are to see of a delivery and don't; null: nothing, or its network is gone.</summary>
    internal static async Task<SendingStep.Publish?> LackingAsync(
        Delivery delivery,
        LarkDb db,
        NetworkBook networks,
        StepsOf stepsOf,
        CancellationToken cancellation
    )
    {
        if (!delivery.LacksRest || delivery.Sent is not { } sent)
            return null;
        Channel channel = await db
            .Channels.AsNoTracking()
            .SingleAsync(c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId, cancellation);
        if (!networks.Has(channel.Network))
            return null;
        List<DeliveryAttempt> attempts = await db
            .DeliveryAttempts.AsNoTracking()
            .Where(a => a.WorkspaceId == delivery.WorkspaceId && a.DeliveryId == delivery.Id)
            .OrderBy(a => a.StartedAt)
            .ToListAsync(cancellation);
        return SendingSteps.Lacking(stepsOf(sent, networks.For(channel)), attempts);
    }

    /// <summary>Whoever says it otherwise would be the only one who has read it.</summary>
    private static async Task MindApprovalAsync(Delivery delivery, LarkDb db, CancellationToken cancellation)
    {
        Post post = await db
            .Posts.AsNoTracking()
            .SingleAsync(p => p.WorkspaceId == delivery.WorkspaceId && p.Id == delivery.PostId, cancellation);
        bool asks = await db.NeedsApprovalAsync(post, cancellation);
        if (asks && !await db.Workspaces.AnyAsync(w => w.Id == delivery.WorkspaceId && w.AllowsOwnApproval, cancellation))
            throw ProblemException.Conflict(
                "What this post says needs approval, so it can't be changed here. Try the same again, or dismiss it."
            );
    }

    private static string Tidied(string words)
    {
        try
        {
            return (string)ContentFields.FirstComment.Tidy(words)!;
        }
        catch (FormatException e)
        {
            throw ProblemException.BadInput(e.Message);
        }
    }
}
