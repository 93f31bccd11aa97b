using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Media;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Deliveries;
using AbleLark.Data.Posts;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data.Undoing;

/// <summary>How what a workspace holds is taken back, but for what has a file of its own.</summary>
internal static class UndoRules
{
    public static UndoRule Workspace { get; } =
        UndoRule.Stays("A workspace stays once it is made.") with
        {
            PostsRestOn = [nameof(Core.Workspaces.Workspace.ButtonVerbs)],
        };

    private const string Connection = "A connection does not come back by itself: connect the channel again.";

    public static UndoRule Channel { get; } =
        UndoRule.Stays("A channel that was connected stays; disconnect it in Set-up, if it is to go.") with
        {
            Staying = new Dictionary<string, string>
            {
                [nameof(Core.Channels.Channel.Connection)] = Connection,
                [nameof(Core.Channels.Channel.ConnectionTrouble)] = Connection,
            },
            PostsRestOn = [nameof(Core.Channels.Channel.Figures)],
        };

    /// <summary>What mentions it says its name then, and is checked anew.</summary>
    public static UndoRule Contact { get; } = UndoRule.Deleted with { PostsRestOn = [] };

    /// <summary>Files stay; whoever wants one away takes it out of the workspace's media.</summary>
    public static UndoRule Media { get; } =
        UndoRule.Of<MediaFile>((_, _, _) => Task.CompletedTask) with
        {
            PostsRestOn = [nameof(MediaFile.AltText)],
        };

    public static UndoRule Category { get; } =
        UndoRule.Of<Category>(
            async (undo, category, cancellation) =>
            {
                bool isUsed =
                    await undo.Db.Posts.AnyAsync(p => p.WorkspaceId == category.WorkspaceId && p.CategoryId == category.Id, cancellation)
                    || await undo.Db.HasSlotsAsync(category.WorkspaceId, category.Id, cancellation);
                if (isUsed)
                {
                    undo.Keep($"“{category.Name}” has posts or slots by now, so it stays.");
                    return;
                }
                undo.Db.Remove(category);
                undo.Count();
            }
        ) with
        {
            Afterwards = async (undo, row, properties, cancellation) =>
            {
                if (properties.Contains(nameof(Core.Categories.Category.NeedsApproval)))
                    undo.Touched.UnionWith(await undo.Db.InCategoryAsync((Category)row, cancellation));
            },
        };

    public static UndoRule Rota { get; } =
        UndoRule.Of<Rota>(
            (undo, rota, _) =>
            {
                rota.RemovedAt ??= undo.Now;
                undo.Count();
                return Task.CompletedTask;
            }
        ) with
        {
            Afterwards = (_, row, _, _) =>
            {
                ((Rota)row).Version++;
                return Task.CompletedTask;
            },
        };

    public static UndoRule Slot { get; } =
        UndoRule.Of<Slot>(
            (undo, slot, _) =>
            {
                slot.RemovedAt ??= undo.Now;
                undo.Count();
                return Task.CompletedTask;
            }
        );

    public static UndoRule KeyDate { get; } =
        UndoRule.Of<KeyDate>(
            async (undo, keyDate, cancellation) =>
            {
                await undo.Db.RemoveKeyDatesAsync(keyDate.WorkspaceId, [keyDate], cancellation);
                undo.Count();
            }
        );

    public static UndoRule KeyDateKind { get; } =
        UndoRule.Of<KeyDateKind>(
            async (undo, kind, cancellation) =>
            {
                // What this taking back has removed so far no longer counts.
                KeyDate[] dates =
                [
                    .. await undo
                        .Db.KeyDates.Where(d => d.WorkspaceId == kind.WorkspaceId && d.KindId == kind.Id)
                        .ToListAsync(cancellation),
                ];
                bool isUsed =
                    dates.Any(d => undo.Db.Entry(d).State != EntityState.Deleted)
                    || await undo.Db.CalendarSources.AnyAsync(s => s.WorkspaceId == kind.WorkspaceId && s.KindId == kind.Id, cancellation);
                if (isUsed)
                {
                    undo.Keep($"“{kind.Name}” is the kind of key dates or calendars by now, so it stays.");
                    return;
                }
                undo.Db.Remove(kind);
                undo.Count();
            }
        );

    public static UndoRule CalendarSource { get; } =
        UndoRule.Of<CalendarSource>(
            async (undo, source, cancellation) => undo.Count(await undo.Db.RemoveSourceAsync(source, cancellation))
        );

    public static UndoRule Approval { get; } =
        UndoRule.Of<Approval>(
            async (undo, approval, cancellation) =>
            {
                undo.Db.Remove(approval);
                if (await undo.Db.FindAsync<Post>([approval.WorkspaceId, approval.PostId], cancellation) is { } covered)
                    undo.Touched.Add(covered);
                undo.Count();
            }
        ) with
        {
            StaysRemoved = "An approval does not come back by itself: it is given again, by whoever reads the post.",
        };

    public static UndoRule Post { get; } =
        UndoRule.Of<Post>(
            (undo, post, _) =>
            {
                TakeOut(undo, post);
                return Task.CompletedTask;
            }
        ) with
        {
            Afterwards = (undo, row, properties, _) =>
            {
                BringBack(undo, (Post)row, properties.Contains(nameof(Core.Posts.Post.Content)));
                return Task.CompletedTask;
            },
        };

    private static void TakeOut(UndoScope undo, Post post)
    {
        Delivery[] deliveries = [.. undo.Reach.DeliveriesOf[post.Id]];
        if (deliveries.Any(d => Out.Contains(d.State)))
        {
            undo.Keep($"“{post.Title}” has been sent, so it stays in the bank.");
        }
        else if (undo.Reach.ChangedSince.Contains(post.Id))
        {
            undo.Keep($"“{post.Title}” has been changed since, so it stays.");
        }
        else
        {
            PostRemoval.TakeOut(post, deliveries, undo.Now);
            undo.Count();
        }
    }

    private static void BringBack(UndoScope undo, Post post, bool says)
    {
        post.Version++;
        undo.Touched.Add(post);
        if (!says)
            return;
        // Words that come back are what this person makes of the post, whatever it was when they stood there before.
        if (undo.NeedsOthers && post.Stage is Stage.Ready or Stage.WaitingForApproval)
            post.AskForApproval();
        undo.Db.PostVersions.Add(
            new PostVersion
            {
                WorkspaceId = post.WorkspaceId,
                PostId = post.Id,
                Number = post.Version,
                Content = post.Content,
                MadeAt = undo.Now,
                By = undo.By,
            }
        );
    }

    /// <summary>States of a delivery that has gone out, may have, or is on its way.</summary>
    private static readonly DeliveryState[] Out =
    [
        DeliveryState.Sending,
        DeliveryState.Sent,
        DeliveryState.MayHaveGoneOut,
        DeliveryState.PostItYourself,
    ];
}
