using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Deliveries;

/// <param name="Comment">Another first comment; null tries the same again.</param>
public sealed record SendRestRequest(string? Comment = null);

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
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await DeliveryEndpoints.FindToActAsync(workspaceId, id, ifMatch, db, cancellation);
        if (!EntryActs.Of(delivery).Contains(EntryAct.SendRest))
            throw ProblemException.Conflict($"Nothing of this delivery is lacking: it is {DeliveryEndpoints.Words(delivery.State)}.");
        string? comment = request.Comment;
        if (comment is not null)
        {
            if (delivery.Sent?.FirstComment is null)
                throw ProblemException.BadInput("This delivery had no first comment. Leave the comment out, and the rest is tried again.");
            if (string.IsNullOrWhiteSpace(comment))
                throw ProblemException.BadInput("The comment is empty. Write one, or dismiss what is lacking.");
            comment = Tidied(comment);
            await MindApprovalAsync(delivery, db, cancellation);
        }
        var act = db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), "Tried the rest of a delivery again");
        delivery.SendRest(comment);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>Whoever says it otherwise would be the only one who has read it.</summary>
    private static async Task MindApprovalAsync(Delivery delivery, LarkDb db, CancellationToken cancellation)
    {
        Post post = await db
            .Posts.AsNoTracking()
            .SingleAsync(p => p.WorkspaceId == delivery.WorkspaceId && p.Id == delivery.PostId, cancellation);
        bool asks = post.AsksForApproval || await db.CategoryAsksAsync(post, cancellation);
        if (asks && !await db.Workspaces.AnyAsync(w => w.Id == delivery.WorkspaceId && w.AllowsOwnApproval, cancellation))
            throw ProblemException.Conflict(
                "What this post says needs approval, so its comment can't be changed here. Try the same again, or dismiss it."
            );
    }

    private static string Tidied(string comment)
    {
        try
        {
            return (string)ContentFields.FirstComment.Tidy(comment)!;
        }
        catch (FormatException e)
        {
            throw ProblemException.BadInput(e.Message);
        }
    }
}
