using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Findings;
using AbleLark.Core.Imports;
using AbleLark.Core.LineUps;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.LineUps;
using AbleLark.Server.Time;
using AbleLark.Sheets;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <summary>How far a category's stock lasts.</summary>
/// <param name="Posts">New ones that take turns in it.</param>
/// <param name="Before">First date on which a post goes out again, as it is; null: not within 26 weeks.</param>
/// <param name="After">The same with the import in the bank.</param>
public sealed record StockView(Guid CategoryId, int Posts, LocalDate? Before, LocalDate? After);

/// <summary>What the bank would be with an import in it.</summary>
/// <param name="Timed">Posts with times of their own.</param>
/// <param name="Resting">Posts that stay out of the rotation.</param>
/// <param name="First">Date of the first of their times.</param>
/// <param name="Full">In words: days on which more would go out than a channel takes.</param>
public sealed record ImportOutlook(
    int Timed,
    int Rotating,
    int Resting,
    LocalDate? First,
    LocalDate? Last,
    IReadOnlyList<StockView> Stock,
    IReadOnlyList<string> Full
);

/// <param name="Total">All rows, on whichever page.</param>
public sealed record ReportPage(int Total, IReadOnlyList<ReportRow> Rows);

public sealed record ReportRow(int Row, RowEnd End, Guid? PostId, string Title, string Words);

/// <summary>What would come of an import, and what came of it.</summary>
public static class ImportReports
{
    private const int Days = 26 * 7;
    private const int MostShown = 200;
    private const int MostFull = 20;

    public static void MapImportReports(this RouteGroupBuilder imports)
    {
        imports.MapGet("/{id}/outlook", OutlookAsync).Needs(Right.Write);
        imports.MapGet("/{id}/report", ReportAsync).Needs(Right.View);
        imports.MapGet("/{id}/report.csv", SheetAsync).Needs(Right.View);
    }

    private static async Task<ImportOutlook> OutlookAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        ImportBooks books,
        LineUpCache lineUps,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        (_, OpenImport open) = await books.GetAsync(workspaceId, id, cancellation);
        BookEntry[] news = open.Look(b =>
            b.Entries.Where(e => e.Update is null && e.Status is RowStatus.Advice or RowStatus.Fine).ToArray()
        );
        BookEntry[] timed = [.. news.Where(e => e.Draft.Times.Count > 0)];
        BookEntry[] rotating = [.. news.Where(e => e.Draft.Times.Count == 0 && e.Draft.Category is { NewPostsRotate: true })];
        LocalDate[] dates = [.. timed.SelectMany(e => e.Draft.Times).Select(t => t.Local.Date).Order()];
        string[] full = open.Look(b =>
            b.Entries.SelectMany(e => e.Times)
                .Where(f => f.Code == FindingCode.RowDayFull)
                .Select(f => f.Words.TrimEnd('.'))
                .Distinct()
                .Take(MostFull)
                .ToArray()
        );
        return new(
            timed.Length,
            rotating.Length,
            news.Length - timed.Length - rotating.Length,
            dates.Length > 0 ? dates[0] : null,
            dates.Length > 0 ? dates[^1] : null,
            rotating.Length == 0
                ? []
                : Stock((await lineUps.GetAsync(workspaceId, cancellation)).LineUp, rotating, await clock.NowAsync(cancellation)),
            full
        );
    }

    private static IReadOnlyList<StockView> Stock(SharedLineUp known, BookEntry[] rotating, Instant now)
    {
        LineUpInput after = known.Input with { Bank = [.. known.Input.Bank, .. rotating.Select(e => PostOf(e, now))] };
        WhatIf whatIf = WhatIf.Try(known, after, now, Days);
        return
        [
            .. rotating
                .GroupBy(e => e.Draft.Category!.Id)
                .Select(g => new StockView(g.Key.Value, g.Count(), FirstRepeat(whatIf.Before, g.Key), FirstRepeat(whatIf.After, g.Key)))
                .OrderByDescending(s => s.Posts),
        ];
    }

    private static LocalDate? FirstRepeat(Outlook outlook, Id<Category> category) =>
        outlook.Runways.FirstOrDefault(r => r.CategoryId == category && r.ChannelId is null)?.FirstRepeat;

    private static LineUpPost PostOf(BookEntry entry, Instant now) =>
        new()
        {
            Id = Id<Post>.New(),
            Title = entry.Draft.Title,
            Stage = Stage.Ready,
            CategoryId = entry.Draft.Category!.Id,
            FurtherCategories = entry.Draft.First.FurtherCategories,
            Channels = entry.Draft.Channels,
            Fits = entry.Checks?.Fits ?? new Dictionary<string, Fit>(),
            Lifespan = entry.Draft.Lifespan,
            From = entry.Draft.First.From,
            To = entry.Draft.First.To,
            GapDays = entry.Draft.GapDays,
            InRotation = true,
            AddedAt = now,
            AddedOrder = entry.Draft.Number,
        };

    /// <summary>What became of each row, those that stayed out first.</summary>
    /// <param name="from">How many come before; null: none.</param>
    /// <param name="count">Up to 200; null: as many.</param>
    private static async Task<ReportPage> ReportAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        int? from,
        int? count,
        LarkDb db,
        ImportBooks books,
        CancellationToken cancellation
    )
    {
        await books.RunAsync(workspaceId, id, cancellation);
        IQueryable<ImportedRow> all = db.ImportedRows.AsNoTracking().Where(r => r.WorkspaceId == workspaceId && r.ImportId == id);
        var rows = await all.OrderByDescending(r => r.End == RowEnd.Refused)
            .ThenBy(r => r.Row)
            .Skip(Math.Max(0, from ?? 0))
            .Take(Math.Clamp(count ?? MostShown, 1, MostShown))
            .Select(r => new
            {
                r.Row,
                r.End,
                r.PostId,
                r.Words,
                Title = db.Posts.Where(p => p.WorkspaceId == workspaceId && p.Id == r.PostId).Select(p => p.Title).FirstOrDefault(),
            })
            .ToListAsync(cancellation);
        return new(
            await all.CountAsync(cancellation),
            [.. rows.Select(r => new ReportRow(r.Row, r.End, r.PostId?.Value, r.Title ?? "", r.Words))]
        );
    }

    /// <summary>The sheet as it was imported, with what became of each row: to be mended and imported again.</summary>
    private static async Task<IResult> SheetAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        LarkDb db,
        ImportBooks books,
        CancellationToken cancellation
    )
    {
        ImportRun run = await books.RunAsync(workspaceId, id, cancellation);
        SheetReading read = await books.SheetAsync(run, cancellation);
        Dictionary<int, RowEdit> edits = await db
            .ImportEdits.AsNoTracking()
            .Where(e => e.WorkspaceId == workspaceId && e.ImportId == id)
            .ToDictionaryAsync(e => e.Row, e => e.Edit, cancellation);
        Dictionary<int, ImportedRow> ends = await db
            .ImportedRows.AsNoTracking()
            .Where(r => r.WorkspaceId == workspaceId && r.ImportId == id)
            .ToDictionaryAsync(r => r.Row, cancellation);
        byte[] sheet = TextSheets.Write(ReportSheet.Rows(run.Plan, read.Sheet, edits, ends));
        return TypedResults.File(sheet, "text/csv; charset=utf-8", Path.GetFileNameWithoutExtension(run.FileName) + " report.csv");
    }
}
