using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Data;
using AbleLark.Server.Posts;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Rotas;

/// <summary>
/// What saving a rota does, beyond its slots, to what people decided and what is scheduled. A slot whose dates change ends after
/// what is scheduled and has a successor, which takes over the decisions about dates that still occur.
/// </summary>
internal sealed class RotaChange
{
    /// <param name="Wanted">Null: the slot ends.</param>
    /// <param name="LastScheduled">Last date on which something is scheduled from it; null: nothing ahead is.</param>
    private sealed record SlotChange(Slot Slot, SlotEdit? Wanted, LocalDate? LastScheduled);

    private readonly LarkDb _db;
    private readonly RotaEdits _edits;
    private readonly Rota _rota;
    private readonly Instant _now;
    private readonly List<SlotChange> _changes = [];
    private readonly ILookup<Id<Slot>, Decision> _decisions;
    private readonly ILookup<Id<Slot>, Delivery> _scheduled;

    private RotaChange(
        LarkDb db,
        RotaEdits edits,
        Rota rota,
        RotaEdit edit,
        Instant now,
        List<Decision> decisions,
        List<Delivery> scheduled
    )
    {
        (_db, _edits, _rota, _now) = (db, edits, rota, now);
        _decisions = decisions.ToLookup(d => d.Origin.SlotId!.Value);
        _scheduled = scheduled.ToLookup(d => d.Origin.SlotId!.Value);
        Dictionary<Id<Slot>, SlotEdit> wanted = edit.Slots.Where(e => e.Id is not null).ToDictionary(e => e.Id!.Value);
        foreach (Slot slot in Present(rota, edits))
            _changes.Add(
                new(slot, wanted.GetValueOrDefault(slot.Id), _scheduled[slot.Id].Any() ? _scheduled[slot.Id].Max(d => d.OriginDate) : null)
            );
    }

    /// <param name="rota">With its slots.</param>
    public static async Task<RotaChange> ReadAsync(
        LarkDb db,
        RotaEdits edits,
        Rota rota,
        RotaEdit edit,
        Instant now,
        CancellationToken cancellation
    )
    {
        List<Guid> ids = [.. Present(rota, edits).Select(s => s.Id.Value)];
        List<Decision> decisions = await db
            .Decisions.Where(d =>
                d.WorkspaceId == rota.WorkspaceId
                && d.OriginKind == OriginKind.Place
                && ids.Contains(d.OriginId)
                && d.OriginDate >= edits.Today
            )
            .OrderBy(d => d.OriginDate)
            .ToListAsync(cancellation);
        List<Delivery> scheduled = await db
            .Deliveries.Where(d =>
                d.WorkspaceId == rota.WorkspaceId
                && d.OriginKind == OriginKind.Place
                && ids.Contains(d.OriginId)
                && d.OriginDate >= edits.Today
            )
            .ToListAsync(cancellation);
        return new(db, edits, rota, edit, now, decisions, scheduled);
    }

    /// <summary>What a person has to know before it is done.</summary>
    public RotaConsequences Consequences =>
        new(
            [.. Orphans().Select(o => new Orphan(o.Slot.Id, o.Decision.OriginDate, Words(o.Slot, o.Decision), o.Decision.Posts.Count))],
            Elsewhere().Count()
        );

    /// <summary>Changes the rota's slots, and with them decisions and scheduled deliveries; the caller saves.</summary>
    /// <returns>The decisions that were dropped, in words.</returns>
    public async Task<List<string>> DoAsync(RotaEdit edit, CancellationToken cancellation)
    {
        List<(Slot Slot, Decision Decision)> orphans = [.. Orphans()];
        if (edit.MovesScheduled)
            foreach ((Delivery delivery, LocalDateTime local, Instant at) in Elsewhere().ToList())
                delivery.MoveTo(at, local);
        if (edit.KeepsOrphans)
            await KeepAsync(orphans, cancellation);
        int place = _rota.Slots.Count == 0 ? 0 : _rota.Slots.Max(s => s.Position) + 1;
        foreach (SlotChange change in _changes)
        {
            if (change.Wanted is null)
                change.Slot.RemovedAt = _now;
            else if (RotaEdits.ChangesDates(change.Slot, change.Wanted))
                Succeed(change, change.Wanted, place++);
            else
                _edits.Fill(change.Slot, change.Wanted);
        }
        foreach ((_, Decision decision) in orphans)
            _db.Decisions.Remove(decision);
        foreach (SlotEdit added in edit.Slots.Where(e => e.Id is null))
            _db.Slots.Add(New(added, place++));
        _rota.Version++;
        return edit.KeepsOrphans
            ? [.. orphans.Where(o => o.Decision.Posts.Count == 0).Select(o => Words(o.Slot, o.Decision))]
            : [.. orphans.Select(o => Words(o.Slot, o.Decision))];
    }

    private static IEnumerable<Slot> Present(Rota rota, RotaEdits edits) =>
        rota.Slots.Where(s => s.RemovedAt is null && !(s.To < edits.Today));

    private Slot New(SlotEdit edit, int place)
    {
        Slot slot = _edits.NewSlot(_rota.Id, edit);
        slot.Position = place;
        _edits.Fill(slot, edit);
        return slot;
    }

    private void Succeed(SlotChange change, SlotEdit wanted, int place)
    {
        Slot slot = change.Slot;
        Slot successor = Successor(change, wanted, place);
        if (change.LastScheduled is { } last)
            slot.To = last;
        else
            slot.RemovedAt = _now;
        _db.Slots.Add(successor);
        foreach (
            Decision decision in _decisions[slot.Id]
                .Where(d => !(d.OriginDate <= change.LastScheduled) && successor.ComesRoundOn(d.OriginDate))
                .ToList()
        )
        {
            _db.Decisions.Remove(decision);
            _db.Decisions.Add(
                new()
                {
                    WorkspaceId = slot.WorkspaceId,
                    Id = Id<Decision>.New(),
                    Origin = Origin.Place(successor.Id, decision.OriginDate),
                    IsSkipped = decision.IsSkipped,
                    MovedTo = decision.MovedTo,
                    Note = decision.Note,
                    Posts = decision.Posts,
                }
            );
        }
    }

    private Slot Successor(SlotChange change, SlotEdit wanted, int place)
    {
        bool bothByWeeks = wanted.Rhythm == Rhythm.Weeks && change.Slot.Rhythm == Rhythm.Weeks;
        Slot successor = New(wanted with { Anchor = wanted.Anchor ?? (bothByWeeks ? change.Slot.Anchor : null) }, place);
        if (change.LastScheduled is { } last && !(successor.From > last))
            successor.From = last.PlusDays(1);
        return successor;
    }

    /// <summary>Decisions about dates that no longer occur.</summary>
    private IEnumerable<(Slot Slot, Decision Decision)> Orphans()
    {
        foreach (SlotChange change in _changes)
        {
            bool ends = change.Wanted is null;
            if (!ends && !RotaEdits.ChangesDates(change.Slot, change.Wanted!))
                continue;
            Slot? successor = ends ? null : Successor(change, change.Wanted!, 0);
            HashSet<LocalDate> scheduled = [.. _scheduled[change.Slot.Id].Select(d => d.OriginDate)];
            foreach (
                Decision decision in _decisions[change.Slot.Id]
                    .Where(d =>
                        !scheduled.Contains(d.OriginDate)
                        && (ends || !(d.OriginDate <= change.LastScheduled))
                        && successor?.ComesRoundOn(d.OriginDate) != true
                    )
            )
                yield return (change.Slot, decision);
        }
    }

    /// <summary>Scheduled deliveries that would be at another time by the slot's new one.</summary>
    private IEnumerable<(Delivery Delivery, LocalDateTime Local, Instant At)> Elsewhere()
    {
        foreach (SlotChange change in _changes.Where(c => c.Wanted is not null && c.Wanted.Time != c.Slot.Time))
        {
            foreach (Delivery delivery in _scheduled[change.Slot.Id].Where(d => d.MayMove()))
            {
                // One that a person moved by itself stays where it was put.
                if (Occurrences.InstantOf(delivery.OriginDate, change.Slot.Time, _rota.Zone) != delivery.At)
                    continue;
                if (Occurrences.InstantOf(delivery.OriginDate, change.Wanted!.Time, _rota.Zone) is { } at && at > _now)
                    yield return (delivery, at.InZone(_edits.Workspace.Zone).LocalDateTime, at);
            }
        }
    }

    /// <summary>Keeps posts that were given to places which no longer occur: as exact times, where they were to go.</summary>
    private async Task KeepAsync(List<(Slot Slot, Decision Decision)> orphans, CancellationToken cancellation)
    {
        List<Id<Post>> ids = [.. orphans.SelectMany(o => o.Decision.Posts).Select(p => p.PostId).Distinct()];
        var there = await _db
            .Posts.AsNoTracking()
            .Where(p => p.WorkspaceId == _rota.WorkspaceId && ids.Contains(p.Id) && p.RemovedAt == null)
            .ToDictionaryAsync(p => p.Id, cancellation);
        var channels = await _db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == _rota.WorkspaceId)
            .ToDictionaryAsync(c => c.Id, cancellation);
        HashSet<(Id<Post>, Id<Channel>, Instant)> planned =
        [
            .. (
                await _db
                    .Deliveries.Where(d =>
                        d.WorkspaceId == _rota.WorkspaceId
                        && ids.Contains(d.PostId)
                        && d.OriginKind == OriginKind.ExactTime
                        && d.State != DeliveryState.Cancelled
                    )
                    .Select(d => new
                    {
                        d.PostId,
                        d.ChannelId,
                        d.At,
                    })
                    .ToListAsync(cancellation)
            ).Select(d => (d.PostId, d.ChannelId, d.At)),
        ];
        foreach ((Slot slot, Decision decision) in orphans)
        {
            LocalDateTime local = decision.MovedTo ?? decision.OriginDate + slot.Time;
            if (Occurrences.InstantOf(local.Date, local.TimeOfDay, _rota.Zone) is not { } at || at <= _now)
                continue;
            _db.Deliveries.AddRange(
                decision
                    .Posts.Where(p => there.ContainsKey(p.PostId) && planned.Add((p.PostId, p.ChannelId, at)))
                    .Select(p => PostPlanning.New(_edits.Workspace, p.PostId, p.ChannelId, at, FirstWording(p)))
            );
        }

        // As for any place given by hand: the first wording that can go.
        int FirstWording(GivenPost given) =>
            channels.TryGetValue(given.ChannelId, out Channel? channel) ? there[given.PostId].FitOn(channel)?.FirstWording ?? 0 : 0;
    }

    private static string Words(Slot slot, Decision d)
    {
        string what =
            d.IsSkipped ? "skipped"
            : d.Posts.Count > 0 ? "a post given by hand"
            : d.MovedTo is not null ? "moved"
            : "a note";
        return string.Create(CultureInfo.InvariantCulture, $"{d.OriginDate:ddd d MMM} {slot.Time:HH:mm}: {what}");
    }
}
