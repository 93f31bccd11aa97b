using System.Globalization;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Imports;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;
using AbleLark.Data.Rows;
using AbleLark.Server.Posts;
using AbleLark.Sheets;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <summary>Shows imports: as a whole, and row by row.</summary>
internal static class ImportShowing
{
    private const int TopRows = 8;
    private const int MostDoubts = 20;

    public static ImportView Of(ImportRun run, OpenImport open, ImportLine line, bool isOurs, CommitProgress? commit, string? trouble) =>
        new(
            line,
            run.Revision,
            Source(run, open.Source),
            isOurs,
            Columns(run, open),
            open.Glance(b => Questions(run, open.Source, b)),
            run.Plan.Joins,
            open.Progress,
            open.Counts,
            commit,
            trouble
        );

    /// <summary>An import that is in the bank, or was.</summary>
    public static ImportView Done(ImportRun run, ImportLine line, CommitProgress? commit) =>
        new(
            line,
            run.Revision,
            new(run.Encoding, run.Delimiter, run.SheetName, [], [], [], 0, [], run.Plan.HeaderRow, [], [], null),
            false,
            [],
            [],
            run.Plan.Joins,
            new(0, 0, IsComplete: true),
            new(0, 0, 0, 0, 0, line.Posts, line.Changed, 0, line.Deliveries, 0, 0, 0, 0),
            commit,
            null
        );

    private static SourceView Source(ImportRun run, SheetReading read) =>
        new(
            read.Encoding,
            read.Delimiter,
            read.Name,
            read.Names,
            read.Encoding is null ? [] : TextSheets.Encodings,
            read.Delimiter is null ? [] : TextSheets.Delimiters,
            read.Sheet.Rows.Count,
            [.. read.Doubts.OrderBy(d => d.Key).Take(MostDoubts).Select(d => d.Value)],
            run.Plan.HeaderRow,
            [.. read.Sheet.Rows.Take(TopRows)],
            [.. read.Unseen.Sheets.Select(s => new OtherSheet(s.Key, s.Value))],
            read.Unseen.IsHidden ? new(read.Unseen.Rows, read.Unseen.Columns, run.Plan.Hidden) : null
        );

    private static IReadOnlyList<ColumnView> Columns(ImportRun run, OpenImport open) =>
        [
            .. open.Columns.Select(c =>
            {
                string? target = run.Plan.Targets.ElementAtOrDefault(c.Place);
                return new ColumnView(
                    c.Place,
                    Sheet.Letters(c.Place),
                    c.Header,
                    target,
                    target == c.Target ? c.Basis : MatchBasis.Chosen,
                    c.Witnesses,
                    c.Filled
                );
            }),
        ];

    private static IReadOnlyList<DateQuestionView> Questions(ImportRun run, SheetReading read, ImportBook book) =>
        [
            .. from column in book.Reader.Questions
            from question in column.Value
            let chosen = run.Plan.Orders.GetValueOrDefault(column.Key)
            select new DateQuestionView(
                column.Key,
                question.Kind,
                question.Readings,
                question.Decided,
                chosen?.For(question.Kind),
                question.Doubt,
                [.. question.Rows.Select(place => Witness(run, read, book.Context, column.Key, place, question))]
            ),
        ];

    private static DateWitness Witness(
        ImportRun run,
        SheetReading read,
        ImportContext context,
        string target,
        int place,
        DateQuestion question
    )
    {
        string text = Cell(target);
        DateCell cell = DateCell.Read(text, context.Now.Year);
        string weekday = Cell(ImportTargets.KeyOf(RowField.Weekday));
        return new(
            run.Plan.HeaderRow + place + 1,
            text,
            weekday.Length > 0 ? weekday : null,
            [.. question.Readings.Select(r => cell.In(r.Order))]
        );

        string Cell(string key) =>
            read.Sheet.Cell(run.Plan.HeaderRow + place, run.Plan.Targets.ToList().IndexOf(key) is >= 0 and var i ? i : int.MaxValue);
    }

    public static ImportCounts Count(ImportBook book)
    {
        int rows = 0,
            needs = 0,
            advice = 0,
            fine = 0,
            leftOut = 0;
        int posts = 0,
            changed = 0,
            unchanged = 0,
            deliveries = 0,
            joins = 0,
            moved = 0,
            doubles = 0,
            offered = 0;
        foreach (BookEntry entry in book.Entries)
        {
            int here = entry.Draft.Rows.Count;
            rows += here;
            RowStatus status = entry.Status;
            _ = status switch
            {
                RowStatus.NeedsYou => needs += here,
                RowStatus.Advice => advice += here,
                RowStatus.Fine => fine += here,
                _ => leftOut += here,
            };
            if (entry.AsksToJoin)
                joins++;
            if (!entry.IsTakenOut && entry.Twice is not null && entry.Choice is null)
                doubles++;
            offered += entry.Draft.Rows.Count(r => Offered(r) is not null);
            if (status is not (RowStatus.Advice or RowStatus.Fine))
                continue;
            if (entry.IsUnchanged)
                unchanged++;
            else if (entry.Update is not null)
                changed++;
            else
                posts++;
            moved += entry.Moves.Count;
            deliveries += entry.Draft.Times.Sum(t => t.Channels.Count);
        }
        return new(rows, needs, advice, fine, leftOut, posts, changed, unchanged, deliveries, joins, doubles, offered, moved);
    }

    /// <summary>The time that a row could take; null: none is offered.</summary>
    public static string? Offered(ImportRow row) =>
        row.Findings.FirstOrDefault(f => f.Code is FindingCode.RowTimeOfPlace or FindingCode.RowTimeOfHour)?.Values[0];

    public static ImportRowView Row(ImportBook book, ImportRow row, IReadOnlyList<string> targets)
    {
        BookEntry entry = book.EntryOf(row.Number)!;
        // As its post has it: without what was found about cells that nobody edited, where it came back from a planning sheet.
        row = entry.Draft.Rows.First(r => r.Number == row.Number);
        RowEdit edit = book.EditOf(row);
        bool isFirst = entry.Draft.Number == row.Number;
        IEnumerable<Finding> findings =
            !isFirst ? (entry.Belonging(row.Number) is { } belonging ? row.Findings.Append(belonging) : row.Findings)
            : entry.IsTakenOut ? entry.Findings
            : row.Findings.Concat(entry.Findings.Where(f => !IsOfRow(f, entry)));
        return new(
            row.Number,
            entry.Status,
            entry.Draft.Title,
            entry.Draft.Category?.Id.Value,
            row.When,
            [.. entry.Draft.GoesTo.Select(c => c.Value)],
            targets.Concat(edit.Values.Keys).Distinct().ToDictionary(t => t, t => book.Cell(row, t)),
            [.. edit.Values.Keys],
            [.. findings.Select(f => FindingView.Of(f))],
            isFirst ? [.. entry.NetworkFindings.Select(f => Network(f.Key, f.Findings, book.Context))] : [],
            entry.IsTakenOut ? [] : [.. row.Findings.SelectMany(f => Mends(f, book, row))],
            entry.Group.Rows.Count > 1
                ? new(
                    entry.Group.Rows[0].Number,
                    [.. entry.Group.Rows.Select(r => r.Number)],
                    entry.Group.ByWords,
                    entry.AsksToJoin ? null : entry.Draft.Rows.Count > 1
                )
                : null,
            !isFirst ? null
                : entry.Twice is { } twice ? Double(entry, twice)
                : null,
            isFirst,
            entry.Checks is not null || entry.IsLeftOut,
            entry.Edit.Fitted ?? [],
            entry.IsOfSendings ? entry.Differences : []
        );
    }

    private static bool IsOfRow(Finding finding, BookEntry entry) =>
        entry.Draft.Rows.Any(r => r.Findings.Contains(finding, ReferenceEqualityComparer.Instance));

    private static DoubleView Double(BookEntry entry, DoubleOf twice) =>
        new(
            twice.Known?.Id.Value,
            twice.Known?.Title,
            twice.Row,
            twice.Likeness,
            twice.IsSame,
            twice.ById,
            entry.Choice,
            entry.Differences
        );

    private static NetworkFindings Network(string key, IReadOnlyList<Finding> findings, ImportContext context)
    {
        Channel? channel = Guid.TryParse(key, out Guid id) ? context.Channels.FirstOrDefault(c => c.Id.Value == id) : null;
        string network = channel?.Network ?? key;
        NetworkRules? rules = context.Networks.Has(network) ? context.Networks[network] : null;
        return new(network, channel?.Id.Value, [.. findings.Select(f => FindingView.Of(f, rules))]);
    }

    /// <summary>What would mend a cell without a doubt, or as it is offered.</summary>
    private static IEnumerable<RowMend> Mends(Finding finding, ImportBook book, ImportRow row)
    {
        switch (finding.Code)
        {
            case FindingCode.RowTimeOfPlace or FindingCode.RowTimeOfHour:
                yield return new(ImportTargets.KeyOf(RowField.Time), finding.Values[0], $"Take {finding.Values[0]}");
                break;
            case FindingCode.RowCategoryUnknown when book.Context.Categories.Any(c => c.Name == finding.Values[1]):
                yield return new(
                    finding.Field,
                    book.Cell(row, finding.Field).Replace(finding.Values[0], finding.Values[1], StringComparison.Ordinal),
                    $"Write {finding.Values[1]}"
                );
                break;
            case FindingCode.RowLinkBroken when WebAddress.IsValid("https://" + finding.Values[0]):
                yield return new(finding.Field, "https://" + finding.Values[0], $"Write https://{finding.Values[0]}");
                break;
            case FindingCode.RowTextShort:
                yield return new(finding.Field, finding.Values[0], "It is the text");
                break;
            case FindingCode.RowDateWeekday when finding.Field == ImportTargets.KeyOf(RowField.Weekday):
                yield return new(finding.Field, finding.Values[1], $"The date is right: {finding.Values[1]}");
                break;
            case FindingCode.RowDatePast when row.Date is { } date && row.Number > 0:
                LocalDate next = date.PlusYears(Math.Max(1, book.Context.Now.Year - date.Year));
                yield return new(
                    finding.Field,
                    (next < book.Context.Now.Date ? next.PlusYears(1) : next).ToString("uuuu-MM-dd", CultureInfo.InvariantCulture),
                    $"The year is {(next < book.Context.Now.Date ? next.PlusYears(1) : next).Year}"
                );
                break;
        }
    }

    public static List<TargetView> Targets(ImportContext context)
    {
        ImportTargets targets = context.Targets;
        List<TargetView> all = [.. ImportTargets.Rows.Select(t => new TargetView(t.Key, t.Name, "The post"))];
        all.AddRange(targets.Fields.Select(f => targets.Of(f)).Select(t => new TargetView(t.Key, t.Name, "Content in common")));
        all.AddRange(targets.Ticks.Select(t => new TargetView(t.Key, t.Name, "Where it goes")));
        foreach (int wording in Enumerable.Range(1, 3))
            all.AddRange(
                new Field[] { ContentFields.Text, ContentFields.Link, ContentFields.Pictures }
                    .Where(targets.Fields.Contains)
                    .Select(f => targets.Of(f, wording: wording))
                    .Select(t => new TargetView(t.Key, t.Name, "Other wordings"))
            );
        foreach (NetworkRules network in context.Networks.All)
            all.AddRange(
                targets
                    .Fields.SelectMany(targets.Places)
                    .Where(t => t.Network == network.Key)
                    .Select(t => new TargetView(t.Key, t.Name, $"For {network.Name}"))
            );
        foreach (Channel channel in context.Channels)
            all.AddRange(
                targets
                    .Fields.SelectMany(targets.Places)
                    .Where(t => t.Channel == channel.Id)
                    .Select(t => new TargetView(t.Key, t.Name, $"On {targets.NameOf(channel)}"))
            );
        return all;
    }
}
