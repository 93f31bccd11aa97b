using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Calendars;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.KeyDates;
using AbleLark.Server.LineUps;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Calendars;

/// <summary>Writes what the calendar shows as a calendar file: a post at a time is one event, whatever channels it goes out on.</summary>
public sealed class CalendarWriting(LarkDb db, LineUpViews views, KeyDateReader keyDates, BusinessClock clock)
{
    /// <param name="caller">Whoever looks.</param>
    public async Task<string> WriteAsync(
        Id<Workspace> id,
        LocalDate first,
        LocalDate last,
        CalendarSelection selection,
        Caller caller,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == id, cancellation);
        LineUpView lineUp = await views.ReadAsync(id, first, last, mayPlan: false, cancellation);
        Dictionary<Id<Channel>, Channel> channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == id)
            .ToDictionaryAsync(c => c.Id, cancellation);
        Dictionary<Id<Category>, string> categories = await db
            .Categories.Where(c => c.WorkspaceId == id)
            .ToDictionaryAsync(c => c.Id, c => c.Name, cancellation);
        var groups = (await db.ChannelGroups.AsNoTracking().Where(g => g.WorkspaceId == id).ToListAsync(cancellation))
            .SelectMany(g => g.Channels.Select(c => (Channel: c, Group: g.Id)))
            .ToLookup(x => x.Channel, x => x.Group);
        LineUpEntry[][] cards =
        [
            .. lineUp
                .Entries.Where(e => selection.Lets(e, groups))
                .GroupBy(e => (e.PostId, e.At))
                .Select(card => card.OrderBy(e => channels[e.ChannelId].Position).ToArray()),
        ];
        List<KeyDateView> dates = selection.WithKeyDates ? await keyDates.ReadAsync(workspace, first, last, caller, cancellation) : [];
        Dictionary<Guid, int> changes = await ChangesAsync(
            id,
            [
                .. cards
                    .SelectMany(c => c)
                    .Where(e => e.Origin.Kind == OriginKind.Place)
                    .Select(e => e.Origin.Id)
                    .Concat(dates.Select(d => d.Id.Value))
                    .Distinct(),
            ],
            cancellation
        );
        Dictionary<Guid, Ancestor> ancestors = await AncestorsAsync(
            id,
            [.. cards.SelectMany(c => c).Select(e => e.DeliveryId?.Value).OfType<Guid>()],
            cancellation
        );
        List<CalendarItem> items = [.. cards.Select(card => Item(card, workspace, channels, categories, changes, ancestors))];
        items.AddRange(dates.Select(d => Item(d, workspace, changes)));
        if (selection.WithKeyDates)
            items.AddRange(await NotesAsync(workspace, first, last, cancellation));
        return CalendarFile.Write(workspace.Name, items, await clock.NowAsync(cancellation));
    }

    /// <summary>How often slots (with what was decided about their places) and key dates were changed: none of them is ever less.</summary>
    private Task<Dictionary<Guid, int>> ChangesAsync(Id<Workspace> id, Guid[] of, CancellationToken cancellation) =>
        db
            .Changes.Where(c => c.WorkspaceId == id && of.Contains(c.EntityId))
            .GroupBy(c => c.EntityId)
            .Select(g => new { Id = g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Id, g => g.Count, cancellation);

    /// <summary>The first of the deliveries that were each planned in place of the one before.</summary>
    /// <param name="SlotId">Where it came from a place of a rota: the slot.</param>
    /// <param name="Date">And the place's original date, in figures.</param>
    /// <param name="Revisions">Of all of them together.</param>
    private sealed record Ancestor(Guid Known, Guid Id, Guid? SlotId, string? Date, int Revisions);

    private async Task<Dictionary<Guid, Ancestor>> AncestorsAsync(Id<Workspace> id, Guid[] deliveries, CancellationToken cancellation)
    {
        List<Ancestor> found = await db
            .Database.SqlQuery<Ancestor>(
                $"""
                with recursive line as (
                    select d.id as known, d.id, d.instead_of, d.revision, 0 as back from deliveries d
                    where d.workspace_id = {id.Value} and d.id = any ({deliveries})
                    union all
                    select l.known, d.id, d.instead_of, l.revision + d.revision, l.back + 1
                    from line l join deliveries d on d.workspace_id = {id.Value} and d.id = l.instead_of
                    where l.back < 100)
                select distinct on (l.known) l.known as known, l.id as id,
                    case when d.origin_kind = 'Place' then d.origin_id end as slot_id,
                    to_char(d.origin_date, 'YYYYMMDD') as date, l.revision as revisions
                from line l join deliveries d on d.workspace_id = {id.Value} and d.id = l.id
                order by l.known, l.back desc
                """
            )
            .ToListAsync(cancellation);
        return found.ToDictionary(a => a.Known);
    }

    /// <summary>What stays with an entry wherever it is moved: its place in the rota as that was, or its first delivery.</summary>
    private static string NameOf(LineUpEntry e, Dictionary<Guid, Ancestor> ancestors)
    {
        if (e.DeliveryId is not { } delivery)
            return Place(e.Origin.Id, e.Origin.Date.ToString("uuuuMMdd", CultureInfo.InvariantCulture));
        // One that was planned while this was read is its own first.
        return !ancestors.TryGetValue(delivery.Value, out Ancestor? first) ? delivery.Value.ToString()
            : first is { SlotId: { } slot, Date: { } date } ? Place(slot, date)
            : first.Id.ToString();

        string Place(Guid slot, string date) => $"{slot:N}-{date}-{e.PostId}-{e.ChannelId}";
    }

    private static CalendarItem Item(
        LineUpEntry[] card,
        Workspace workspace,
        Dictionary<Id<Channel>, Channel> channels,
        Dictionary<Id<Category>, string> categories,
        Dictionary<Guid, int> changes,
        Dictionary<Guid, Ancestor> ancestors
    )
    {
        LineUpEntry any = card[0];
        // A card is known by one of its entries: where another leaves it, it stays the same.
        LineUpEntry known = card.MinBy(e => NameOf(e, ancestors), StringComparer.Ordinal)!;
        string where = string.Join(", ", card.Select(e => channels[e.ChannelId].Name));
        string title = any.Title ?? "Nothing to send";
        string uid = $"{NameOf(known, ancestors)}@{workspace.Slug}.able-lark";
        int sequence = known.Origin.Kind == OriginKind.Place ? changes.GetValueOrDefault(known.Origin.Id) : 0;
        if (known.DeliveryId is { } delivery)
            sequence += ancestors.GetValueOrDefault(delivery.Value)?.Revisions ?? 0;
        IEnumerable<string> details =
        [
            .. card.Select(e => $"{channels[e.ChannelId].Name}: {StateOf(e)}{(AddressOf(e) is { } a ? $", {a}" : "")}"),
            .. any.CategoryId is { } category ? [categories[category]] : Array.Empty<string>(),
        ];
        return new(
            uid,
            $"{title} ({where})",
            string.Join("\n", details),
            any.At,
            any.Date,
            any.Date,
            card.Length == 1 ? AddressOf(any) : null,
            sequence
        );
    }

    /// <summary>Where it is to be seen; null: nowhere yet, or no longer.</summary>
    private static string? AddressOf(LineUpEntry entry) => entry.IsTakenDown ? null : entry.Address;

    private static string StateOf(LineUpEntry entry) =>
        entry.IsTakenDown ? "taken down"
        : entry.State is { } state ? PlanWords.Of(state)
        : entry.Kind == EntryKind.Empty ? "empty"
        : entry.IsWaiting ? PlanWords.Of(DeliveryState.WaitingForApproval)
        : "may change";

    private static CalendarItem Item(KeyDateView date, Workspace workspace, Dictionary<Guid, int> changes) =>
        new(
            $"{date.Id}-{date.Occurrence:uuuuMMdd}@{workspace.Slug}.able-lark",
            date.Title,
            date.Notes,
            date.Time is { } time ? (date.Date + time).InZoneLeniently(workspace.Zone).ToInstant() : null,
            date.Date,
            date.Last,
            Sequence: changes.GetValueOrDefault(date.Id.Value)
        );

    private async Task<IEnumerable<CalendarItem>> NotesAsync(
        Workspace workspace,
        LocalDate first,
        LocalDate last,
        CancellationToken cancellation
    )
    {
        LocalDate earliest = first.PlusDays(-31);
        List<CalendarNote> notes = await db
            .CalendarNotes.AsNoTracking()
            .Where(n => n.WorkspaceId == workspace.Id && n.Date >= earliest && n.Date <= last)
            .OrderBy(n => n.Date)
            .ToListAsync(cancellation);
        return notes
            .Where(n => n.Last >= first)
            .Select(n => new CalendarItem($"{n.Id}@{workspace.Slug}.able-lark", n.Text.Split('\n')[0], n.Text, null, n.Date, n.Last));
    }
}
