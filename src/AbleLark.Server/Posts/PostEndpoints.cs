using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Categories;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Categories;
using AbleLark.Server.Media;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Posts;

/// <summary>The bank: posts, their content and versions.</summary>
public static class PostEndpoints
{
    public static void MapPosts(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/posts", PostLister.ListAsync).Needs(Right.View);
        workspace.MapPost("/posts", AddAsync).Needs(Right.Write).InTurn();
        workspace.MapPost("/posts/check", CheckAsync).Needs(Right.Write);
        workspace.MapPost("/posts/fit", FitAsync).Needs(Right.Write);
        workspace.MapGet("/posts/{id}", ShowAsync).Needs(Right.View);
        workspace.MapPut("/posts/{id}", SaveAsync).Needs(Right.Write);
        workspace.MapDelete("/posts/{id}", RemoveAsync).Needs(Right.Write);
    }

    /// <param name="post">The post that the content would be saved to: then each network says whether it would have approval.</param>
    /// <param name="wording">Which wording is shown: 0 or null the post's own.</param>
    private static async Task<IReadOnlyList<NetworkCheck>> CheckAsync(
        Id<Workspace> workspaceId,
        PostContent content,
        Guid? post,
        int? wording,
        HttpContext http,
        LarkDb db,
        PostChecking checking,
        CancellationToken cancellation
    )
    {
        // While somebody types, a link or a date may be half written: it is left out of the check, not refused.
        PostContent tidy = checking.Tidy(content.WithoutHalfWritten());
        var (checks, _) = await checking.CheckAsync(workspaceId, tidy, cancellation);
        if (post is not { } id)
            return PostChecking.Views(checks, wording: wording ?? 0);
        Post saved = await FindAsync(workspaceId, new(id), db, cancellation);
        bool asks = (!http.May(Right.Approve) && !saved.Content.Same(tidy)) || await db.NeedsApprovalAsync(saved, cancellation);
        return PostChecking.Views(checks, asks ? await ApprovedAsync(saved, checks.Hashes(), db, cancellation) : null, wording ?? 0);
    }

    /// <summary>Makes content fit some networks, as far as that needs no decision: nothing is saved.</summary>
    private static Task<FittedView> FitAsync(
        Id<Workspace> workspaceId,
        FitRequest request,
        PostChecking checking,
        CancellationToken cancellation
    ) => checking.FitAsync(workspaceId, request, cancellation);

    private static async Task<Func<string, bool?>> ApprovedAsync(
        Post post,
        IReadOnlyDictionary<string, IReadOnlyList<string>> hashes,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        List<Approval> approvals = await db.ApprovalsOfAsync(post, cancellation);
        return key => hashes.GetValueOrDefault(key)?.All(h => approvals.Exists(a => a.Covers(key, h)));
    }

    private static async Task<PostView> AddAsync(
        Id<Workspace> workspaceId,
        PostEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        PostChecking checking,
        CancellationToken cancellation
    )
    {
        Instant now = await clock.NowAsync(cancellation);
        await RoomAsync(workspaceId, 1, db, cancellation);
        Post post = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<Post>.New(),
            Title = "",
            CategoryId = edit.CategoryId,
            Version = 0,
        };
        await FillAsync(post, edit, http.Actor(), !http.May(Right.Approve), now, db, checking, cancellation);
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.PostWritten, post.Title));
        db.Posts.Add(post);
        await db.SaveChangesAsync(cancellation);
        return await ViewAsync(post, db, checking, cancellation);
    }

    private static async Task<PostView> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        HttpContext http,
        LarkDb db,
        PostChecking checking,
        CancellationToken cancellation
    )
    {
        Post post = await FindAsync(workspaceId, id, db, cancellation);
        if (!http.Caller().SeesAll && post.Stage is Stage.Idea or Stage.Draft)
            throw ProblemException.NotFound("This post");
        return await ViewAsync(post, db, checking, cancellation);
    }

    private static async Task<PostView> SaveAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        PostEdit edit,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        PostChecking checking,
        NetworkBook networks,
        CancellationToken cancellation
    )
    {
        Post post = await FindAsync(workspaceId, id, db, cancellation);
        if (!int.TryParse(ifMatch?.Trim('"'), out int version))
            throw ProblemException.BadInput("Say in If-Match which version of the post you changed.");
        if (version != post.Version)
            throw ProblemException.Outdated(
                "Somebody else changed this post since you opened it. Nothing of yours is lost: compare, then save again."
            );
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.PostEdited, post.Title));
        PostContent before = post.Content;
        await FillAsync(post, edit, http.Actor(), !http.May(Right.Approve), now, db, checking, cancellation);
        string changed = ContentDifference.Summary(before.DifferencesTo(post.Content, ContentSources.None), networks);
        if (changed.Length > 0)
            act.Act = new(ActCode.PostEdited, [.. act.Act.Values, changed]);
        await db.SaveChangesAsync(cancellation);
        return await ViewAsync(post, db, checking, cancellation);
    }

    /// <summary>Takes the post out of the bank; deliveries still to come are cancelled, sent ones and their results stay.</summary>
    private static async Task<PostRemoved> RemoveAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Post post = await FindAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        var act = db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.PostRemoved, post.Title));
        int cancelled = await db.TakeOutAsync(post, now, cancellation);
        // Taking out what is to go out decides what goes out.
        if (cancelled > 0)
            http.Demand(Right.Schedule);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value, cancelled);
    }

    /// <summary>Refuses more posts than a bank may hold.</summary>
    internal static async Task RoomAsync(Id<Workspace> workspace, int more, LarkDb db, CancellationToken cancellation) =>
        Inputs.Room(
            await db.Posts.CountAsync(p => p.WorkspaceId == workspace && p.RemovedAt == null, cancellation),
            more,
            WorkspaceLimits.Posts,
            "posts"
        );

    internal static async Task<Post> FindAsync(Id<Workspace> workspace, Id<Post> id, LarkDb db, CancellationToken cancellation) =>
        await db.Posts.SingleOrDefaultAsync(p => p.WorkspaceId == workspace && p.Id == id && p.RemovedAt == null, cancellation)
        ?? throw ProblemException.NotFound("This post");

    /// <summary>Takes over an edit: checks it against all networks and writes a version when the content changed.</summary>
    /// <param name="needsOthers">True for somebody who may not approve: whatever they make or change waits for somebody who may.</param>
    internal static async Task FillAsync(
        Post post,
        PostEdit edit,
        Actor? by,
        bool needsOthers,
        Instant now,
        LarkDb db,
        PostChecking checking,
        CancellationToken cancellation
    )
    {
        List<Category> categories = await db
            .Categories.AsNoTracking()
            .Where(c => c.WorkspaceId == post.WorkspaceId)
            .ToListAsync(cancellation);
        Category category =
            categories.FirstOrDefault(c => c.Id == edit.CategoryId)
            ?? throw ProblemException.BadInput("This category isn't in the workspace. Choose another.");
        List<Id<Category>> further = [.. (edit.FurtherCategories ?? []).Distinct().Where(c => c != edit.CategoryId)];
        if (!further.All(f => categories.Any(c => c.Id == f)))
            throw ProblemException.BadInput("One of the further categories isn't in the workspace. Choose another.");
        if (edit.To < edit.From)
            throw ProblemException.BadInput("The post's last date lies before its first. Swap them.");
        PostContent content = checking.Tidy(edit.Content);
        string title = (edit.Title ?? "").Trim();
        post.Title = title.Length > 0 ? title : "Untitled";
        bool wasReady = post.Stage == Stage.Ready;
        (post.CategoryId, post.Lifespan, post.InRotation) = (edit.CategoryId, edit.Lifespan, edit.InRotation);
        post.Notes = edit.Notes ?? post.Notes;
        post.Channels = edit.Channels is null ? null : await db.KnownChannelsAsync(post.WorkspaceId, edit.Channels, cancellation);
        (post.FurtherCategories, post.From, post.To, post.GapDays) = (further, edit.From, edit.To, edit.GapDays);

        var (checks, _) = await checking.CheckAsync(post.WorkspaceId, content, cancellation);
        post.Take(checks);
        bool isNew = post.Version == 0;
        bool changed = isNew || !post.Content.Same(content);
        // Whoever may approve and makes it ready asks nobody but its categories; others' work waits, and so does what they leave as it
        // waits.
        bool asks = needsOthers && (changed || !wasReady || post.AsksForApproval);
        bool categoryAsks = categories.AskFor(post);
        // Saved as it waits: for whom it waits stays as it is. Otherwise somebody asks for it now.
        if (edit.Stage == Stage.WaitingForApproval)
            asks |= post.Stage != Stage.WaitingForApproval || post.AsksForApproval || !categoryAsks;
        if (edit.Stage is Stage.Ready or Stage.WaitingForApproval)
            post.MakeReady(categoryAsks, asks);
        else
            post.PutBackTo(edit.Stage);
        if (!isNew)
            await db.ReconsiderAsync(post.WorkspaceId, [post], now, cancellation);
        if (post.Stage is Stage.Ready or Stage.WaitingForApproval)
            post.AddedAt ??= now;
        post.Content = content;
        post.Version++;
        if (changed)
            db.PostVersions.Add(
                new()
                {
                    WorkspaceId = post.WorkspaceId,
                    PostId = post.Id,
                    Number = post.Version,
                    Content = content,
                    MadeAt = now,
                    By = by,
                }
            );
    }

    internal static async Task<PostView> ViewAsync(Post post, LarkDb db, PostChecking checking, CancellationToken cancellation)
    {
        var (checks, pictures) = await checking.CheckAsync(post.WorkspaceId, post.Content, cancellation);
        bool asks = await db.NeedsApprovalAsync(post, cancellation);
        Func<string, bool?>? approved = asks ? await ApprovedAsync(post, post.Hashes, db, cancellation) : null;
        List<Delivery> deliveries = await db
            .Deliveries.AsNoTracking()
            .Where(d => d.WorkspaceId == post.WorkspaceId && d.PostId == post.Id && d.State != DeliveryState.Cancelled)
            .OrderByDescending(d => d.At)
            .Take(100)
            .ToListAsync(cancellation);
        return new(
            post.Id,
            post.Version,
            post.Title,
            post.CategoryId,
            post.Stage,
            post.Lifespan,
            post.InRotation,
            post.Channels,
            post.Content,
            [.. pictures.Select(MediaView.Of)],
            PostChecking.Views(checks, approved),
            [.. deliveries.Select(PostPlanning.View)],
            post.AddedAt,
            post.FurtherCategories,
            post.From,
            post.To,
            post.GapDays,
            post.SentBack,
            post.Notes,
            post.OutsideId
        );
    }
}

/// <param name="Cancelled">Deliveries still to come that were cancelled with it.</param>
public sealed record PostRemoved(Guid ChangeSetId, int Cancelled);
