using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
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
    private const int MostListed = 500;
    private const int LongestNote = 500;

    public static void MapPosts(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/posts", ListAsync).Needs(Right.View);
        workspace.MapPost("/posts", AddAsync).Needs(Right.Write);
        workspace.MapPost("/posts/check", CheckAsync).Needs(Right.Write);
        workspace.MapGet("/posts/{id}", ShowAsync).Needs(Right.View);
        workspace.MapPut("/posts/{id}", SaveAsync).Needs(Right.Write);
        workspace.MapDelete("/posts/{id}", RemoveAsync).Needs(Right.Write);
        workspace.MapPost("/posts/{id}/approve", ApproveAsync).Needs(Right.Approve);
        workspace.MapPost("/posts/{id}/send-back", SendBackAsync).Needs(Right.Approve);
    }

    private static async Task<PostList> ListAsync(
        Id<Workspace> workspaceId,
        Id<Category>? category,
        QueryWord<Stage>? stage,
        string? search,
        bool? sentBack,
        HttpContext http,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        string words = PostSearch.Fold((search ?? "").Replace("\0", "", StringComparison.Ordinal).Trim());
        string pattern =
            "%"
            + words
                .Replace(@"\", @"\\", StringComparison.Ordinal)
                .Replace("%", @"\%", StringComparison.Ordinal)
                .Replace("_", @"\_", StringComparison.Ordinal)
            + "%";
        IQueryable<Post> posts = words.Length == 0 ? db.Posts : db.Posts.Where(p => EF.Functions.Like(p.SearchText, pattern, @"\"));
        posts = posts.AsNoTracking().Where(p => p.WorkspaceId == workspaceId && p.RemovedAt == null);
        if (category is { } c)
            posts = posts.Where(p => p.CategoryId == c);
        if (stage is { Value: var s })
            posts = posts.Where(p => p.Stage == s);
        // A client sees what is planned and what waits for them, not what is being written.
        if (http.Role() == Role.Client)
            posts = posts.Where(p => p.Stage == Stage.Ready || p.Stage == Stage.WaitingForApproval);
        if (sentBack is { } back)
            posts = posts.Where(p => (p.SentBack != null) == back);
        int total = await posts.CountAsync(cancellation);
        List<Post> found = await posts
            .OrderByDescending(p => p.AddedAt ?? Instant.MaxValue)
            .ThenBy(p => p.AddedOrder)
            .ThenByDescending(p => p.Id)
            .Take(MostListed)
            .ToListAsync(cancellation);
        Dictionary<Id<Post>, PostTurns> turns = await TurnsAsync(workspaceId, [.. found.Select(p => p.Id)], db, cancellation);
        Dictionary<Id<Channel>, string> networks = await db
            .Channels.Where(c => c.WorkspaceId == workspaceId)
            .ToDictionaryAsync(c => c.Id, c => c.Network, cancellation);
        Dictionary<Id<Category>, Category> categories = await db
            .Categories.AsNoTracking()
            .Where(c => c.WorkspaceId == workspaceId)
            .ToDictionaryAsync(c => c.Id, cancellation);
        return new(total, [.. found.Select(p => Line(p, turns.GetValueOrDefault(p.Id), UsedBy(p)))]);

        HashSet<string> UsedBy(Post p) => [.. p.ChannelsOr(categories[p.CategoryId]).Where(networks.ContainsKey).Select(c => networks[c])];
    }

    private sealed record PostTurns(int Sent, Instant? Last, Instant? Next);

    private static async Task<Dictionary<Id<Post>, PostTurns>> TurnsAsync(
        Id<Workspace> workspace,
        List<Id<Post>> ids,
        LarkDb db,
        CancellationToken cancellation
    ) =>
        await db
            .Deliveries.Where(d => d.WorkspaceId == workspace && ids.Contains(d.PostId))
            .GroupBy(d => d.PostId)
            .Select(g => new
            {
                g.Key,
                Sent = g.Count(d => d.State == DeliveryState.Sent),
                Last = g.Max(d => d.State == DeliveryState.Sent ? d.SentAt : null),
                Next = g.Min(d => d.State == DeliveryState.Planned ? (Instant?)d.At : null),
            })
            .ToDictionaryAsync(t => t.Key, t => new PostTurns(t.Sent, t.Last, t.Next), cancellation);

    private static PostLine Line(Post p, PostTurns? turns, HashSet<string> used) =>
        new(
            p.Id,
            p.Title,
            p.CategoryId,
            p.Stage,
            p.Lifespan,
            p.InRotation,
            p.Content.Text.Length > 180 ? p.Content.Text[..180] + "…" : p.Content.Text,
            p.Content.PictureId?.Value,
            p.AddedAt,
            p.Fits.Where(f => !f.Value.Fits && used.Contains(f.Key)).ToDictionary(f => f.Key, f => f.Value.Block!),
            turns?.Sent ?? 0,
            turns?.Last,
            turns?.Next,
            p.SentBack,
            p.Version
        );

    /// <param name="post">The post that the content would be saved to: then each network says whether it would have approval.</param>
    private static async Task<IReadOnlyList<NetworkCheck>> CheckAsync(
        Id<Workspace> workspaceId,
        PostContent content,
        Guid? post,
        HttpContext http,
        LarkDb db,
        PostChecking checking,
        CancellationToken cancellation
    )
    {
        // While somebody types, a link may be half written: it is checked as text, not refused.
        PostContent tidy = checking.Tidy(content with { Link = content.Link is { } link && WebAddress.IsValid(link.Trim()) ? link : null });
        var (checks, pictures) = await checking.CheckAsync(workspaceId, tidy, cancellation);
        if (post is not { } id)
            return PostChecking.Views(checks);
        Post saved = await FindAsync(workspaceId, new(id), db, cancellation);
        bool asks =
            saved.AsksForApproval
            || (!http.Role().May(Right.Approve) && !saved.Content.Same(tidy))
            || await db.CategoryAsksAsync(saved, cancellation);
        return PostChecking.Views(
            checks,
            asks ? await ApprovedAsync(saved, PostChecking.Hashes(checks, pictures), db, cancellation) : null
        );
    }

    private static async Task<Func<string, bool?>> ApprovedAsync(
        Post post,
        IReadOnlyDictionary<string, IReadOnlyList<string>> hashes,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        List<Approval> approvals = await db.ApprovalsOfAsync(post, cancellation);
        return network => hashes[network].All(h => approvals.Exists(a => a.Covers(network, h)));
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
        await FillAsync(post, edit, http.PersonId(), !http.Role().May(Right.Approve), now, db, checking, cancellation);
        db.BeginAct(workspaceId, http.PersonId(), now, $"Wrote “{post.Title}”");
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
        if (http.Role() == Role.Client && post.Stage is Stage.Idea or Stage.Draft)
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
        db.BeginAct(workspaceId, http.PersonId(), now, $"Edited “{post.Title}”");
        await FillAsync(post, edit, http.PersonId(), !http.Role().May(Right.Approve), now, db, checking, cancellation);
        await db.SaveChangesAsync(cancellation);
        return await ViewAsync(post, db, checking, cancellation);
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
        Post post = await FindAsync(workspaceId, id, db, cancellation);
        if (!int.TryParse(ifMatch?.Trim('"'), out int version))
            throw ProblemException.BadInput("Say in If-Match which version of the post you read.");
        if (post.Stage != Stage.WaitingForApproval)
            throw ProblemException.Conflict("This post isn't waiting for approval.");
        if (version != post.Version)
            throw ProblemException.Outdated("The post was changed since you read it. Read it again, then approve it.");
        string why = await WhyOwnAsync(post, http.PersonId(), db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.PersonId(), now, $"Approved “{post.Title}”{why}");
        db.Approvals.Add(post.Approve(http.PersonId(), now));
        await db.ReconsiderAsync(workspaceId, [post], now, cancellation);
        post.Version++;
        await db.SaveChangesAsync(cancellation);
        return await ViewAsync(post, db, checking, cancellation);
    }

    /// <summary>Whoever changed a post last doesn't approve it, unless the workspace allows that or nobody else may; what the log then
    /// says.</summary>
    private static async Task<string> WhyOwnAsync(Post post, Guid person, LarkDb db, CancellationToken cancellation)
    {
        Guid? changedBy = await db
            .PostVersions.Where(v => v.WorkspaceId == post.WorkspaceId && v.PostId == post.Id)
            .OrderByDescending(v => v.Number)
            .Select(v => v.MadeBy)
            .FirstOrDefaultAsync(cancellation);
        if (changedBy != person)
            return "";
        if (await db.Workspaces.Where(w => w.Id == post.WorkspaceId).Select(w => w.AllowsOwnApproval).SingleAsync(cancellation))
            return " (changed by the same person, as the workspace allows)";
        List<Role> others = await db
            .Memberships.Where(m => m.WorkspaceId == post.WorkspaceId && m.PersonId != person)
            .Select(m => m.Role)
            .ToListAsync(cancellation);
        if (!others.Any(r => r.May(Right.Approve)))
            return " (changed by the same person; nobody else may approve)";
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
        Post post = await FindAsync(workspaceId, id, db, cancellation);
        string note = (request.Note ?? "").Trim();
        if (note.Length == 0)
            throw ProblemException.BadInput("Say what is asked for, so that whoever writes it knows what to change.");
        if (note.Length > LongestNote)
            throw ProblemException.BadInput($"The note has {note.Length} characters; {LongestNote} is the most.");
        if (post.Stage != Stage.WaitingForApproval)
            throw ProblemException.Conflict("This post isn't waiting for approval.");
        db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), $"Sent “{post.Title}” back");
        post.SendBack(note);
        post.Version++;
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
        var act = db.BeginAct(workspaceId, http.PersonId(), now, $"Removed “{post.Title}”");
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
        Guid? person,
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
        CategoryEndpoints.CheckPlan(edit.GapDays, null);
        PostContent content = checking.Tidy(edit.Content);
        string title = (edit.Title ?? "").Trim();
        if (title.Length > Inputs.LongestName)
            throw ProblemException.BadInput($"The title has {title.Length} characters; {Inputs.LongestName} is the most.");
        post.Title = title.Length > 0 ? title : "Untitled";
        bool wasReady = post.Stage == Stage.Ready;
        (post.CategoryId, post.Lifespan, post.InRotation) = (edit.CategoryId, edit.Lifespan, edit.InRotation);
        post.Channels = edit.Channels is null ? null : await db.KnownChannelsAsync(post.WorkspaceId, edit.Channels, cancellation);
        (post.FurtherCategories, post.From, post.To, post.GapDays) = (further, edit.From, edit.To, edit.GapDays);

        var (checks, pictures) = await checking.CheckAsync(post.WorkspaceId, content, cancellation);
        (post.Fits, post.Hashes) = (PostChecking.Fits(checks), PostChecking.Hashes(checks, pictures));
        bool isNew = post.Version == 0;
        bool changed = isNew || !post.Content.Same(content);
        // Whoever may approve and makes it ready asks nobody but its categories; others' work waits, and so does what they leave as it
        // waits.
        bool asks = needsOthers && (changed || !wasReady || post.AsksForApproval);
        bool categoryAsks = categories.Any(c => c.NeedsApproval && post.HasCategory(c.Id));
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
                    MadeBy = person,
                }
            );
    }

    private static async Task<PostView> ViewAsync(Post post, LarkDb db, PostChecking checking, CancellationToken cancellation)
    {
        var (checks, pictures) = await checking.CheckAsync(post.WorkspaceId, post.Content, cancellation);
        bool asks = post.AsksForApproval || await db.CategoryAsksAsync(post, cancellation);
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
            post.SentBack
        );
    }
}

/// <param name="Cancelled">Deliveries still to come that were cancelled with it.</param>
public sealed record PostRemoved(Guid ChangeSetId, int Cancelled);
