using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Imports;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Sheets;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <summary>Planning sheets: what goes out in a period, to be looked over elsewhere and imported again.</summary>
public static class Planning
{
    public static void MapPlanning(this RouteGroupBuilder imports)
    {
        imports.MapGet("/planning-sheet.csv", CsvAsync).Needs(Right.View);
        imports.MapGet("/planning-sheet.xlsx", WorkbookAsync).Needs(Right.View);
    }

    /// <param name="from">First date.</param>
    /// <param name="to">Last date, included.</param>
    private static async Task<IResult> CsvAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        LarkDb db,
        ImportContexts contexts,
        CancellationToken cancellation
    )
    {
        byte[] sheet = TextSheets.Write([
            PlanningSheet.Headers,
            .. await RowsAsync(workspaceId, from.Value, to.Value, db, contexts, cancellation),
        ]);
        return TypedResults.File(sheet, "text/csv; charset=utf-8", NameOf(from.Value, to.Value) + ".csv");
    }

    private static async Task<IResult> WorkbookAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        LarkDb db,
        ImportContexts contexts,
        CancellationToken cancellation
    )
    {
        byte[] sheet = WorkbookWriter.Write(
            "Plan",
            [
                .. PlanningSheet.Headers.Select(
                    (h, i) => new SheetColumn(h, PlanningSheet.Widths[i], [], IsDate: h == PlanningSheet.DateHeader)
                ),
            ],
            await RowsAsync(workspaceId, from.Value, to.Value, db, contexts, cancellation)
        );
        return TypedResults.File(sheet, WorkbookWriter.ContentType, NameOf(from.Value, to.Value) + ".xlsx");
    }

    private static string NameOf(LocalDate from, LocalDate to) =>
        string.Create(CultureInfo.InvariantCulture, $"plan {from:uuuu-MM-dd} to {to:uuuu-MM-dd}");

    private static async Task<List<IReadOnlyList<string>>> RowsAsync(
        Id<Workspace> workspace,
        LocalDate from,
        LocalDate to,
        LarkDb db,
        ImportContexts contexts,
        CancellationToken cancellation
    )
    {
        if (to < from)
            throw ProblemException.BadInput("The last date lies before the first. Swap them.");
        if (Period.DaysBetween(from, to) > WorkspaceLimits.LineUpDays * 4)
            throw ProblemException.BadInput("A planning sheet holds a year at most. Choose a shorter period.");
        ImportContext context = await contexts.ReadAsync(workspace, cancellation);
        List<Id<Delivery>> ids = await db
            .Deliveries.Where(d => d.WorkspaceId == workspace && d.LocalDate >= from && d.LocalDate <= to)
            .Select(d => d.Id)
            .ToListAsync(cancellation);
        return
        [
            .. (await SendingsAsync(workspace, ids, context, db, cancellation))
                .Values.OrderBy(s => s.Local)
                .ThenBy(s => s.Channel.Position)
                .Select(s => PlanningSheet.Row(s, context)),
        ];
    }

    /// <summary>Those of the deliveries that are still to come.</summary>
    public static async Task<IReadOnlyDictionary<Id<Delivery>, KnownSending>> SendingsAsync(
        Id<Workspace> workspace,
        IReadOnlyCollection<Id<Delivery>> ids,
        ImportContext context,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        if (ids.Count == 0)
            return new Dictionary<Id<Delivery>, KnownSending>();
        List<Delivery> deliveries = await db
            .Deliveries.AsNoTracking()
            .Where(d =>
                d.WorkspaceId == workspace
                && ids.Contains(d.Id)
                && (d.State == DeliveryState.Planned || d.State == DeliveryState.WaitingForApproval)
            )
            .ToListAsync(cancellation);
        List<Id<Post>> postIds = [.. deliveries.Select(d => d.PostId).Distinct()];
        Dictionary<Id<Post>, Post> posts = await db
            .Posts.AsNoTracking()
            .Where(p => p.WorkspaceId == workspace && postIds.Contains(p.Id) && p.RemovedAt == null)
            .ToDictionaryAsync(p => p.Id, cancellation);
        Dictionary<Id<Channel>, Channel> channels = context.Channels.Where(c => context.Networks.Has(c.Network)).ToDictionary(c => c.Id);
        return deliveries
            .Where(d => posts.ContainsKey(d.PostId) && channels.ContainsKey(d.ChannelId))
            .ToDictionary(
                d => d.Id,
                d => new KnownSending(d.Id, posts[d.PostId], channels[d.ChannelId], d.LocalDate + d.LocalTime, d.Wording)
            );
    }
}
