using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Imports;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Kinds;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Sheets;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Imports;

/// <summary>The rows of a sheet that is being imported: shown, mended, decided about.</summary>
public static class ImportRowEndpoints
{
    private const int MostShown = 200;
    private const int MostNamed = 500;

    public static void MapImportRows(this RouteGroupBuilder imports)
    {
        imports.MapGet("/{id}/rows", ListAsync).Needs(Right.Write);
        imports.MapPost("/{id}/rows", EditAsync).Needs(Right.Write);
        imports.MapPost("/{id}/replace", ReplaceAsync).Needs(Right.Write);
    }

    /// <param name="from">How many of those that match come before; null: none.</param>
    /// <param name="count">Up to 200; null: as many.</param>
    private static async Task<ImportRows> ListAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        QueryWord<RowStatus>? status,
        string? search,
        QueryWord<RowQuestion>? about,
        int? from,
        int? count,
        ImportBooks books,
        CancellationToken cancellation
    )
    {
        (ImportRun run, OpenImport open) = await books.GetAsync(workspaceId, id, cancellation);
        string[] targets = [.. run.Plan.Targets.OfType<string>()];
        RowChoice which = new(null, status?.Value, search, about?.Value);
        (int before, int shown) = (Math.Max(0, from ?? 0), Math.Clamp(count ?? MostShown, 1, MostShown));
        // The first rows are there before all are read; which of all match is known only then.
        bool isOfFirst = status is null && about is null && string.IsNullOrWhiteSpace(search);
        return open.Glance(b => isOfFirst && before + shown <= b.Rows.Count() ? Shown(b) : null) ?? open.Look(Shown);

        ImportRows Shown(ImportBook book)
        {
            ImportRow[] rows = [.. Matching(book, which, targets)];
            return new(
                book.IsWhole ? rows.Length : book.Filled,
                run.Revision,
                [.. rows.Skip(before).Take(shown).Select(r => ImportShowing.Row(book, r, targets))]
            );
        }
    }

    private static Task<RowsChanged> EditAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        RowsEdit edit,
        LarkDb db,
        ImportBooks books,
        CancellationToken cancellation
    )
    {
        return ChangeAsync(workspaceId, id, edit.Which, Changed, db, books, cancellation);

        IEnumerable<(int Row, RowEdit Edit)> Changed(ImportBook book, ImportRow row)
        {
            Check(edit, book);
            BookEntry? entry = book.EntryOf(row.Number);
            RowEdit now = edit.Reset ? RowEdit.None : book.EditOf(row);
            if (edit.Values is { Count: > 0 } values)
                now = now with { Values = With(now.Values, values) };
            if (edit.TakeOffered && ImportShowing.Offered(row) is { } time)
                now = now with
                {
                    Values = With(now.Values, new Dictionary<string, string> { [ImportTargets.KeyOf(RowField.Time)] = time }),
                };
            if (edit.LeftOut is { } leftOut)
                now = now with { LeftOut = leftOut };
            if (edit.With is { } with)
                now = now with { With = with == 0 ? row.Number : with };
            // What concerns the whole post is kept with its first row.
            int first = edit.Joined is null ? entry?.Draft.Number ?? row.Number : entry?.Group.Rows[0].Number ?? row.Number;
            if (first == row.Number)
                now = now with
                {
                    Joined = edit.Joined ?? now.Joined,
                    IfThere = edit.IfThere ?? now.IfThere,
                    Fitted = Fitted(now, edit.Fit),
                };
            else if (edit.Joined is not null || edit.IfThere is not null || edit.Fit is not null)
            {
                RowEdit of = book.EditOf(entry!.Group.Rows.First(r => r.Number == first));
                yield return (
                    first,
                    of with
                    {
                        Joined = edit.Joined ?? of.Joined,
                        IfThere = edit.IfThere ?? of.IfThere,
                        Fitted = Fitted(of, edit.Fit),
                    }
                );
            }
            yield return (row.Number, now);
        }
    }

    /// <param name="more">None takes all back.</param>
    private static IReadOnlyList<string>? Fitted(RowEdit edit, IReadOnlyList<string>? more) =>
        more switch
        {
            null => edit.Fitted,
            { Count: 0 } => null,
            _ => [.. (edit.Fitted ?? []).Union(more)],
        };

    private static Task<RowsChanged> ReplaceAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        ReplaceEdit edit,
        LarkDb db,
        ImportBooks books,
        CancellationToken cancellation
    )
    {
        return ChangeAsync(workspaceId, id, edit.Which, Changed, db, books, cancellation);

        IEnumerable<(int, RowEdit)> Changed(ImportBook book, ImportRow row)
        {
            if (book.Context.Targets.Find(edit.Target) is null)
                throw ProblemException.BadInput($"There is no field “{edit.Target}” to look in.");
            string before = book.Cell(row, edit.Target);
            string after = before.Replace(edit.Find, edit.With, StringComparison.Ordinal);
            if (before == after)
                yield break;
            if (after.Length > SheetLimits.MostInCell)
                throw ProblemException.BadInput(
                    $"Row {row.Number} would hold more than {SheetLimits.MostInCell:N0} characters in one cell."
                );
            RowEdit now = book.EditOf(row);
            yield return (row.Number, now with { Values = With(now.Values, new Dictionary<string, string> { [edit.Target] = after }) });
        }
    }

    /// <summary>Changes rows: one change of an import after the other, each kept before it is told.</summary>
    private static async Task<RowsChanged> ChangeAsync(
        Id<Workspace> workspaceId,
        Id<ImportRun> id,
        RowChoice which,
        Func<ImportBook, ImportRow, IEnumerable<(int Row, RowEdit Edit)>> change,
        LarkDb db,
        ImportBooks books,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        int revision = (
            await db
                .Database.SqlQuery<int>(
                    $"""
                    update import_runs set revision = revision + 1
                    where workspace_id = {workspaceId.Value} and id = {id.Value} and state = 'Open' returning revision as "Value"
                    """
                )
                .ToListAsync(cancellation)
        ).FirstOrDefault();
        if (revision == 0)
        {
            await books.RunAsync(workspaceId, id, cancellation);
            throw ProblemException.Conflict("This import is in the bank already, so its rows can't be changed. Change the posts.");
        }
        // Its row is locked: nobody else changes it between the reading and the writing.
        (ImportRun run, OpenImport open) = await books.GetAsync(workspaceId, id, cancellation, revision - 1);
        string[] targets = [.. run.Plan.Targets.OfType<string>()];
        Dictionary<int, RowEdit> edits = [];
        open.Look(book =>
        {
            foreach (ImportRow row in Matching(book, which, targets))
            {
                foreach ((int number, RowEdit edit) in change(book, row))
                    edits[number] = edit;
            }
            return 0;
        });
        int[] rows = [.. edits.Keys];
        string[] documents = [.. edits.Values.Select(e => JsonSerializer.Serialize(e, LarkJson.Options))];
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into import_edits (workspace_id, import_id, "row", edit, revision)
            select {workspaceId.Value}, {id.Value}, e.number, e.edit::jsonb, {revision}
            from unnest({rows}, {documents}) as e (number, edit)
            on conflict (workspace_id, import_id, "row") do update set edit = excluded.edit, revision = excluded.revision
            """,
            cancellation
        );
        await ChangeNotification.TellAsync(db, workspaceId, Topic.Imports, cancellation);
        await transaction.CommitAsync(cancellation);
        open.Apply(edits, revision - 1, revision);
        return new(rows.Length, revision, [.. rows.Take(MostNamed).Order()]);
    }

    private static IEnumerable<ImportRow> Matching(ImportBook book, RowChoice which, IReadOnlyList<string> targets)
    {
        HashSet<int>? named = which.Rows is { } numbers ? [.. numbers] : null;
        foreach (ImportRow row in book.Rows)
        {
            if (named is not null && !named.Contains(row.Number))
                continue;
            BookEntry? entry = book.EntryOf(row.Number);
            if (entry is null || (which.Status is { } status && entry.Status != status))
                continue;
            bool asked = which.About switch
            {
                RowQuestion.Joins => entry.AsksToJoin,
                RowQuestion.Doubles => !entry.IsTakenOut && entry.Twice is not null && entry.Choice is null,
                RowQuestion.Offered => ImportShowing.Offered(row) is not null,
                _ => true,
            };
            if (!asked)
                continue;
            if (
                !string.IsNullOrWhiteSpace(which.Search)
                && !targets.Any(t => book.Cell(row, t).Contains(which.Search.Trim(), StringComparison.OrdinalIgnoreCase))
            )
                continue;
            yield return row;
        }
    }

    private static void Check(RowsEdit edit, ImportBook book)
    {
        ImportContext context = book.Context;
        foreach ((string target, string value) in edit.Values ?? new Dictionary<string, string>())
        {
            if (context.Targets.Find(target) is null)
                throw ProblemException.BadInput($"A row has no field “{target}”.");
            if (value is null || value.Length > SheetLimits.MostInCell)
                throw ProblemException.BadInput($"A cell holds at most {SheetLimits.MostInCell:N0} characters. Shorten it.");
        }
        if (edit.With is > 0 and var other)
        {
            if (book.EntryOf(other) is not { IsOfSendings: false } of || of.IsTakenOut)
                throw ProblemException.BadInput($"Row {other} holds no post that others could be part of. Choose another row.");
        }
        if (edit.Fit?.FirstOrDefault(n => !context.Networks.Has(n)) is { } unknown)
            throw ProblemException.BadInput($"There is no network “{unknown}”.");
    }

    private static Dictionary<string, string> With(IReadOnlyDictionary<string, string> under, IReadOnlyDictionary<string, string> over)
    {
        Dictionary<string, string> all = new(under);
        foreach ((string key, string value) in over)
            all[key] = value;
        return all;
    }
}
