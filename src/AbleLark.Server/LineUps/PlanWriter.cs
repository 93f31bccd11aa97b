using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>Reads what an act on deliveries touches, and writes what comes of it. Whoever writes holds the workspace's lock from before it
/// is read, has begun the act, and saves.</summary>
public sealed class PlanWriter(LarkDb db)
{
    /// <summary>What would come of it; nothing is changed.</summary>
    public async Task<PlanChange> LookAsync(Workspace workspace, PlanAct act, Instant now, CancellationToken cancellation) =>
        PlanDoor.Of(await ReadAsync(workspace, act, now, cancellation), act);

    /// <summary>Does it as far as it can be done.</summary>
    public async Task<PlanChange> DoAsync(Workspace workspace, PlanAct act, Instant now, CancellationToken cancellation)
    {
        PlanChange change = await LookAsync(workspace, act, now, cancellation);
        await WriteAsync(change, cancellation);
        return change;
    }

    /// <summary>Does what was looked at.</summary>
    public async Task WriteAsync(PlanChange change, CancellationToken cancellation)
    {
        change.Apply();
        foreach (Delivery fresh in change.Added.Select(a => a.Delivery))
        {
            db.Deliveries.Add(fresh);
            // What makes another good stands relative to what that stood relative to.
            if (fresh.InsteadOf is { } old && await db.TieOfAsync(fresh.WorkspaceId, old, cancellation) is { } tie)
            {
                db.KeyDateTies.Remove(tie);
                db.KeyDateTies.Add(tie.On(fresh));
            }
        }
    }

    private async Task<PlanSnapshot> ReadAsync(Workspace workspace, PlanAct act, Instant now, CancellationToken cancellation)
    {
        Delivery[] deliveries = DeliveriesOf(act);
        CopyWish[] copies = act is PlanAct.Copy copy ? [.. copy.Wishes] : [];
        Dictionary<Id<Channel>, Channel> channels = await db
            .Channels.Where(c => c.WorkspaceId == workspace.Id)
            .ToDictionaryAsync(c => c.Id, cancellation);
        List<Id<Post>> ids = [.. deliveries.Select(d => d.PostId).Concat(copies.Select(c => c.PostId)).Distinct()];
        // What ends touches nothing but itself.
        bool ends = act is PlanAct.Cancel or PlanAct.Dismiss;
        return new()
        {
            Workspace = workspace,
            Now = now,
            Channels = channels,
            Posts = ends
                ? []
                : await db.Posts.Where(p => p.WorkspaceId == workspace.Id && ids.Contains(p.Id)).ToDictionaryAsync(p => p.Id, cancellation),
            Gaps = await db.Categories.Where(c => c.WorkspaceId == workspace.Id).ToDictionaryAsync(c => c.Id, c => c.GapDays, cancellation),
            Substitutes = await SubstitutesAsync(workspace, deliveries, cancellation),
            Others = ends
                ? []
                : await OthersAsync(
                    workspace,
                    ids,
                    [.. deliveries.Select(d => d.ChannelId).Concat(copies.Select(c => c.ChannelId)).Distinct()],
                    TimesOf(act),
                    cancellation
                ),
        };
    }

    private static Delivery[] DeliveriesOf(PlanAct act) =>
        act switch
        {
            PlanAct.Move move => [.. move.Wishes.Select(w => w.Delivery)],
            PlanAct.Exchange exchange => [exchange.One, exchange.Other],
            PlanAct.Cancel cancel => [.. cancel.Deliveries],
            PlanAct.Reschedule again => [again.Delivery],
            PlanAct.Dismiss dismiss => [dismiss.Delivery],
            _ => [],
        };

    private static IEnumerable<Instant> TimesOf(PlanAct act) =>
        act switch
        {
            PlanAct.Move move => move.Wishes.Select(w => At(w.To)),
            PlanAct.Exchange exchange => [exchange.One.At, exchange.Other.At],
            PlanAct.Copy copy => copy.Wishes.Select(w => At(w.To)),
            PlanAct.Reschedule again => [At(again.To)],
            _ => [],
        };

    /// <summary>Near enough to know what stands around it.</summary>
    private static Instant At(LocalDateTime local) => local.InUtc().ToInstant();

    /// <summary>What goes out on these channels around these times, and of these posts at any.</summary>
    private async Task<List<Neighbour>> OthersAsync(
        Workspace workspace,
        List<Id<Post>> posts,
        List<Id<Channel>> channels,
        IEnumerable<Instant> times,
        CancellationToken cancellation
    )
    {
        List<Instant> all = [.. times];
        if (all.Count == 0)
            return [];
        // A day more, since the times are near enough only.
        Instant from = all.Min() - PlanDoor.Around - Duration.FromDays(1);
        Instant to = all.Max() + PlanDoor.Around + Duration.FromDays(1);
        return await db
            .Deliveries.Where(d =>
                d.WorkspaceId == workspace.Id
                && channels.Contains(d.ChannelId)
                && ((d.At >= from && d.At <= to) || posts.Contains(d.PostId))
                && d.State != DeliveryState.Cancelled
                && d.State != DeliveryState.Missed
                && d.State != DeliveryState.Refused
            )
            .Select(d => new Neighbour(d.Id, d.PostId, d.ChannelId, d.At, d.State == DeliveryState.Substitute))
            .ToListAsync(cancellation);
    }

    /// <summary>What goes out in the place of deliveries if approval doesn't come in time.</summary>
    private async Task<ILookup<(Origin, Id<Channel>), Delivery>> SubstitutesAsync(
        Workspace workspace,
        Delivery[] deliveries,
        CancellationToken cancellation
    )
    {
        List<Guid> slots = [.. deliveries.Where(d => d.OriginKind == OriginKind.Place).Select(d => d.OriginId).Distinct()];
        List<LocalDate> dates = [.. deliveries.Select(d => d.OriginDate).Distinct()];
        List<Delivery> found =
            slots.Count == 0
                ? []
                : await db
                    .Deliveries.Where(d =>
                        d.WorkspaceId == workspace.Id
                        && d.State == DeliveryState.Substitute
                        && d.OriginKind == OriginKind.Place
                        && slots.Contains(d.OriginId)
                        && dates.Contains(d.OriginDate)
                    )
                    .ToListAsync(cancellation);
        return found.ToLookup(d => (d.Origin, d.ChannelId));
    }
}
