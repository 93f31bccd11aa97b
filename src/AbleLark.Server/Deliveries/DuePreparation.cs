using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Deliveries;

/// <summary>
/// Decides, when their time has come, which deliveries of a workspace go: what waits for a yes goes with one; without, its stand-by goes, or
/// nothing. What isn't sent returns to the front of its line. What is too late, or due while everything is held, is missed.
/// </summary>
public sealed class DuePreparation(LarkDb db)
{
    private const int MostAtOnce = 500;

    /// <summary>The time of the oldest delivery that is due and neither sent nor given up; null when there is none.</summary>
    public Task<Instant?> OldestDueAsync(Instant now, CancellationToken cancellation) => db.Deliveries
        .Where(d => d.State == DeliveryState.Sending || (d.At <= now && (d.State == DeliveryState.Planned || d.State == DeliveryState.AwaitingYes || d.State == DeliveryState.StandBy)))
        .MinAsync(d => (Instant?)d.At, cancellation);

    /// <summary>Workspaces in which something is due.</summary>
    public Task<List<Id<Workspace>>> WorkspacesAsync(Instant now, CancellationToken cancellation) => db.Deliveries
        .Where(d => d.At <= now && (d.State == DeliveryState.Planned || d.State == DeliveryState.AwaitingYes || d.State == DeliveryState.StandBy))
        .Select(d => d.WorkspaceId).Distinct().ToListAsync(cancellation);

    public async Task RunAsync(Id<Workspace> id, Instant now, CancellationToken cancellation)
    {
        // As a whole: a process killed half-way must not leave a stand-by behind that nobody looks for.
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        try
        {
            await AnswerHeldAsync(id, now, cancellation);
            Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == id, cancellation);
            IQueryable<Delivery> due = db.Deliveries.Where(d => d.WorkspaceId == id && d.State == DeliveryState.Planned && d.At <= now).OrderBy(d => d.At).Take(MostAtOnce);
            if (await db.IsHeldAsync(workspace, now, cancellation))
                await MissAsync(due, HeldWords, cancellation);
            else
                await MissAsync(due.Where(d => d.At < now - workspace.LateAfter), "Its time passed while nothing could be sent.", cancellation);
            await db.SaveChangesAsync(cancellation);
            await transaction.CommitAsync(cancellation);
        }
        catch (DbUpdateConcurrencyException)
        {
            // Another process, or a person, took one of them meanwhile; the next pass looks again.
        }
    }

    public const string HeldWords = "Everything was held when its time came.";

    private async Task AnswerHeldAsync(Id<Workspace> id, Instant now, CancellationToken cancellation)
    {
        List<Delivery> waiting = await db.Deliveries.Where(d => d.WorkspaceId == id && d.At <= now && (d.State == DeliveryState.AwaitingYes || d.State == DeliveryState.StandBy))
            .OrderBy(d => d.At).Take(MostAtOnce).ToListAsync(cancellation);
        if (waiting.Count == 0) return;
        List<Id<Post>> posts = [.. waiting.Select(d => d.PostId).Distinct()];
        HashSet<Id<Post>> withYes = [.. await db.Posts.Where(p => p.WorkspaceId == id && posts.Contains(p.Id) && p.Stage == Stage.Ready).Select(p => p.Id).ToListAsync(cancellation)];
        List<Delivery> standBys = [];
        foreach (Delivery held in waiting.Where(d => d.State == DeliveryState.AwaitingYes))
        {
            Delivery? standBy = waiting.FirstOrDefault(d => d.State == DeliveryState.StandBy && d.Key == held.Key && d.ChannelId == held.ChannelId);
            if (withYes.Contains(held.PostId))
            {
                held.Become(DeliveryState.Planned);
                if (standBy is not null) Miss(standBy, "Not needed: the post before it had its yes in time.", dealtWith: true);
                continue;
            }
            Miss(held, "It had no yes in time.", dealtWith: standBy is not null);
            if (standBy is not null) standBys.Add(standBy);
        }
        // First the places are free, then others take them.
        await db.SaveChangesAsync(cancellation);
        foreach (Delivery standBy in standBys) standBy.Become(DeliveryState.Planned);
        await db.SaveChangesAsync(cancellation);
    }

    private static async Task MissAsync(IQueryable<Delivery> which, string trouble, CancellationToken cancellation)
    {
        foreach (Delivery delivery in await which.ToListAsync(cancellation)) Miss(delivery, trouble, dealtWith: false);
    }

    private static void Miss(Delivery delivery, string trouble, bool dealtWith)
    {
        delivery.Become(DeliveryState.Missed);
        (delivery.Trouble, delivery.DealtWith) = (trouble, dealtWith);
    }
}

internal static class Holds
{
    /// <summary>True while a person holds everything of the workspace.</summary>
    public static async Task<bool> IsHeldAsync(this LarkDb db, Workspace workspace, Instant now, CancellationToken cancellation)
    {
        LocalDate today = workspace.DateOf(now);
        return (await db.Pauses.AsNoTracking().Where(p => p.WorkspaceId == workspace.Id && p.What == Paused.Workspace).ToListAsync(cancellation)).Any(p => p.HoldsOn(today));
    }
}
