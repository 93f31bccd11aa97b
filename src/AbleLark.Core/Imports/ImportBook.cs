using System.Collections.Concurrent;
using AbleLark.Core.Findings;
using AbleLark.Core.Posts;

namespace AbleLark.Core.Imports;

/// <summary>
/// A sheet as it is being worked on: its rows, the posts that they make, and what was found about each. The first rows are read at once;
/// the others, and what takes long (how each post stands with the networks, what is there twice), are asked for bit by bit.
/// </summary>
public sealed class ImportBook
{
    /// <summary>Rows that a book begins with: more than anybody sees before the rest is read.</summary>
    public const int FirstRows = 1000;

    private readonly ImportPlan _plan;
    private readonly ConcurrentDictionary<int, RowEdit> _edits = [];
    private readonly ImportRow?[] _rows;
    private readonly bool[] _isRead;
    private readonly Dictionary<int, BookEntry> _byRow = [];
    private IReadOnlyDictionary<Id<Post>, Post> _posts = new Dictionary<Id<Post>, Post>();

    /// <param name="edits">By number of the row.</param>
    public ImportBook(
        IReadOnlyList<string[]> rows,
        ImportPlan plan,
        ImportContext context,
        IReadOnlyDictionary<int, string>? doubts = null,
        IReadOnlyDictionary<int, RowEdit>? edits = null
    )
    {
        (_plan, Context) = (plan, context);
        Reader = new(rows, plan, context, doubts);
        _rows = new ImportRow?[Reader.Count];
        foreach ((int row, RowEdit edit) in edits ?? new Dictionary<int, RowEdit>())
            _edits[row] = edit;
        _isRead = new bool[Reader.Count];
        Filled = Enumerable.Range(0, Reader.Count).Count(HoldsAnything);
        TakeRows(Read(0, Math.Min(FirstRows, Reader.Count)));
    }

    public ImportContext Context { get; }
    public RowReader Reader { get; }

    /// <summary>Posts that the sheet makes, in the order of their first rows.</summary>
    public IReadOnlyList<BookEntry> Entries { get; private set; } = [];

    /// <summary>True once all rows are read.</summary>
    public bool IsWhole { get; private set; }

    /// <summary>In how many rows something stands, read or not.</summary>
    public int Filled { get; }

    /// <summary>Rows that are read and in which something stands.</summary>
    public IEnumerable<ImportRow> Rows => _rows.OfType<ImportRow>();

    /// <summary>Reads the rows that a book doesn't begin with. Others may look at it and change it meanwhile.</summary>
    /// <returns>What <see cref="TakeRows"/> takes.</returns>
    public IReadOnlyList<(int Place, ImportRow? Row)> ReadRest() => IsWhole ? [] : Read(FirstRows, _rows.Length);

    /// <summary>Takes over rows that were read. Those that were changed since then stay as they are.</summary>
    public void TakeRows(IReadOnlyList<(int Place, ImportRow? Row)> rows)
    {
        foreach ((int place, ImportRow? row) in rows)
        {
            if (_isRead[place])
                continue;
            (_rows[place], _isRead[place]) = (row, true);
        }
        IsWhole = Array.TrueForAll(_isRead, r => r);
        Gather();
    }

    private (int Place, ImportRow? Row)[] Read(int from, int to)
    {
        (int Place, ImportRow? Row)[] rows = new (int, ImportRow?)[to - from];
        Parallel.For(from, to, i => rows[i - from] = (i, HoldsAnything(i) ? Reader.Read(i, EditOf(i)) : null));
        return rows;
    }

    private bool HoldsAnything(int place) => !Reader.IsBlank(place) || _edits.ContainsKey(NumberOf(place));

    /// <summary>The post that a row is part of; null: it is blank, or not there.</summary>
    public BookEntry? EntryOf(int row) => _byRow.GetValueOrDefault(row);

    public RowEdit EditOf(ImportRow row) => _edits.GetValueOrDefault(row.Number, RowEdit.None);

    /// <summary>What a cell holds, changed or not.</summary>
    public string Cell(ImportRow row, string target) => Reader.Cell(row.Number - Reader.First - 1, target, EditOf(row));

    /// <summary>Takes over what was changed in some rows; whatever doesn't follow from them stays as it was found.</summary>
    /// <param name="edits">All that is changed in each row, by its number.</param>
    public void Apply(IReadOnlyDictionary<int, RowEdit> edits)
    {
        foreach ((int number, RowEdit edit) in edits)
        {
            int place = number - Reader.First - 1;
            if (place < 0 || place >= _rows.Length)
                continue;
            bool sameCells = Same(EditOf(place).Values, edit.Values);
            if (edit.IsNone)
                _edits.TryRemove(number, out _);
            else
                _edits[number] = edit;
            if (!sameCells || _rows[place] is null)
                (_rows[place], _isRead[place]) = (Reader.Read(place, edit), true);
        }
        Gather();
    }

    /// <summary>Finds out how a post stands with the networks; the rest of the book isn't touched.</summary>
    public void Check(BookEntry entry)
    {
        EntryChecks checks = EntryChecks.Of(entry.Content, entry.Edit.Fitted ?? [], Context);
        entry.GoesTo = BookEntry.KeysOf(Context.Channels.Where(c => entry.Draft.GoesTo.Contains(c.Id)), checks);
        entry.Checks = checks;
    }

    /// <summary>Takes over what is there twice.</summary>
    /// <param name="doubles">As <see cref="Doubles.Find"/> found them, by the first row's number.</param>
    /// <param name="posts">The posts of the bank among them that something may be taken over into.</param>
    public void Take(IReadOnlyDictionary<int, DoubleOf> doubles, IReadOnlyDictionary<Id<Post>, Post> posts)
    {
        _posts = posts;
        foreach (BookEntry entry in Entries)
        {
            DoubleOf? before = entry.Twice;
            entry.Twice = entry.IsOfSendings ? null : doubles.GetValueOrDefault(entry.Draft.Number);
            if (before != entry.Twice || entry.Update is not null)
                WorkOutUpdate(entry);
        }
    }

    /// <summary>Looks at the times of all posts beside each other.</summary>
    public void CheckTimes()
    {
        ILookup<int, Finding> found = DraftTimes.Check(Entries.Where(e => !e.IsLeftOut).Select(e => e.Draft), Context);
        foreach (BookEntry entry in Entries)
            entry.Times = entry.IsLeftOut ? [] : [.. entry.Draft.Rows.SelectMany(r => found[r.Number]).Distinct()];
    }

    private void WorkOutUpdate(BookEntry entry)
    {
        if (entry.IsOfSendings)
            return;
        Post? post = entry.Twice?.Known is { } known ? _posts.GetValueOrDefault(known.Id) : null;
        PostUpdate? update =
            post is null ? null
            : entry.Choice == DoubleChoice.Update ? PostUpdate.Over(post, entry.Draft)
            : entry.Choice == DoubleChoice.Wording ? PostUpdate.Wording(post, entry.Draft)
            : null;
        entry.Differences = update?.DifferencesTo(post!, Context) ?? [];
        if (update?.Content != entry.Update?.Content)
            entry.Checks = null;
        entry.Update = update;
    }

    /// <summary>Makes posts of rows anew; those whose rows are the same as before stay as they are.</summary>
    private void Gather()
    {
        Dictionary<int, BookEntry> before = Entries.ToDictionary(e => e.Draft.Number);
        List<BookEntry> entries = [];
        _byRow.Clear();
        foreach (
            var post in Rows.Where(r => r.SendingId is not null && !IsLeftOut(r)).GroupBy(r => SendingOf(r)?.Post.Id.Value ?? Guid.Empty)
        )
        {
            if (post.Key != Guid.Empty)
                AddSendings([.. post], entries);
            else
                foreach (ImportRow row in post)
                    AddSendings([row], entries);
        }
        Dictionary<int, int> with = _edits.Where(e => e.Value.With is not null).ToDictionary(e => e.Key, e => e.Value.With!.Value);
        foreach (RowGroup group in RowGroups.Find(Rows.Where(r => r.SendingId is null && !IsLeftOut(r)), with))
        {
            bool? joined = group.IsByHand ? true : EditOf(group.Rows[0]).Joined ?? _plan.Joins ?? (group.IsCertain ? true : null);
            if (joined == false)
                foreach (RowGroup apart in group.KeptApart(with))
                    Add(group, apart.Rows, asks: false, leftOut: false);
            else
                Add(group, group.Rows, asks: joined is null, leftOut: false);
        }
        foreach (ImportRow row in Rows.Where(IsLeftOut))
            Add(new([row], []), [row], asks: false, leftOut: true);
        entries.Sort((a, b) => a.Draft.Number.CompareTo(b.Draft.Number));
        Entries = entries;
        FindIdsTwice();

        void Add(RowGroup group, IReadOnlyList<ImportRow> rows, bool asks, bool leftOut)
        {
            RowEdit edit = EditOf(rows[0]);
            BookEntry? old = before.GetValueOrDefault(rows[0].Number);
            bool sameRows = old is not null && old.Draft.Rows.SequenceEqual(rows, ReferenceEqualityComparer.Instance);
            BookEntry entry;
            if (sameRows && old!.AsksToJoin == asks && ReferenceEquals(old.Edit, edit) && old.IsLeftOut == leftOut)
                entry = old;
            else
            {
                entry = new(group, sameRows ? old!.Draft : ImportDraft.Of(rows, Context), edit, asks, leftOut) { Twice = old?.Twice };
                WorkOutUpdate(entry);
                if (sameRows && Equals(old!.Edit.Fitted, edit.Fitted) && entry.Update is null && old.Update is null)
                    (entry.Checks, entry.GoesTo, entry.Times) = (old.Checks, old.GoesTo, old.Times);
            }
            entries.Add(entry);
            foreach (ImportRow row in rows)
                _byRow[row.Number] = entry;
        }
    }

    private KnownSending? SendingOf(ImportRow row) =>
        row.SendingId is { } cell && PlanningSheet.SendingOf(cell) is { } id ? Context.Sendings.GetValueOrDefault(id) : null;

    /// <summary>Rows of a planning sheet that are sendings of one post.</summary>
    private void AddSendings(IReadOnlyList<ImportRow> rows, List<BookEntry> entries)
    {
        (ImportRow Row, KnownSending? Sending, IReadOnlySet<SheetCell> Edited)[] all =
        [
            .. rows.Select(r => (r, SendingOf(r), PlanningSheet.Edited(r, t => Cell(r, t)))),
        ];
        // What wasn't edited is as it was, whatever could be said about it now.
        ImportRow[] shown =
        [
            .. all.Select(a => a.Row with { Findings = [.. a.Row.Findings.Where(f => PlanningSheet.Concerns(f, a.Edited))] }),
        ];
        ImportDraft draft = ImportDraft.Of(shown, Context) with { Times = [] };
        if (all.Any(a => a.Sending is null))
            draft = draft with
            {
                Findings =
                [
                    new(
                        FindingCode.RowSendingGone,
                        all.Any(a => a.Edited.Count > 0) ? Severity.Blocks : Severity.Advice,
                        ImportTargets.KeyOf(RowField.SendingId)
                    ),
                ],
            };
        KnownSending? first = all[0].Sending;
        PostUpdate? update = null;
        IReadOnlyList<SheetMove> moves = [];
        if (first is not null)
        {
            (update, moves, IReadOnlyList<Finding> findings) = PlanningSheet.Changes(
                [.. all.Select(a => (a.Row, a.Sending!, a.Edited))],
                Context
            );
            draft = draft with { Title = first.Post.Title, Findings = findings };
        }
        BookEntry entry = new(
            new(shown, []),
            draft,
            EditOf(rows[0]),
            asksToJoin: false,
            leftOut: first is null && !draft.AllFindings.Any(f => f.Blocks)
        )
        {
            IsOfSendings = true,
            Moves = moves,
            Update = update,
            Differences =
            [
                .. update?.DifferencesTo(first!.Post, Context) ?? [],
                .. moves.Select(m => PlanningSheet.Words(all.First(a => a.Sending!.Id == m.Id).Sending!, m, Context)),
            ],
        };
        entries.Add(entry);
        foreach (ImportRow row in rows)
            _byRow[row.Number] = entry;
    }

    private void FindIdsTwice()
    {
        Dictionary<string, int> first = new(StringComparer.Ordinal);
        foreach (BookEntry entry in Entries)
        {
            entry.IdTwice = null;
            if (!entry.IsLeftOut && entry.Draft.First.OutsideId is { } id && !first.TryAdd(id, entry.Draft.Number))
                entry.IdTwice = new(
                    FindingCode.RowIdTwice,
                    Severity.Blocks,
                    ImportTargets.KeyOf(RowField.OutsideId),
                    id,
                    first[id].ToString(System.Globalization.CultureInfo.InvariantCulture)
                );
        }
    }

    private bool IsLeftOut(ImportRow row) => EditOf(row).LeftOut ?? row.IsSummary;

    private int NumberOf(int place) => Reader.First + place + 1;

    private RowEdit EditOf(int place) => _edits.GetValueOrDefault(NumberOf(place), RowEdit.None);

    private static bool Same(IReadOnlyDictionary<string, string> one, IReadOnlyDictionary<string, string> other) =>
        one.Count == other.Count && one.All(v => other.TryGetValue(v.Key, out string? value) && value == v.Value);
}
