using System.Globalization;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Text;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>Reads the rows of a sheet; every doubt becomes a finding, and nothing is guessed.</summary>
public sealed class RowReader
{
    private static readonly string[] Sums = ["total", "totals", "sum", "subtotal", "grand total", "count", "average"];

    private const int MostOfSum = 20;

    private readonly ImportContext _context;
    private readonly IReadOnlyList<string[]> _rows;
    private readonly Dictionary<string, int> _columns = [];
    private readonly List<ImportTarget> _content = [];
    private readonly List<ImportTarget> _ticks = [];
    private readonly Reading _reading;
    private readonly RowDates _dates;
    private readonly IReadOnlyDictionary<int, string> _doubts;

    /// <param name="doubts">By row, in words: what was read in a way that somebody should look at.</param>
    public RowReader(IReadOnlyList<string[]> rows, ImportPlan plan, ImportContext context, IReadOnlyDictionary<int, string>? doubts = null)
    {
        (_rows, _context, _doubts) = (rows, context, doubts ?? new Dictionary<int, string>());
        (_reading, First) = (new(context), plan.HeaderRow);
        for (int i = 0; i < plan.Targets.Count; i++)
        {
            if (plan.Targets[i] is { } key && context.Targets.Find(key) is not null)
                _columns.TryAdd(key, i);
        }
        foreach (string key in _columns.Keys)
            Take(key);
        _dates = new(rows, plan, context, _columns);
    }

    /// <summary>Place of the first row that holds a post.</summary>
    public int First { get; }

    public int Count => Math.Max(0, _rows.Count - First);

    /// <summary>What has to be asked about columns of dates, by their targets.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<DateQuestion>> Questions => _dates.Questions;

    /// <summary>True for a row in which nothing stands.</summary>
    public bool IsBlank(int place) => Array.TrueForAll(_rows[First + place], string.IsNullOrWhiteSpace);

    /// <summary>What a cell holds, changed or not.</summary>
    /// <param name="place">Of the row, from the first that holds a post.</param>
    public string Cell(int place, string target, RowEdit edit) =>
        edit.Values.TryGetValue(target, out string? value) ? value.Trim()
        : _columns.TryGetValue(target, out int column) && column < _rows[First + place].Length ? _rows[First + place][column].Trim()
        : "";

    /// <param name="place">From the first row that holds a post.</param>
    public ImportRow Read(int place, RowEdit edit)
    {
        foreach (string key in edit.Values.Keys)
            Take(key);
        Row row = new(this, place, edit);
        return row.Read();
    }

    /// <summary>Has the content or the ticks of a target read, also where no column holds them.</summary>
    private void Take(string key)
    {
        lock (_content)
        {
            if (_content.Exists(t => t.Key == key) || _ticks.Exists(t => t.Key == key) || _context.Targets.Find(key) is not { } target)
                return;
            if (target.Content is not null)
                _content.Add(target);
            else if (target.Row == RowField.GoesTo)
                _ticks.Add(target);
        }
    }

    private ImportTarget[] TickColumns()
    {
        lock (_content)
            return [.. _ticks];
    }

    private ImportTarget[] ContentTargets()
    {
        lock (_content)
            return [.. _content];
    }

    private sealed class Row(RowReader reader, int place, RowEdit edit)
    {
        private readonly List<Finding> _findings = [];

        private ImportContext Context => reader._context;

        private int Number => reader.First + place + 1;

        public ImportRow Read()
        {
            if (reader._doubts.TryGetValue(Number, out string? doubt))
                Found(FindingCode.RowReadOtherwise, Severity.Advice, "row", doubt);
            PostContent content = new RowContent(Context, reader._dates, Cell, _findings).Read(reader.ContentTargets());
            string outsideId = Own(RowField.OutsideId),
                sendingId = Own(RowField.SendingId);
            bool isSummary = IsSummary(content);
            AskShortTexts();
            bool isKnown = (outsideId.Length > 0 && Context.Known.WithOutsideId(outsideId) is not null) || sendingId.Length > 0;
            if (!isKnown && !content.AllLayers().Any(l => l.Fields.Any(f => f != ContentFields.Link)))
                Found(FindingCode.RowTextMissing, Severity.Blocks, ContentFields.Text.Key);
            Category? category = Category(isKnown);
            List<Id<Category>> further = Further(category);
            var (networks, channels) = new RowPlacing(Context, reader._reading, reader.TickColumns(), Cell, _findings).Read(category);
            IReadOnlyList<Channel> goesTo = GoesTo(category, channels);
            RowWhen when = reader._dates.Read(place, reader, edit, category, goesTo, _findings);
            (LocalDate? from, LocalDate? to) = (Day(RowField.From), Day(RowField.To));
            if (to < from)
                Found(FindingCode.RowDatesBackwards, Severity.Blocks, ImportTargets.KeyOf(RowField.To));
            if (when.Date is not null && category is not null && channels is null && goesTo.Count == 0)
                Found(FindingCode.RowNoChannel, Severity.Blocks, ImportTargets.KeyOf(RowField.Channels), category.Name);
            return new(
                Number,
                Own(RowField.Title),
                category?.Id,
                further,
                networks,
                channels,
                Lifespan(),
                Gap(),
                from,
                to,
                when.Date,
                when.Time,
                Own(RowField.Notes),
                outsideId.Length == 0 ? null : outsideId,
                sendingId.Length == 0 ? null : sendingId,
                content,
                _findings,
                isSummary
            );
        }

        /// <summary>A letter or two are hardly what somebody wants to say; whoever writes them here does.</summary>
        private void AskShortTexts()
        {
            foreach (ImportTarget target in reader.ContentTargets().Where(t => t.Content == ContentFields.Text))
            {
                string text = Cell(target.Key);
                if (
                    text.Length is 1 or 2
                    && !edit.Values.ContainsKey(target.Key)
                    && text.All(c => c < 128 || TickCell.Read(text) is not null)
                )
                    Found(FindingCode.RowTextShort, Severity.Blocks, target.Key, text);
            }
        }

        private string Cell(string target) => reader.Cell(place, target, edit);

        private string Own(RowField field) => Cell(ImportTargets.KeyOf(field));

        private bool IsSummary(PostContent content) =>
            !content.AllLayers().Any(l => l.Fields.Any(f => f != ContentFields.Link && f != ContentFields.Text))
            && reader._rows[reader.First + place].FirstOrDefault(c => !string.IsNullOrWhiteSpace(c)) is { } first
            && first.Length < MostOfSum
            && Sums.Contains(HeaderWords.Plain(first));

        private Category? Category(bool isKnown)
        {
            string name = Own(RowField.Category),
                key = ImportTargets.KeyOf(RowField.Category);
            if (name.Length == 0)
            {
                if (!isKnown)
                    Found(FindingCode.RowCategoryMissing, Severity.Blocks, key, Names());
                return null;
            }
            if (reader._reading.CategoryNamed(name) is { } category)
                return category;
            Found(FindingCode.RowCategoryUnknown, Severity.Blocks, key, name, reader._reading.CategoryLike(name)?.Name ?? Names());
            return null;

            string Names() => string.Join(", ", Context.Categories.Select(c => c.Name));
        }

        private List<Id<Category>> Further(Category? main)
        {
            List<Id<Category>> further = [];
            foreach (string name in reader._reading.CategoryNames(Own(RowField.FurtherCategories)))
            {
                if (reader._reading.CategoryNamed(name) is not { } category)
                    Found(
                        FindingCode.RowCategoryUnknown,
                        Severity.Blocks,
                        ImportTargets.KeyOf(RowField.FurtherCategories),
                        name,
                        reader._reading.CategoryLike(name)?.Name ?? string.Join(", ", Context.Categories.Select(c => c.Name))
                    );
                else if (category != main && !further.Contains(category.Id))
                    further.Add(category.Id);
            }
            return further;
        }

        private IReadOnlyList<Channel> GoesTo(Category? category, IReadOnlyList<Id<Channel>>? chosen) =>
            [.. Context.Channels.Where(c => (chosen ?? category?.UsualChannels ?? []).Contains(c.Id))];

        private Lifespan? Lifespan()
        {
            string cell = Own(RowField.Lifespan);
            switch (HeaderWords.Plain(cell))
            {
                case "":
                    return null;
                case "evergreen" or "yes" or "again" or "repeat":
                    return Categories.Lifespan.Evergreen;
                case "once" or "no" or "one time":
                    return Categories.Lifespan.Once;
                case "once altogether":
                    return Categories.Lifespan.OnceAltogether;
                default:
                    Found(FindingCode.RowLifespanUnknown, Severity.Blocks, ImportTargets.KeyOf(RowField.Lifespan), cell);
                    return null;
            }
        }

        private int? Gap()
        {
            string cell = Own(RowField.Gap);
            if (cell.Length == 0)
                return null;
            if (int.TryParse(cell, NumberStyles.None, CultureInfo.InvariantCulture, out int days) && days is >= 1 and <= 730)
                return days;
            Found(FindingCode.RowGapWrong, Severity.Blocks, ImportTargets.KeyOf(RowField.Gap), cell);
            return null;
        }

        private LocalDate? Day(RowField field)
        {
            string key = ImportTargets.KeyOf(field),
                cell = Cell(key);
            return cell.Length == 0 ? null : reader._dates.Day(key, cell, _findings);
        }

        private void Found(FindingCode code, Severity severity, string target, params string[] values) =>
            _findings.Add(new(code, severity, target, values));
    }
}
