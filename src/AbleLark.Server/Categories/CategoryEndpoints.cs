using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Orders;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Categories;

/// <param name="Posts">Posts in the bank with this main category.</param>
public sealed record CategoryView(
    Id<Category> Id,
    string Name,
    string Colour,
    string Monogram,
    IReadOnlyList<Id<Channel>> UsualChannels,
    int Posts,
    OrderRule Order,
    int? GapDays,
    Lifespan Lifespan,
    IReadOnlyList<string> Hashtags,
    bool NeedsApproval,
    bool NewPostsRotate,
    double? TargetShare
);

/// <summary>A category as somebody wants it; what is left out is as for a new one.</summary>
/// <param name="Hashtags">What a new post starts with, with or without the sign.</param>
/// <param name="TargetShare">0 to 1.</param>
public sealed record CategoryEdit(
    [Named("the category")] string Name,
    string Colour,
    string Monogram,
    IReadOnlyList<Id<Channel>> UsualChannels,
    OrderRule? Order = null,
    [Range(1, 730, ErrorMessage = "A repeat gap lies between 1 and 730 days.")] int? GapDays = null,
    Lifespan Lifespan = Lifespan.Evergreen,
    IReadOnlyList<string>? Hashtags = null,
    bool NeedsApproval = false,
    bool NewPostsRotate = true,
    [Range(0.0, 1.0, ErrorMessage = "A target share lies between 0 and 100 %.")] double? TargetShare = null
);

public static class CategoryEndpoints
{
    /// <summary>Colours of the interface's palette, by name.</summary>
    public static IReadOnlyList<string> Palette { get; } =
    ["tide", "gorse", "heather", "reed", "rust", "slate", "thrift", "kelp", "dune", "dusk"];

    private const int MostHashtags = 30;

    public static void MapCategories(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/categories", ListAsync).Needs(Right.View);
        workspace.MapPost("/categories", AddAsync).Needs(Right.SetUp).InTurn();
        workspace.MapPut("/categories/{id}", EditAsync).Needs(Right.SetUp);
        workspace.MapDelete("/categories/{id}", RemoveAsync).Needs(Right.SetUp);
        workspace.MapPost("/categories/{id}/draw", DrawAsync).Needs(Right.SetUp);
    }

    private static async Task<List<CategoryView>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation)
    {
        var found = await db
            .Categories.AsNoTracking()
            .Where(c => c.WorkspaceId == workspaceId)
            .OrderBy(c => c.Position)
            .ThenBy(c => c.Name)
            .Select(c => new
            {
                Category = c,
                Posts = db.Posts.Count(p => p.WorkspaceId == workspaceId && p.CategoryId == c.Id && p.RemovedAt == null),
            })
            .ToListAsync(cancellation);
        return [.. found.Select(f => View(f.Category, f.Posts))];
    }

    /// <summary>Draws a new order for a shuffled category.</summary>
    private static async Task<ActDone> DrawAsync(
        Id<Workspace> workspaceId,
        Id<Category> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Category category = await FindAsync(workspaceId, id, db, cancellation);
        if (category.Order.Order != Order.Shuffled)
            throw ProblemException.Conflict($"{category.Name} isn't shuffled: there is no order to draw.");
        ChangeSet act = db.BeginAct(
            workspaceId,
            http.Actor(),
            await clock.NowAsync(cancellation),
            new(ActCode.CategoryShuffled, category.Name)
        );
        category.Order = category.Order with { Seed = category.Order.Seed + 1 };
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<CategoryView> AddAsync(
        Id<Workspace> workspaceId,
        CategoryEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        int there = await db.Categories.CountAsync(c => c.WorkspaceId == workspaceId, cancellation);
        Inputs.Room(there, 1, WorkspaceLimits.Categories, "categories");
        Category category = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<Category>.New(),
            Name = "",
            Colour = "",
            Monogram = "",
            Position = there,
        };
        await FillAsync(category, edit, db, cancellation);
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.CategoryAdded, category.Name));
        db.Categories.Add(category);
        await db.SaveChangesAsync(cancellation);
        return View(category, 0);
    }

    private static async Task<CategoryView> EditAsync(
        Id<Workspace> workspaceId,
        Id<Category> id,
        CategoryEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Category category = await FindAsync(workspaceId, id, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        bool asked = category.NeedsApproval;
        db.BeginAct(workspaceId, http.Actor(), now, new(ActCode.CategoryChanged, category.Name));
        await FillAsync(category, edit, db, cancellation);
        // What is ready and has no approval waits from now on; what waited for the category alone is ready.
        if (category.NeedsApproval != asked)
            await db.ReconsiderAsync(workspaceId, await db.InCategoryAsync(category, cancellation), now, cancellation);
        await db.SaveChangesAsync(cancellation);
        return View(
            category,
            await db.Posts.CountAsync(p => p.WorkspaceId == workspaceId && p.CategoryId == id && p.RemovedAt == null, cancellation)
        );
    }

    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId,
        Id<Category> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Category category = await FindAsync(workspaceId, id, db, cancellation);
        bool used =
            await db.Posts.AnyAsync(p => p.WorkspaceId == workspaceId && p.CategoryId == id, cancellation)
            || await db.HasSlotsAsync(workspaceId, id, cancellation);
        if (used)
            throw ProblemException.Conflict(
                $"{category.Name} has posts or slots, past ones among them. Rename it instead, so that its results stay."
            );
        ChangeSet act = db.BeginAct(
            workspaceId,
            http.Actor(),
            await clock.NowAsync(cancellation),
            new(ActCode.CategoryRemoved, category.Name)
        );
        db.Categories.Remove(category);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<Category> FindAsync(Id<Workspace> workspace, Id<Category> id, LarkDb db, CancellationToken cancellation) =>
        await db.Categories.FindAsync([workspace, id], cancellation) ?? throw ProblemException.NotFound("This category");

    private static async Task FillAsync(Category category, CategoryEdit edit, LarkDb db, CancellationToken cancellation)
    {
        category.Name = edit.Name.Trim();
        if (
            await db.Categories.AnyAsync(
                c => c.WorkspaceId == category.WorkspaceId && c.Id != category.Id && c.Name == category.Name,
                cancellation
            )
        )
            throw ProblemException.Conflict($"There is a category {category.Name} already.");
        if (!Palette.Contains(edit.Colour))
            throw ProblemException.BadInput($"“{edit.Colour}” is not in the palette. Choose one of: {string.Join(", ", Palette)}.");
        string monogram = (edit.Monogram ?? "").Trim();
        if (monogram.Length is 0 or > 2)
            throw ProblemException.BadInput("A monogram is one or two letters.");
        (category.Colour, category.Monogram) = (edit.Colour, monogram);
        (category.Order, category.GapDays, category.TargetShare) = (edit.Order ?? OrderRule.Usual, edit.GapDays, edit.TargetShare);
        (category.Lifespan, category.NeedsApproval, category.NewPostsRotate) = (edit.Lifespan, edit.NeedsApproval, edit.NewPostsRotate);
        category.Hashtags =
        [
            .. (edit.Hashtags ?? [])
                .Select(h => h.Trim().TrimStart('#'))
                .Where(h => h.Length > 0)
                .Distinct(StringComparer.OrdinalIgnoreCase),
        ];
        if (category.Hashtags.Count > MostHashtags || category.Hashtags.Any(h => h.Length > 100 || h.Any(char.IsWhiteSpace)))
            throw ProblemException.BadInput($"Up to {MostHashtags} hashtags, each one word of at most 100 characters.");
        category.UsualChannels = await db.KnownChannelsAsync(category.WorkspaceId, edit.UsualChannels, cancellation);
    }

    /// <summary>The given channels, each once; refused when one isn't this workspace's.</summary>
    public static async Task<List<Id<Channel>>> KnownChannelsAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        IReadOnlyList<Id<Channel>>? given,
        CancellationToken cancellation
    )
    {
        HashSet<Id<Channel>> known =
        [
            .. await db.Channels.Where(c => c.WorkspaceId == workspace).Select(c => c.Id).ToListAsync(cancellation),
        ];
        List<Id<Channel>> wanted = [.. (given ?? []).Distinct()];
        return wanted.All(known.Contains)
            ? wanted
            : throw ProblemException.BadInput("One of the channels isn't in this workspace. Fetch the list again and choose from it.");
    }

    private static CategoryView View(Category c, int posts) =>
        new(
            c.Id,
            c.Name,
            c.Colour,
            c.Monogram,
            c.UsualChannels,
            posts,
            c.Order,
            c.GapDays,
            c.Lifespan,
            c.Hashtags,
            c.NeedsApproval,
            c.NewPostsRotate,
            c.TargetShare
        );
}
