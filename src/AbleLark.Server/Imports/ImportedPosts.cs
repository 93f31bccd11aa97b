using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Imports;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using AbleLark.Server.Posts;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <summary>Makes of an import's entries what is written of them.</summary>
internal static class ImportedPosts
{
    public static PostVersion Version(Post post, Importer importer, Instant now) =>
        new()
        {
            WorkspaceId = post.WorkspaceId,
            PostId = post.Id,
            Number = post.Version,
            Content = post.Content,
            MadeAt = now,
            By = importer.By,
        };

    /// <summary>Begins as its category says: waiting for approval where that is asked for, out of the rotation where new posts stay
    /// out.</summary>
    public static Post NewPost(BookEntry entry, Id<Workspace> workspace, Importer importer, Instant now)
    {
        ImportDraft draft = entry.Draft;
        Category category = draft.Category!;
        EntryChecks checks = entry.Checks!;
        Post post = new()
        {
            WorkspaceId = workspace,
            Id = Id<Post>.New(),
            Title = draft.Title,
            CategoryId = category.Id,
            FurtherCategories = [.. draft.First.FurtherCategories],
            Channels = draft.Channels is null ? null : [.. draft.Channels],
            Lifespan = draft.Lifespan,
            GapDays = draft.GapDays,
            From = draft.First.From,
            To = draft.First.To,
            // With a time of its own it goes out then, not by rotation as well.
            InRotation = draft.Times.Count == 0 && category.NewPostsRotate,
            AddedAt = now,
            AddedOrder = draft.Number,
            Notes = draft.First.Notes,
            OutsideId = draft.First.OutsideId,
            Content = checks.Content,
            Fits = checks.Fits.ToDictionary(),
            Hashes = checks.Hashes,
            CheckedBy = checks.Rules,
            SearchText = PostSearch.TextOf(draft.Title, checks.Content),
            FileIds = [.. checks.Content.AllFiles().Order()],
        };
        post.MakeReady(category.NeedsApproval, asks: !importer.MayApprove);
        return post;
    }

    public static List<Delivery> Deliveries(BookEntry entry, Post post, Workspace workspace, ImportContext context)
    {
        List<Delivery> made = [];
        foreach (DraftTime time in entry.Draft.Times)
        {
            if (Occurrences.InstantOf(time.Local.Date, time.Local.TimeOfDay, workspace.Zone) is not { } at)
                continue;
            foreach (Channel channel in context.Channels.Where(c => time.Channels.Contains(c.Id)))
            {
                if (channel.Connection == ConnectionState.Disconnected || post.FitOn(channel) is not { FirstWording: { } wording })
                    continue;
                Delivery delivery = Delivery.AtExactTime(workspace, post.Id, channel.Id, at, wording);
                delivery.WaitOrGo(post, channel);
                made.Add(delivery);
            }
        }
        return made;
    }

    /// <summary>A post that was there takes over what its row says.</summary>
    /// <returns>The version that is to be kept; null: it says what it said.</returns>
    public static PostVersion? Take(Post post, BookEntry entry, ImportContext context, Importer importer, Instant now)
    {
        PostUpdate update = entry.Update!;
        EntryChecks checks = entry.Checks!;
        bool changed = !post.Content.Same(checks.Content);
        (post.Title, post.CategoryId, post.Lifespan, post.GapDays) = (update.Title, update.CategoryId, update.Lifespan, update.GapDays);
        (post.From, post.To, post.Notes) = (update.From, update.To, update.Notes);
        post.FurtherCategories = [.. update.FurtherCategories];
        post.Channels = update.Channels is null ? null : [.. update.Channels];
        (post.Fits, post.Hashes, post.CheckedBy) = (checks.Fits.ToDictionary(), checks.Hashes, checks.Rules);
        if (post.Stage is Stage.Ready or Stage.WaitingForApproval)
            post.MakeReady(context.Categories.AskFor(post), asks: (!importer.MayApprove && changed) || post.AsksForApproval);
        post.Content = checks.Content;
        post.Version++;
        return changed ? Version(post, importer, now) : null;
    }
}
