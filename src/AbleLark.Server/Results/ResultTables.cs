using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Comparison;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Sheets;
using Microsoft.EntityFrameworkCore;
using NodaTime.Text;

namespace AbleLark.Server.Results;

/// <summary>Which table goes out.</summary>
public enum ResultsTable
{
    Category,
    Channel,
    Daypart,
    Post,
    Wording,
    Hashtag,
    AnyCategory,
    Delivery,
    Activity,
}

public enum SheetFormat
{
    Csv,
    Xlsx,
}

/// <summary>Tables of results as sheets, as they were asked for.</summary>
public static class ResultTables
{
    private static readonly SheetColumn[] GroupColumns =
    [
        Figure("Posts"),
        Figure("Deliveries"),
        Figure("Left out"),
        Figure("Total"),
        Figure("Rate"),
        Figure("Median"),
        Figure("Beside the usual"),
        Figure("From"),
        Figure("To"),
    ];

    public static void MapResultTables(this RouteGroupBuilder workspace) =>
        workspace.MapGet("/results/table", SheetAsync).Needs(Right.Results);

    private static async Task<IResult> SheetAsync(
        Id<Workspace> workspaceId,
        [AsParameters] ResultsQuery query,
        QueryWord<ResultsTable> table,
        QueryWord<SheetFormat>? format,
        MeasuredReader reader,
        Comparisons comparisons,
        ResultsGroups groups,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        ResultsQuestion question = query.Question();
        (SheetColumn[] columns, List<IReadOnlyList<string>> rows) = table.Value switch
        {
            ResultsTable.Category => await CategoriesAsync(workspaceId, question, reader, comparisons, db, cancellation),
            ResultsTable.Delivery => await DeliveriesAsync(workspaceId, question, reader, comparisons, db, cancellation),
            ResultsTable.Activity => await ActivityAsync(workspaceId, question, db, cancellation),
            var other => Groups(
                (
                    await groups.OfAsync(
                        workspaceId,
                        question,
                        Enum.Parse<ResultsBy>(other.ToString()),
                        GroupOrder.Best,
                        skip: 0,
                        take: int.MaxValue,
                        cancellation
                    )
                ).Rows,
                other
            ),
        };
        string name = $"results-by-{table.Value.ToString().ToLowerInvariant()}-{LocalDatePattern.Iso.Format(question.Period.To)}";
        return format?.Value == SheetFormat.Xlsx
            ? Answers.File(WorkbookWriter.Write("Results", columns, rows), WorkbookWriter.ContentType, $"{name}.xlsx")
            : Answers.File(
                TextSheets.Write([
                    [.. columns.Select(c => c.Header)],
                    .. rows.Select(r => (IReadOnlyList<string>)[.. r.Select(Harmless)]),
                ]),
                "text/csv",
                $"{name}.csv"
            );
    }

    private static async Task<(SheetColumn[] Columns, List<IReadOnlyList<string>> Rows)> CategoriesAsync(
        Id<Workspace> workspace,
        ResultsQuestion question,
        MeasuredReader reader,
        Comparisons comparisons,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        (List<MeasuredDelivery> deliveries, _) = await reader.ReadAsync(workspace, question, cancellation);
        Dictionary<Id<Category>, string> names = await CategoryNamesAsync(workspace, db, cancellation);
        return (
            [
                Words("Category"),
                Figure("Posts"),
                Figure("Deliveries"),
                Figure("Left out"),
                Figure("Share of deliveries"),
                Figure("Total"),
                Figure("Rate"),
                Figure("Median"),
                Figure("Share of total"),
                Figure("As it stands"),
                Figure("Compared fairly"),
                Figure("From"),
                Figure("To"),
                Words("Verdict"),
            ],
            [
                .. comparisons
                    .Of(deliveries)
                    .Categories.Select(r =>
                        (IReadOnlyList<string>)
                            [
                                names.GetValueOrDefault(r.CategoryId, ""),
                                Number(r.Posts),
                                Number(r.Deliveries),
                                Number(r.LeftOut),
                                Number(r.ShareOfDeliveries),
                                Number(r.Total),
                                Number(r.Rate),
                                Number(r.Median),
                                Number(r.ShareOfTotal),
                                Number(r.Index),
                                Number(r.Adjusted?.Value),
                                Number(r.Adjusted?.Low),
                                Number(r.Adjusted?.High),
                                VerdictWords(r.Verdict),
                            ]
                    ),
            ]
        );
    }

    private static (SheetColumn[] Columns, List<IReadOnlyList<string>> Rows) Groups(IReadOnlyList<GroupRow> groups, ResultsTable table) =>
        (
            [Words(table == ResultsTable.AnyCategory ? "Any category" : table.ToString()), .. GroupColumns],
            [
                .. groups.Select(g =>
                    (IReadOnlyList<string>)
                        [
                            g.Name,
                            Number(g.Posts),
                            Number(g.Deliveries),
                            Number(g.LeftOut),
                            Number(g.Total),
                            Number(g.Rate),
                            Number(g.Median),
                            Number(g.Makes?.Value ?? g.BesideUsual?.Ratio),
                            Number(g.Makes?.Low ?? g.BesideUsual?.Low),
                            Number(g.Makes?.High ?? g.BesideUsual?.High),
                        ]
                ),
            ]
        );

    private static async Task<(SheetColumn[] Columns, List<IReadOnlyList<string>> Rows)> DeliveriesAsync(
        Id<Workspace> workspace,
        ResultsQuestion question,
        MeasuredReader reader,
        Comparisons comparisons,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        (List<MeasuredDelivery> deliveries, _) = await reader.ReadAsync(workspace, question, cancellation);
        IReadOnlyDictionary<Id<Core.Deliveries.Delivery>, double> expected = comparisons.Of(deliveries).Expected;
        Dictionary<Id<Category>, string> categories = await CategoryNamesAsync(workspace, db, cancellation);
        Dictionary<Id<Channel>, string> channels = await db
            .Channels.Where(c => c.WorkspaceId == workspace)
            .ToDictionaryAsync(c => c.Id, c => c.Name, cancellation);
        Dictionary<Id<Core.Posts.Post>, string> titles = await db
            .Posts.Where(p => p.WorkspaceId == workspace && db.Deliveries.Any(d => d.WorkspaceId == workspace && d.PostId == p.Id))
            .ToDictionaryAsync(p => p.Id, p => p.Title, cancellation);
        return (
            [
                new("Date", 12, [], IsDate: true),
                Figure("Hour"),
                Words("Channel"),
                Words("Category"),
                Words("Post"),
                Figure("Value"),
                Figure("Usual there then"),
            ],
            [
                .. deliveries
                    .OrderByDescending(d => d.Date)
                    .ThenByDescending(d => d.Hour)
                    .ThenBy(d => d.Id)
                    .Select(d =>
                        (IReadOnlyList<string>)
                            [
                                LocalDatePattern.Iso.Format(d.Date),
                                Number(d.Hour),
                                channels.GetValueOrDefault(d.ChannelId, ""),
                                categories.GetValueOrDefault(d.CategoryId, ""),
                                titles.GetValueOrDefault(d.PostId, ""),
                                Number(d.Measured is { } m ? m.Above / (m.Below ?? 1) : null),
                                Number(expected.TryGetValue(d.Id, out double mean) ? mean / (d.Measured!.Below ?? 1) : null),
                            ]
                    ),
            ]
        );
    }

    private static async Task<(SheetColumn[] Columns, List<IReadOnlyList<string>> Rows)> ActivityAsync(
        Id<Workspace> workspace,
        ResultsQuestion question,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        Dictionary<Id<Channel>, string> channels = await db
            .Channels.Where(c => c.WorkspaceId == workspace)
            .ToDictionaryAsync(c => c.Id, c => c.Name, cancellation);
        return (
            [
                Words("Channel"),
                Figure("To come"),
                Figure("Sent"),
                Figure("Refused"),
                Figure("Missed"),
                Figure("Waits for you"),
                Figure("Cancelled"),
                Figure("Went out"),
                Figure("From"),
                Figure("To"),
                Figure("On time"),
                Figure("From (on time)"),
                Figure("To (on time)"),
            ],
            [
                .. (await ActivityEndpoints.OfAsync(workspace, question.Period, db, cancellation)).Select(r =>
                    (IReadOnlyList<string>)
                        [
                            channels.GetValueOrDefault(r.ChannelId, ""),
                            Number(r.Planned),
                            Number(r.Sent.Successes),
                            Number(r.Refused),
                            Number(r.Missed),
                            Number(r.Waiting),
                            Number(r.Cancelled),
                            Number(r.Sent.Share),
                            Number(r.Sent.Low),
                            Number(r.Sent.High),
                            Number(r.OnTime.Share),
                            Number(r.OnTime.Low),
                            Number(r.OnTime.High),
                        ]
                ),
            ]
        );
    }

    private static Task<Dictionary<Id<Category>, string>> CategoryNamesAsync(
        Id<Workspace> workspace,
        LarkDb db,
        CancellationToken cancellation
    ) => db.Categories.Where(c => c.WorkspaceId == workspace).ToDictionaryAsync(c => c.Id, c => c.Name, cancellation);

    private static string VerdictWords(Verdict verdict) =>
        verdict switch
        {
            Verdict.TooFew => "too few to tell",
            Verdict.Nothing => "earned nothing",
            Verdict.Apart => "can't be compared",
            Verdict.OnePost => "rests on one post",
            Verdict.NoAnswer => "no answer",
            Verdict.NoClearDifference => "no clear difference",
            Verdict.More => "more, fairly sure",
            _ => "less, fairly sure",
        };

    private static SheetColumn Words(string header) => new(header, 28, []);

    private static SheetColumn Figure(string header) => new(header, 12, [], IsNumber: true);

    /// <summary>Missing is empty, never nought.</summary>
    private static string Number(double? value) =>
        value is null ? "" : Math.Round(value.Value, 6).ToString("0.######", CultureInfo.InvariantCulture);

    /// <summary>What a spreadsheet would take for a formula is marked as words.</summary>
    private static string Harmless(string cell) =>
        cell.Length > 0
        && "=+-@\t\r".Contains(cell[0], StringComparison.Ordinal)
        && !double.TryParse(cell, CultureInfo.InvariantCulture, out _)
            ? "'" + cell
            : cell;
}
