using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Planning;

/// <summary>Where an act on places reads what they hold.</summary>
public interface ILineUpSource
{
    Task<LineUpInput> ReadAsync(Workspace workspace, CancellationToken cancellation);
}

/// <summary>Reads what an act on the plan touches, and writes what comes of it. Whoever writes holds the workspace's lock from before it
/// is read, has begun the act, and saves.</summary>
public sealed class PlanWriter(LarkDb db, ILineUpSource lineUps, NetworkBook networks)
{
    /// <summary>What would come of it; nothing is changed.</summary>
    public async Task<PlanChange> LookAsync(Workspace workspace, PlanAct act, Instant now, CancellationToken cancellation) =>
        PlanDoor.Of(await ReadAsync(workspace, act, now, cancellation), act);

    /// <summary>Does it as far as it can be done.</summary>
    public async Task<PlanChange> DoAsync(Workspace workspace, PlanAct act, Instant now, CancellationToken cancellation)
    {
        PlanChange change = await LookAsync(workspace, act, now, cancellation);
        await WriteAsync(workspace.Id, change, now, cancellation);
        return change;
    }

    /// <summary>Titles of the posts that are to be named with what comes of an act.</summary>
    public async Task<IReadOnlyDictionary<Id<Post>, string>> TitlesAsync(
        Id<Workspace> workspace,
        PlanChange change,
        CancellationToken cancellation
    )
    {
        List<Id<Post>> named =
        [
            .. change.Stays.Select(s => s.PostId).OfType<Id<Post>>().Concat(change.Remarks.Select(r => r.PostId)).Distinct(),
        ];
        return named.Count == 0
            ? new Dictionary<Id<Post>, string>()
            : await db
                .Posts.Where(p => p.WorkspaceId == workspace && named.Contains(p.Id))
                .ToDictionaryAsync(p => p.Id, p => p.Title, cancellation);
    }

    /// <summary>Does what was looked at.</summary>
    public async Task WriteAsync(Id<Workspace> workspace, PlanChange change, Instant now, CancellationToken cancellation)
    {
        Dictionary<Origin, Decision> decisions = await DecisionsAsync(workspace, change.Decided, cancellation);
        change.Apply(place => decisions[place]);
        foreach (Decision decision in decisions.Values)
        {
            bool isNew = db.Entry(decision).State == EntityState.Detached;
            if (isNew && !decision.IsEmpty)
                db.Decisions.Add(decision);
            else if (!isNew && decision.IsEmpty)
                db.Decisions.Remove(decision);
        }
        db.Deliveries.AddRange(change.Added.Select(a => a.Delivery));
        await TieAsync(workspace, [.. change.Added.Select(a => a.Delivery).Where(d => d.InsteadOf is not null)], cancellation);
        await MoveInLinesAsync(workspace, change.InLines, now, cancellation);
    }

    /// <summary>Those that there are, and new ones for the other places.</summary>
    private async Task<Dictionary<Origin, Decision>> DecisionsAsync(
        Id<Workspace> workspace,
        IReadOnlyList<PlaceDecision> decided,
        CancellationToken cancellation
    )
    {
        List<Guid> slots = [.. decided.Select(d => d.Place.Id).Distinct()];
        List<LocalDate> dates = [.. decided.Select(d => d.Place.Date).Distinct()];
        HashSet<Origin> places = [.. decided.Select(d => d.Place)];
        Dictionary<Origin, Decision> decisions =
            places.Count == 0
                ? []
                : (
                    await db
                        .Decisions.Where(d =>
                            d.WorkspaceId == workspace
                            && d.OriginKind == OriginKind.Place
                            && slots.Contains(d.OriginId)
                            && dates.Contains(d.OriginDate)
                        )
                        .ToListAsync(cancellation)
                )
                    .Where(d => places.Contains(d.Origin))
                    .ToDictionary(d => d.Origin);
        foreach (Origin place in places.Where(p => !decisions.ContainsKey(p)))
            decisions[place] = new()
            {
                WorkspaceId = workspace,
                Id = Id<Decision>.New(),
                Origin = place,
            };
        return decisions;
    }

    /// <summary>What makes another good stands relative to what that stood relative to.</summary>
    private async Task TieAsync(Id<Workspace> workspace, Delivery[] instead, CancellationToken cancellation)
    {
        if (instead.Length == 0)
            return;
        List<Id<Delivery>> old = [.. instead.Select(d => d.InsteadOf!.Value)];
        foreach (
            KeyDateTie tie in await db
                .KeyDateTies.Where(t => t.WorkspaceId == workspace && old.Contains(t.DeliveryId))
                .ToListAsync(cancellation)
        )
        {
            db.KeyDateTies.Remove(tie);
            db.KeyDateTies.Add(tie.On(instead.First(d => d.InsteadOf == tie.DeliveryId)));
        }
    }

    private async Task MoveInLinesAsync(
        Id<Workspace> workspace,
        IReadOnlyList<PlanLineMove> moves,
        Instant now,
        CancellationToken cancellation
    )
    {
        if (moves.Count == 0)
            return;
        List<Id<Post>> posts = [.. moves.Select(m => m.PostId).Distinct()];
        List<Id<Channel>> channels = [.. moves.Select(m => m.ChannelId).Distinct()];
        HashSet<(Id<Post>, Id<Channel>)> moved = [.. moves.Select(m => (m.PostId, m.ChannelId))];
        List<LineMove> before = await db
            .LineMoves.Where(m => m.WorkspaceId == workspace && posts.Contains(m.PostId) && channels.Contains(m.ChannelId))
            .ToListAsync(cancellation);
        db.LineMoves.RemoveRange(before.Where(m => moved.Contains((m.PostId, m.ChannelId))));
        db.LineMoves.AddRange(
            moves
                .Where(m => m.Side is not null)
                .Select(m => new LineMove
                {
                    WorkspaceId = workspace,
                    Id = Id<LineMove>.New(),
                    PostId = m.PostId,
                    ChannelId = m.ChannelId,
                    Side = m.Side!.Value,
                    At = now,
                })
        );
    }

    private async Task<PlanSnapshot> ReadAsync(Workspace workspace, PlanAct act, Instant now, CancellationToken cancellation)
    {
        LineUpInput? lineUp = PlanNeeds.AsksLineUp(act) ? await lineUps.ReadAsync(workspace, cancellation) : null;
        PlanNeeds needs = PlanNeeds.Of(act, workspace, lineUp, now);
        List<Id<Post>> ids = [.. needs.Posts];
        Dictionary<Id<Channel>, Channel> channels = await db
            .Channels.Where(c => c.WorkspaceId == workspace.Id)
            .ToDictionaryAsync(c => c.Id, cancellation);
        Dictionary<Id<Post>, Post> posts =
            ids.Count == 0
                ? []
                : await db.Posts.Where(p => p.WorkspaceId == workspace.Id && ids.Contains(p.Id)).ToDictionaryAsync(p => p.Id, cancellation);
        NearbyDeliveries nearby = new(db, workspace, channels, posts, MindedDays(channels.Values));
        return new()
        {
            Workspace = workspace,
            Now = now,
            Channels = channels,
            Posts = posts,
            IdenticalTextDays = nearby.IdenticalTextDays,
            Gaps =
                ids.Count == 0
                    ? []
                    : await db
                        .Categories.Where(c => c.WorkspaceId == workspace.Id)
                        .ToDictionaryAsync(c => c.Id, c => c.GapDays, cancellation),
            Substitutes = await SubstitutesAsync(workspace, needs.Deliveries, cancellation),
            Others = await nearby.ReadAsync(needs, cancellation),
            LineUp = lineUp,
            Replaced = act is PlanAct.SendCorrected { Delivery: var old } ? await ReplacedAsync(old, cancellation) : [],
        };
    }

    /// <summary>The delivery, if another goes out in its place.</summary>
    private async Task<HashSet<Id<Delivery>>> ReplacedAsync(Delivery old, CancellationToken cancellation) =>
        await db.Deliveries.AnyAsync(
            d => d.WorkspaceId == old.WorkspaceId && d.InsteadOf == old.Id && d.State != DeliveryState.Cancelled,
            cancellation
        )
            ? [old.Id]
            : [];

    /// <summary>Networks of these channels that refuse the same text again, and within how many days.</summary>
    private Dictionary<string, int> MindedDays(IEnumerable<Channel> channels) =>
        channels
            .Select(c => c.Network)
            .Distinct()
            .Where(n => networks.Has(n) && networks[n].IdenticalTextDays is > 0)
            .ToDictionary(n => n, n => networks[n].IdenticalTextDays!.Value);

    /// <summary>What goes out in the place of deliveries if approval doesn't come in time.</summary>
    private async Task<ILookup<(Origin, Id<Channel>), Delivery>> SubstitutesAsync(
        Workspace workspace,
        IReadOnlyList<Delivery> deliveries,
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
