using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Planning;
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
public sealed class Following(LarkDb db, PlanWriter writer)
{
    private sealed record Step(KeyDateTie Tie, Delivery Delivery, string Title, LocalDate? Stands);

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
        List<MoveWish> wishes = [];
        foreach (Step step in steps)
        {
            if (step.Stands is not { } stands)
                stays.Add(View(step, "The key date isn’t there any more. It stays, by itself from now on."));
            else if (stay)
                stays.Add(View(step, "It stays where it is."));
            else
                wishes.Add(new(step.Delivery, step.Delivery.Time.Local.PlusDays(Period.DaysBetween(step.Tie.Stood, stands))));
        }
        PlanChange change = await writer.DoAsync(workspace, new PlanAct.Move(wishes), now, cancellation);
        Dictionary<Id<Delivery>, Step> byDelivery = steps.ToDictionary(s => s.Delivery.Id);
        stays.AddRange(
            change.Stays.Select(s =>
                View(byDelivery[s.DeliveryId!.Value], Sentence(PlanWords.Why(s, byDelivery[s.DeliveryId.Value].Title)))
            )
        );
        List<FollowMove> moves =
        [
            .. change
                .Moves.Where(m => !m.IsAlong)
                .Select(m => new FollowMove(
                    m.Delivery.Id,
                    byDelivery[m.Delivery.Id].Title,
                    m.Delivery.ChannelId,
                    m.From.Local.Date,
                    m.To.Local.Date,
                    m.To.Local.TimeOfDay,
                    [.. m.Doubts.Select(PlanWords.Of)]
                )),
        ];
        foreach (Step step in steps)
        {
            if (step.Stands is { } stands)
                step.Tie.Stood = stands;
            else
                db.KeyDateTies.Remove(step.Tie);
        }
        return (moves, stays);
    }

    private static string Sentence(string words) => char.ToUpperInvariant(words[0]) + words[1..];

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
        Dictionary<Id<Post>, string> titles = await db
            .Posts.Where(p => p.WorkspaceId == workspace.Id && posts.Contains(p.Id))
            .ToDictionaryAsync(p => p.Id, p => p.Title, cancellation);
        return
        [
            .. moved
                .Select(t => (t.Tie, Delivery: deliveries[t.Tie.DeliveryId], t.Stands))
                .OrderBy(t => t.Delivery.At)
                .Select(t => new Step(t.Tie, t.Delivery, titles[t.Delivery.PostId], t.Stands)),
        ];
    }

    private static FollowStay View(Step s, string why) =>
        new(s.Delivery.Id, s.Title, s.Delivery.ChannelId, s.Delivery.LocalDate, s.Delivery.LocalTime, why);
}
