using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Calendars;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Deliveries;
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
        List<CalendarItem> items =
        [
            .. lineUp
                .Entries.Where(e => selection.Lets(e, groups))
                .GroupBy(e => (e.PostId, e.At))
                .Select(card => Item([.. card.OrderBy(e => channels[e.ChannelId].Position)], workspace, channels, categories)),
        ];
        if (selection.WithKeyDates)
            items.AddRange(await BesideAsync(workspace, first, last, caller, cancellation));
        return CalendarFile.Write(workspace.Name, items, await clock.NowAsync(cancellation));
    }

    private static CalendarItem Item(
        LineUpEntry[] card,
        Workspace workspace,
        Dictionary<Id<Channel>, Channel> channels,
        Dictionary<Id<Category>, string> categories
    )
    {
        LineUpEntry any = card[0];
        string where = string.Join(", ", card.Select(e => channels[e.ChannelId].Name));
        string title = any.Title ?? "Nothing to send";
        string uid = string.Create(
            CultureInfo.InvariantCulture,
            $"{any.PostId?.ToString() ?? any.Key}-{any.At.ToUnixTimeSeconds()}@{workspace.Slug}.able-lark"
        );
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
            card.Length == 1 ? AddressOf(any) : null
        );
    }

    /// <summary>Where it is to be seen; null: nowhere yet, or no longer.</summary>
    private static string? AddressOf(LineUpEntry entry) => entry.IsTakenDown ? null : entry.Address;

    private static string StateOf(LineUpEntry entry) =>
        entry.IsTakenDown ? "taken down"
        : entry.State is { } state ? DeliveryEndpoints.Words(state)
        : entry.Kind == EntryKind.Empty ? "empty"
        : entry.IsWaiting ? DeliveryEndpoints.Words(DeliveryState.WaitingForApproval)
        : "may change";

    /// <summary>Key dates and notes.</summary>
    private async Task<IEnumerable<CalendarItem>> BesideAsync(
        Workspace workspace,
        LocalDate first,
        LocalDate last,
        Caller caller,
        CancellationToken cancellation
    )
    {
        List<KeyDateView> found = await keyDates.ReadAsync(workspace, first, last, caller, cancellation);
        LocalDate earliest = first.PlusDays(-31);
        List<CalendarNote> notes = await db
            .CalendarNotes.AsNoTracking()
            .Where(n => n.WorkspaceId == workspace.Id && n.Date >= earliest && n.Date <= last)
            .OrderBy(n => n.Date)
            .ToListAsync(cancellation);
        return
        [
            .. found.Select(k => new CalendarItem(
                $"{k.Id}-{k.Occurrence:uuuuMMdd}@{workspace.Slug}.able-lark",
                k.Title,
                "",
                k.Time is { } time ? (k.Date + time).InZoneLeniently(workspace.Zone).ToInstant() : null,
                k.Date,
                k.Last
            )),
            .. notes
                .Where(n => n.Last >= first)
                .Select(n => new CalendarItem($"{n.Id}@{workspace.Slug}.able-lark", n.Text.Split('\n')[0], n.Text, null, n.Date, n.Last)),
        ];
    }
}
