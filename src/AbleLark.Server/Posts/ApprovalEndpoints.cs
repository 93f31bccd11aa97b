using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Posts;

/// <summary>Approving a post that waits, or sending it back with what is asked for.</summary>
public static class ApprovalEndpoints
{
    public static void MapApprovals(this RouteGroupBuilder workspace)
    {
        workspace.MapPost("/posts/{id}/approve", ApproveAsync).Needs(Right.Approve);
        workspace.MapPost("/posts/{id}/send-back", SendBackAsync).Needs(Right.Approve);
    }

    /// <summary>Approves the post in the version that was read, with all its variants and wordings.</summary>
    private static async Task<PostView> ApproveAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        PostChecking checking,
        CancellationToken cancellation
    )
    {
        Post post = await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
        if (!int.TryParse(ifMatch?.Trim('"'), out int version))
            throw ProblemException.BadInput("Say in If-Match which version of the post you read.");
        if (post.Stage != Stage.WaitingForApproval)
            throw ProblemException.Conflict("This post isn't waiting for approval.");
        if (version != post.Version)
            throw ProblemException.Outdated("The post was changed since you read it. Read it again, then approve it.");
        ActCode approved = await AsWhatAsync(post, http.Actor(), db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.Actor(), now, new(approved, post.Title));
        db.Approvals.Add(post.Approve(http.Actor(), now));
        await db.ReconsiderAsync(workspaceId, [post], now, cancellation);
        post.Version++;
        await db.SaveChangesAsync(cancellation);
        return await PostEndpoints.ViewAsync(post, db, checking, cancellation);
    }

    /// <summary>Whoever changed a post last doesn't approve it, unless the workspace allows that or nobody else may; what the log then
    /// says.</summary>
    private static async Task<ActCode> AsWhatAsync(Post post, Actor by, LarkDb db, CancellationToken cancellation)
    {
        Guid? changed = await db
            .PostVersions.Where(v => v.WorkspaceId == post.WorkspaceId && v.PostId == post.Id)
            .OrderByDescending(v => v.Number)
            .Select(v => v.PersonId)
            .FirstOrDefaultAsync(cancellation);
        if (changed != by.PersonId)
            return ActCode.PostApproved;
        if (await db.Workspaces.Where(w => w.Id == post.WorkspaceId).Select(w => w.AllowsOwnApproval).SingleAsync(cancellation))
            return ActCode.PostApprovedAsAllowed;
        if (!await db.OthersMayAsync(post.WorkspaceId, by.PersonId, Right.Approve, cancellation))
            return ActCode.PostApprovedByNobodyElse;
        throw new ProblemException(
            StatusCodes.Status403Forbidden,
            "You changed this post last, so somebody else has to approve it. Set-up can allow it for the whole workspace."
        );
    }

    /// <summary>Back to whoever writes it, with what is asked for: it is a draft until it is made ready again.</summary>
    private static async Task<PostView> SendBackAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        SendBackRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        PostChecking checking,
        CancellationToken cancellation
    )
    {
        Post post = await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
        string note = (request.Note ?? "").Trim();
        if (note.Length == 0)
            throw ProblemException.BadInput("Say what is asked for, so that whoever writes it knows what to change.");
        if (post.Stage != Stage.WaitingForApproval)
            throw ProblemException.Conflict("This post isn't waiting for approval.");
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.PostSentBack, post.Title));
        post.SendBack(note);
        post.Version++;
        await db.SaveChangesAsync(cancellation);
        return await PostEndpoints.ViewAsync(post, db, checking, cancellation);
    }
}
