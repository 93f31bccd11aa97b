using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.LineUps;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.KeyDates;

/// <summary>A delivery that follows its key date.</summary>
/// <param name="From">Its local date until now.</param>
/// <param name="Against">What speaks against it there, though it moves.</param>
public sealed record FollowMove(
    Id<Delivery> DeliveryId,
    string Title,
    Id<Channel> ChannelId,
    LocalDate From,
    LocalDate Date,
    LocalTime Time,
    IReadOnlyList<string> Against
);

/// <summary>A delivery that can't follow, and why.</summary>
public sealed record FollowStay(Id<Delivery> DeliveryId, string Title, Id<Channel> ChannelId, LocalDate Date, LocalTime Time, string Why);

/// <summary>Lets deliveries follow a key date that has moved.</summary>
public sealed class Following(LarkDb db)
{
    private sealed record Step(KeyDateTie Tie, Delivery Delivery, Post Post, Channel Channel, LocalDate? Stands)
    {
        public LocalDateTime Local => Delivery.LocalDate + Delivery.LocalTime;
    }

    private sealed record Found(Step Step, LocalDateTime To, Instant At);

    /// <summary>Moves what can follow, and takes the rest as standing where it stands from now on; the caller saves, or doesn't.</summary>
    /// <param name="stay">True: all stay where they are.</param>
    public async Task<(IReadOnlyList<FollowMove> Moves, IReadOnlyList<FollowStay> Stays)> FollowAsync(
        Workspace workspace,
        KeyDate keyDate,
        bool stay,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<Step> steps = await StepsAsync(workspace, keyDate, cancellation);
        List<FollowStay> stays = [];
        List<Found> found = [];
        foreach (Step step in steps)
        {
            if (WhyNot(step, stay, workspace, now, out Found? move) is { } why)
                stays.Add(View(step, why));
            else
                found.Add(move!);
        }
        List<Neighbour> others = await NeighboursAsync(workspace.Id, found, cancellation);
        HashSet<Id<Delivery>> moving = [.. found.Select(f => f.Step.Delivery.Id)];
        HashSet<(Id<Post>, Id<Channel>, Instant)> taken =
        [
            .. others.Where(o => !moving.Contains(o.Id)).Select(o => (o.PostId, o.ChannelId, o.At)),
        ];
        List<Found> free = [];
        foreach (Found f in found)
        {
            if (taken.Add((f.Step.Post.Id, f.Step.Channel.Id, f.At)))
                free.Add(f);
            else
                stays.Add(View(f.Step, "The post already goes out there at that time."));
        }
        List<FollowMove> moves = await DoubtedAsync(workspace, free, others, cancellation);
        Take(workspace, steps, free, await db.SubstitutesOfAsync(workspace.Id, [.. free.Select(f => f.Step.Delivery)], cancellation));
        return (moves, stays);
    }

    private async Task<List<Step>> StepsAsync(Workspace workspace, KeyDate keyDate, CancellationToken cancellation)
    {
        List<KeyDateTie> ties = await db.TiesToCome(workspace.Id).Where(t => t.KeyDateId == keyDate.Id).ToListAsync(cancellation);
        List<(KeyDateTie Tie, LocalDate? Stands)> moved =
        [
            .. ties.Select(t => (Tie: t, Stands: keyDate.At(t.Occurrence, workspace.Zone)?.Date)).Where(t => t.Stands != t.Tie.Stood),
        ];
        List<Id<Delivery>> ids = [.. moved.Select(t => t.Tie.DeliveryId)];
        Dictionary<Id<Delivery>, Delivery> deliveries = await db
            .Deliveries.Where(d => d.WorkspaceId == workspace.Id && ids.Contains(d.Id))
            .ToDictionaryAsync(d => d.Id, cancellation);
        List<Id<Post>> posts = [.. deliveries.Values.Select(d => d.PostId).Distinct()];
        Dictionary<Id<Post>, Post> byId = await db
            .Posts.AsNoTracking()
            .Where(p => p.WorkspaceId == workspace.Id && posts.Contains(p.Id))
            .ToDictionaryAsync(p => p.Id, cancellation);
        Dictionary<Id<Channel>, Channel> channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == workspace.Id)
            .ToDictionaryAsync(c => c.Id, cancellation);
        return
        [
            .. moved
                .Select(t => (t.Tie, Delivery: deliveries[t.Tie.DeliveryId], t.Stands))
                .OrderBy(t => t.Delivery.At)
                .Select(t => new Step(t.Tie, t.Delivery, byId[t.Delivery.PostId], channels[t.Delivery.ChannelId], t.Stands)),
        ];
    }

    private static string? WhyNot(Step step, bool stay, Workspace workspace, Instant now, out Found? move)
    {
        move = null;
        if (step.Stands is not { } stands)
            return "The key date isn’t there any more. It stays, by itself from now on.";
        if (stay)
            return "It stays where it is.";
        if (!step.Delivery.MayMove())
            return "It is being sent.";
        if (step.Channel.Connection == ConnectionState.Disconnected)
            return "The channel is disconnected.";
        LocalDateTime to = step.Local.PlusDays(Period.DaysBetween(step.Tie.Stood, stands));
        if (workspace.WhyNot(to, now, out Instant at) is { } why)
            return why;
        move = new(step, at.InZone(workspace.Zone).LocalDateTime, at);
        return null;
    }

    /// <summary>What goes out on these channels around these times, and of these posts at any.</summary>
    private async Task<List<Neighbour>> NeighboursAsync(Id<Workspace> workspace, List<Found> found, CancellationToken cancellation)
    {
        if (found.Count == 0)
            return [];
        Instant from = found.Min(f => f.At) - Duration.FromDays(2);
        Instant to = found.Max(f => f.At) + Duration.FromDays(2);
        List<Id<Channel>> channels = [.. found.Select(f => f.Step.Channel.Id).Distinct()];
        List<Id<Post>> posts = [.. found.Select(f => f.Step.Post.Id).Distinct()];
        return await db
            .Deliveries.Where(d =>
                d.WorkspaceId == workspace
                && channels.Contains(d.ChannelId)
                && ((d.At >= from && d.At <= to) || posts.Contains(d.PostId))
                && d.State != DeliveryState.Cancelled
                && d.State != DeliveryState.Missed
                && d.State != DeliveryState.Refused
                && d.State != DeliveryState.Substitute
            )
            .Select(d => new Neighbour(d.Id, d.PostId, d.ChannelId, d.At))
            .ToListAsync(cancellation);
    }

    private async Task<List<FollowMove>> DoubtedAsync(
        Workspace workspace,
        List<Found> moves,
        List<Neighbour> others,
        CancellationToken cancellation
    )
    {
        List<Id<Category>> ids = [.. moves.Select(m => m.Step.Post.CategoryId).Distinct()];
        Dictionary<Id<Category>, int?> gaps = await db
            .Categories.Where(c => c.WorkspaceId == workspace.Id && ids.Contains(c.Id))
            .ToDictionaryAsync(c => c.Id, c => c.GapDays, cancellation);
        Dictionary<Id<Delivery>, Found> moving = moves.ToDictionary(m => m.Step.Delivery.Id);
        Neighbour[] then = [.. others.Select(o => moving.TryGetValue(o.Id, out Found? to) ? o with { At = to.At } : o)];
        ILookup<Id<Channel>, Neighbour> byChannel = then.ToLookup(o => o.ChannelId);
        return
        [
            .. moves.Select(m =>
            {
                (Delivery delivery, Post post, Channel channel) = (m.Step.Delivery, m.Step.Post, m.Step.Channel);
                Neighbour there = new(delivery.Id, post.Id, channel.Id, m.At);
                return new FollowMove(
                    delivery.Id,
                    post.Title,
                    channel.Id,
                    delivery.LocalDate,
                    m.To.Date,
                    m.To.TimeOfDay,
                    MoveDoubts.Of(
                        there,
                        post,
                        post.GapDays ?? gaps[post.CategoryId] ?? 1,
                        channel,
                        m.To,
                        byChannel[channel.Id],
                        workspace.Zone
                    )
                );
            }),
        ];
    }

    private void Take(Workspace workspace, List<Step> steps, List<Found> moves, ILookup<(Origin, Id<Channel>), Delivery> substitutes)
    {
        foreach (Found move in moves)
        {
            Delivery delivery = move.Step.Delivery;
            delivery.MoveWith(substitutes, PlannedTime.Of(move.At, workspace.Zone));
        }
        foreach (Step step in steps)
        {
            if (step.Stands is { } stands)
                step.Tie.Stood = stands;
            else
                db.KeyDateTies.Remove(step.Tie);
        }
    }

    private static FollowStay View(Step s, string why) =>
        new(s.Delivery.Id, s.Post.Title, s.Channel.Id, s.Delivery.LocalDate, s.Delivery.LocalTime, why);
}
