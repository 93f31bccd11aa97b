using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Imports;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Sheets;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <summary>Empty sheets of our own kind, with an example filled in.</summary>
public static class Templates
{
    private const int HalfHours = 48;

    public static void MapTemplates(this RouteGroupBuilder imports)
    {
        imports
            .MapGet(
                "/template.csv",
                (Id<Workspace> workspaceId, ImportContexts contexts, CancellationToken cancellation) =>
                    CsvAsync(workspaceId, contexts, cancellation)
            )
            .Needs(Right.Write);
        imports
            .MapGet(
                "/template.xlsx",
                (Id<Workspace> workspaceId, LarkDb db, ImportContexts contexts, CancellationToken cancellation) =>
                    WorkbookAsync(workspaceId, db, contexts, cancellation)
            )
            .Needs(Right.Write);
    }

    private static async Task<IResult> CsvAsync(Id<Workspace> workspace, ImportContexts contexts, CancellationToken cancellation)
    {
        ImportContext context = await contexts.ReadAsync(workspace, cancellation);
        byte[] sheet = TextSheets.Write([
            [.. Columns(context, []).Select(c => c.Header)],
            .. Examples(context),
        ]);
        return TypedResults.File(sheet, "text/csv; charset=utf-8", "posts.csv");
    }

    private static async Task<IResult> WorkbookAsync(
        Id<Workspace> workspace,
        LarkDb db,
        ImportContexts contexts,
        CancellationToken cancellation
    )
    {
        ImportContext context = await contexts.ReadAsync(workspace, cancellation);
        List<LocalTime> ofRotas = await db
            .Rotas.Where(r => r.WorkspaceId == workspace && r.RemovedAt == null)
            .SelectMany(r => r.Slots)
            .Where(s => s.RemovedAt == null)
            .Select(s => s.Time)
            .Distinct()
            .OrderBy(t => t)
            .ToListAsync(cancellation);
        return TypedResults.File(
            WorkbookWriter.Write("Posts", Columns(context, ofRotas), Examples(context)),
            WorkbookWriter.ContentType,
            "posts.xlsx"
        );
    }

    /// <param name="ofRotas">Times at which something goes out anyway: they are offered first.</param>
    private static List<SheetColumn> Columns(ImportContext context, IReadOnlyList<LocalTime> ofRotas)
    {
        string[] times =
        [
            .. ofRotas
                .Concat(Enumerable.Range(0, HalfHours).Select(i => new LocalTime(i / 2, i % 2 * 30)))
                .Distinct()
                .Select(t => t.ToString("HH:mm", CultureInfo.InvariantCulture)),
        ];
        string Own(RowField field) => ImportTargets.NameOf(field);
        return
        [
            new(Own(RowField.Title), 24, []),
            new(Own(RowField.Category), 18, [.. context.Categories.Select(c => c.Name)]),
            new(context.Targets.Of(ContentFields.Text).Name, 60, []),
            .. Networks(context).Select(n => new SheetColumn(context.Targets.Of(ContentFields.Text, n).Name, 40, [])),
            new(context.Targets.Of(ContentFields.Link).Name, 30, []),
            new(context.Targets.Of(ContentFields.Pictures).Name, 22, []),
            new(Own(RowField.Channels), 26, [.. context.Channels.Select(context.Targets.NameOf)]),
            new(Own(RowField.Date), 12, [], IsDate: true),
            new(Own(RowField.Time), 8, times),
            new(Own(RowField.Lifespan), 14, ["evergreen", "once", "once altogether"]),
            new(Own(RowField.Notes), 24, []),
            new(Own(RowField.OutsideId), 12, []),
        ];
    }

    /// <summary>Networks that the workspace has channels on.</summary>
    private static IEnumerable<string> Networks(ImportContext context) =>
        context
            .Channels.Where(c => c.Connection != ConnectionState.Disconnected)
            .Select(c => c.Network)
            .Distinct()
            .Where(context.Networks.Has);

    private static List<IReadOnlyList<string>> Examples(ImportContext context)
    {
        Category category = context.Categories[0];
        int networks = Networks(context).Count();
        string[] none = [.. Enumerable.Repeat("", networks)];
        string channel = context.Channels.Count > 0 ? context.Targets.NameOf(context.Channels[0]) : "";
        string date = context.Now.Date.PlusDays(7).ToString("uuuu-MM-dd", CultureInfo.InvariantCulture);
        return
        [
            [
                "An example",
                category.Name,
                "What is said on every network. Take this row out before you import.",
                .. none,
                "",
                "",
                "",
                "",
                "",
                "",
                "never sent",
                "EX-1",
            ],
            ["Another, at a time", category.Name, "What is said there.", .. none, "", "", channel, date, "09:30", "once", "", "EX-2"],
        ];
    }
}
