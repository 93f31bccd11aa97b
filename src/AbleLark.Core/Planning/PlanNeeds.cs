using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What has to be read for an act; see <see cref="PlanSnapshot"/>.</summary>
public sealed record PlanNeeds
{
    public IReadOnlyList<Delivery> Deliveries { get; private init; } = [];

    /// <summary>Posts that it names, those of its deliveries too.</summary>
    public IReadOnlyList<Id<Post>> Posts { get; private init; } = [];

    /// <summary>On which others are to be minded.</summary>
    public IReadOnlyList<Id<Channel>> Channels { get; private init; } = [];

    /// <summary>Around which others are to be minded.</summary>
    public IReadOnlyList<Instant> Times { get; private init; } = [];

    /// <summary>True for acts on places.</summary>
    public static bool AsksLineUp(PlanAct act) =>
        act switch
        {
            PlanAct.Decide or PlanAct.Book => true,
            PlanAct.Shift { Places.Count: > 0 } or PlanAct.CopyBy { Places.Count: > 0 } or PlanAct.Cancel { Places.Count: > 0 } => true,
            PlanAct.Exchange exchange => exchange.One.Place is not null || exchange.Other.Place is not null,
            _ => false,
        };

    /// <param name="lineUp">Null: it asks none.</param>
    public static PlanNeeds Of(PlanAct act, Workspace workspace, LineUpInput? lineUp, Instant now)
    {
        switch (act)
        {
            case PlanAct.Move move:
                return Around(move.Wishes.Select(w => w.Delivery), move.Wishes.Select(w => At(w.To)));
            case PlanAct.Shift shift:
                return Around(shift.Deliveries, shift.Deliveries.Select(d => At(shift.By.From(d.Time.Local))));
            case PlanAct.Exchange exchange:
                Delivery[] sides = [.. new[] { exchange.One.Delivery, exchange.Other.Delivery }.OfType<Delivery>()];
                return Around(sides, sides.Select(d => d.At), new[] { exchange.One.Expected, exchange.Other.Expected }.OfType<Id<Post>>());
            case PlanAct.Copy copy:
                return Around(
                    [],
                    copy.Wishes.Select(w => w.To is { } to ? At(to) : now),
                    copy.Wishes.Select(w => w.PostId),
                    copy.Wishes.Select(w => w.ChannelId)
                );
            case PlanAct.CopyBy copy:
                LineUpPlace[] places = lineUp is null ? [] : [.. PlanPlaces.Of(lineUp, now, [.. copy.Places.Select(p => p.Place)]).Values];
                return Around(
                    copy.Deliveries,
                    [
                        .. copy.Deliveries.Select(d => d.Time.Local),
                        .. places.Select(p => p.Occurrence.At.InZone(workspace.Zone).LocalDateTime),
                    ],
                    copy.By,
                    places.SelectMany(p => p.Picks)
                );
            case PlanAct.Reschedule again:
                return Around([again.Delivery], [At(again.To)]);
            case PlanAct.Take take:
                return Around([take.Delivery], [take.Delivery.At], [take.PostId]);
            case PlanAct.SendCorrected again:
                return Around([again.Delivery], [again.To is { } at ? At(at) : now]);
            case PlanAct.SendAgain { Delivery: var d }:
                return Around([d], []);
            case PlanAct.Cancel cancel:
                return new() { Deliveries = cancel.Deliveries };
            // What ends, and what places decide, touches nothing else.
            default:
                return new();
        }
    }

    private static PlanNeeds Around(
        IEnumerable<Delivery> deliveries,
        IEnumerable<LocalDateTime> from,
        TimeShift by,
        IEnumerable<Pick> picks
    )
    {
        Pick[] sent = [.. picks.Where(p => p.PostId is not null)];
        return Around(deliveries, from.Select(t => At(by.From(t))), sent.Select(p => p.PostId!.Value), sent.Select(p => p.ChannelId));
    }

    private static PlanNeeds Around(
        IEnumerable<Delivery> deliveries,
        IEnumerable<Instant> times,
        IEnumerable<Id<Post>>? posts = null,
        IEnumerable<Id<Channel>>? channels = null
    )
    {
        Delivery[] all = [.. deliveries];
        return new()
        {
            Deliveries = all,
            Posts = [.. all.Select(d => d.PostId).Concat(posts ?? []).Distinct()],
            Channels = [.. all.Select(d => d.ChannelId).Concat(channels ?? []).Distinct()],
            Times = [.. times],
        };
    }

    /// <summary>Near enough to know what stands around it.</summary>
    private static Instant At(LocalDateTime local) => local.InUtc().ToInstant();
}
