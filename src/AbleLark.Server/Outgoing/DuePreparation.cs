using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Outgoing;

/// <summary>
/// Decides, when their time has come, which deliveries of a workspace go: what waits for approval goes with it; without, its substitute
/// goes, or nothing. What isn't sent returns to the front of its line. What is too late, or due while all sending is stopped, is missed.
/// </summary>
public sealed class DuePreparation(LarkDb db, NetworkBook networks)
{
    private const int MostAtOnce = 500;

    /// <summary>The time of the oldest delivery that is due and neither sent nor given up; null when there is none.</summary>
    public Task<Instant?> OldestDueAsync(Instant now, CancellationToken cancellation) =>
        // With those that are put aside: they are to end, too.
        db
            .Deliveries.IgnoreQueryFilters()
            .Where(d =>
                d.State == DeliveryState.Sending
                || (
                    d.At <= now
                    && (
                        d.State == DeliveryState.Planned
                        || d.State == DeliveryState.WaitingForApproval
                        || d.State == DeliveryState.Substitute
                    )
                )
            )
            .MinAsync(d => (Instant?)d.At, cancellation);

    /// <summary>Workspaces in which something is due.</summary>
    public Task<List<Id<Workspace>>> WorkspacesAsync(Instant now, CancellationToken cancellation) =>
        db
            .Deliveries.Where(d =>
                d.At <= now
                && (d.State == DeliveryState.Planned || d.State == DeliveryState.WaitingForApproval || d.State == DeliveryState.Substitute)
            )
            .Select(d => d.WorkspaceId)
            .Distinct()
            .ToListAsync(cancellation);

    public async Task RunAsync(Id<Workspace> id, Instant now, CancellationToken cancellation)
    {
        // As a whole: a process killed half-way must not leave a substitute behind that nobody looks for.
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        await db.WaitBrieflyAsync(cancellation);
        try
        {
            await AnswerWaitingAsync(id, now, cancellation);
            Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == id, cancellation);
            bool isStopped = await db.IsStoppedAsync(workspace, now, cancellation);
            Instant latest = isStopped ? now : now - workspace.LateAfter;
            List<Delivery> late = await db
                .Deliveries.Where(d => d.WorkspaceId == id && d.State == DeliveryState.Planned && d.At <= latest)
                .OrderBy(d => d.At)
                .Take(MostAtOnce)
                .ToListAsync(cancellation);
            HashSet<Delivery> byPerson = await ByPersonAsync(id, late, cancellation);
            foreach (Delivery delivery in late)
                DueAnswer.Late(delivery, now, workspace.LateAfter, isStopped, byPerson.Contains(delivery))?.Apply();
            await db.SaveChangesAsync(cancellation);
            await transaction.CommitAsync(cancellation);
        }
        catch (DbUpdateConcurrencyException)
        {
            // Another process, or a person, took one of them meanwhile; the next pass looks again.
        }
    }

    /// <summary>Those that their networks take from a person only, as far as they could go.</summary>
    private async Task<HashSet<Delivery>> ByPersonAsync(Id<Workspace> id, List<Delivery> late, CancellationToken cancellation)
    {
        string[] keys = [.. networks.All.Where(n => n.Formats.Any(f => f.ByPerson)).Select(n => n.Key)];
        Dictionary<Id<Channel>, Channel> channels =
            late.Count == 0
                ? []
                : await db
                    .Channels.AsNoTracking()
                    .Where(c => c.WorkspaceId == id && keys.Contains(c.Network))
                    .ToDictionaryAsync(c => c.Id, cancellation);
        List<Delivery> asked = [.. late.Where(d => channels.ContainsKey(d.ChannelId))];
        List<Id<Post>> posts = [.. asked.Select(d => d.PostId)];
        Dictionary<Id<Post>, Post> byId =
            posts.Count == 0
                ? []
                : await db
                    .Posts.AsNoTracking()
                    .Where(p => p.WorkspaceId == id && posts.Contains(p.Id) && p.Stage == Stage.Ready && p.RemovedAt == null)
                    .ToDictionaryAsync(p => p.Id, cancellation);
        return
        [
            .. asked.Where(d =>
                byId.TryGetValue(d.PostId, out Post? post)
                && channels[d.ChannelId] is var channel
                && post.FitOn(channel)?.BlockOf(d.Wording) is null
                && d.IsByPerson(post, channel, networks.For(channel))
            ),
        ];
    }

    private async Task AnswerWaitingAsync(Id<Workspace> id, Instant now, CancellationToken cancellation)
    {
        IQueryable<Delivery> due = db.Deliveries.Where(d =>
            d.WorkspaceId == id && d.At <= now && (d.State == DeliveryState.WaitingForApproval || d.State == DeliveryState.Substitute)
        );
        // Never one without the other of its place: whatever is due at the same instant is answered together.
        Instant last = await due.OrderBy(d => d.At).Skip(MostAtOnce).Select(d => (Instant?)d.At).FirstOrDefaultAsync(cancellation) ?? now;
        List<Delivery> waiting = await due.Where(d => d.At <= last).OrderBy(d => d.At).ToListAsync(cancellation);
        if (waiting.Count == 0)
            return;
        List<Id<Post>> ids = [.. waiting.Select(d => d.PostId).Distinct()];
        Dictionary<Id<Post>, Post> posts = await db
            .Posts.AsNoTracking()
            .Where(p => p.WorkspaceId == id && ids.Contains(p.Id))
            .ToDictionaryAsync(p => p.Id, cancellation);
        Dictionary<Id<Channel>, Channel> channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == id)
            .ToDictionaryAsync(c => c.Id, cancellation);
        IReadOnlyList<DueAnswer> answers = DueAnswer.Waiting(
            waiting,
            d => posts[d.PostId] is { Stage: Stage.Ready or Stage.WaitingForApproval } post && !post.Waits(channels[d.ChannelId], d.Wording)
        );
        // First the places are free, then others take them.
        foreach (bool takesPlace in new[] { false, true })
        {
            foreach (DueAnswer answer in answers.Where(a => TakesPlace(a) == takesPlace).ToList())
                answer.Apply();
            await db.SaveChangesAsync(cancellation);
        }
    }

    private static bool TakesPlace(DueAnswer answer) =>
        answer is { Becomes: DeliveryState.Planned, Delivery.State: DeliveryState.Substitute };
}

internal static class Holds
{
    /// <summary>True while a person holds everything of the workspace.</summary>
    public static async Task<bool> IsStoppedAsync(this LarkDb db, Workspace workspace, Instant now, CancellationToken cancellation)
    {
        LocalDate today = workspace.DateOf(now);
        return (
            await db.Pauses.AsNoTracking().Where(p => p.WorkspaceId == workspace.Id && p.What == Paused.Workspace).ToListAsync(cancellation)
        ).Any(p => p.HoldsOn(today));
    }
}
