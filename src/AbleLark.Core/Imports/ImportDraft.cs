using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>When some of a post's channels get it.</summary>
/// <param name="Row">Number of the row that says so.</param>
public sealed record DraftTime(int Row, LocalDateTime Local, IReadOnlyList<Id<Channel>> Channels);

/// <summary>A post as its rows make it: one, or one for each network.</summary>
/// <param name="Title">The row's, or the start of its text.</param>
/// <param name="Channels">Null: as its category says.</param>
/// <param name="GapDays">Null: as its category says.</param>
/// <param name="Times">Empty: the rotation decides.</param>
/// <param name="Findings">Besides those of its rows.</param>
public sealed record ImportDraft(
    IReadOnlyList<ImportRow> Rows,
    string Title,
    Category? Category,
    IReadOnlyList<Id<Channel>>? Channels,
    Lifespan Lifespan,
    int? GapDays,
    PostContent Content,
    IReadOnlyList<DraftTime> Times,
    IReadOnlyList<Finding> Findings
)
{
    private string? _doubleKey;

    /// <summary>See <see cref="Doubles.KeyOf"/>.</summary>
    public string DoubleKey => _doubleKey ??= Doubles.KeyOf(Content);

    /// <summary>Known by its first row.</summary>
    public int Number => Rows[0].Number;

    public ImportRow First => Rows[0];

    public IEnumerable<Finding> AllFindings => Rows.SelectMany(r => r.Findings).Concat(Findings);

    /// <summary>Where it goes.</summary>
    public IReadOnlyList<Id<Channel>> GoesTo => Channels ?? Category?.UsualChannels ?? [];

    public static ImportDraft Of(IReadOnlyList<ImportRow> rows, ImportContext context)
    {
        ImportRow first = rows[0];
        Category? category = context.Categories.FirstOrDefault(c => c.Id == first.CategoryId);
        List<Id<Channel>>? channels = rows.Any(r => r.Channels is not null) ? [.. rows.SelectMany(r => r.Channels ?? []).Distinct()] : null;
        List<Finding> findings = [];
        List<DraftTime> times = [];
        Dictionary<Id<Channel>, int> taken = [];
        foreach (ImportRow row in rows)
        {
            IReadOnlyList<Id<Channel>> to = row.Channels ?? (IReadOnlyList<Id<Channel>>?)category?.UsualChannels ?? [];
            foreach (Id<Channel> channel in to.Where(c => !taken.TryAdd(c, row.Number)))
                findings.Add(
                    new(
                        FindingCode.RowSameChannel,
                        Severity.Blocks,
                        ImportTargets.KeyOf(RowField.Channels),
                        taken[channel].ToString(System.Globalization.CultureInfo.InvariantCulture),
                        row.Number.ToString(System.Globalization.CultureInfo.InvariantCulture),
                        string.Join("", context.Channels.Where(c => c.Id == channel).Select(context.Targets.NameOf))
                    )
                );
            if (row.When is { } when)
                times.Add(new(row.Number, when, to));
            else if (rows.Any(r => r.When is not null))
                findings.Add(
                    new(
                        FindingCode.RowPartWithoutTime,
                        Severity.Advice,
                        ImportTargets.KeyOf(RowField.Date),
                        string.Join(", ", context.Channels.Where(c => to.Contains(c.Id)).Select(context.Targets.NameOf))
                    )
                );
            if (row.CategoryId is { } other && category is not null && other != category.Id)
                findings.Add(
                    new(
                        FindingCode.RowOtherCategory,
                        Severity.Advice,
                        ImportTargets.KeyOf(RowField.Category),
                        row.Number.ToString(System.Globalization.CultureInfo.InvariantCulture),
                        context.Categories.First(c => c.Id == other).Name,
                        category.Name
                    )
                );
        }
        PostContent content = rows.Count == 1 ? first.Content : Joined(rows);
        return new(
            rows,
            TitleOf(rows, content),
            category,
            channels,
            rows.Select(r => r.Lifespan).FirstOrDefault(l => l is not null) ?? category?.Lifespan ?? Lifespan.Evergreen,
            rows.Select(r => r.GapDays).FirstOrDefault(g => g is not null),
            content,
            times,
            findings
        );
    }

    private static string TitleOf(IReadOnlyList<ImportRow> rows, PostContent content)
    {
        string title = rows.Select(r => r.Title).FirstOrDefault(t => t.Length > 0) ?? "";
        if (title.Length == 0)
            title = content.AllLayers().Select(l => l.Get(ContentFields.Text)).FirstOrDefault(t => !string.IsNullOrWhiteSpace(t)) ?? "";
        title = PostTitle.Of(title);
        return title.Length == 0 ? $"Row {rows[0].Number}" : title;
    }

    /// <summary>The first row's content in common, and for the networks of each further row whatever that says otherwise.</summary>
    private static PostContent Joined(IReadOnlyList<ImportRow> rows)
    {
        ImportRow first = rows[0];
        FieldValues common = first.Content.Common;
        Dictionary<string, FieldValues> networks = new(first.Content.Networks);
        Dictionary<Id<Channel>, FieldValues> channels = new(first.Content.Channels);
        foreach (ImportRow row in rows.Skip(1))
        {
            FieldValues own = row.Content.Common;
            foreach (Field field in common.Fields.Concat(own.Fields).Distinct())
            {
                if (Equals(common.ValueOf(field), own.ValueOf(field)))
                    continue;
                // Two rows of one network are for channels of it.
                bool byNetwork = row.Networks.Count > 0 && rows.All(r => r == row || !r.Networks.Intersect(row.Networks).Any());
                if (byNetwork)
                    foreach (string network in row.Networks)
                        networks[network] = networks.GetValueOrDefault(network, FieldValues.Empty).WithValue(field, own.ValueOf(field));
                else
                    foreach (Id<Channel> channel in row.Channels ?? [])
                        channels[channel] = channels.GetValueOrDefault(channel, FieldValues.Empty).WithValue(field, own.ValueOf(field));
            }
            foreach ((string network, FieldValues values) in row.Content.Networks)
                networks[network] = networks.GetValueOrDefault(network, FieldValues.Empty).Under(values);
            foreach ((Id<Channel> channel, FieldValues values) in row.Content.Channels)
                channels[channel] = channels.GetValueOrDefault(channel, FieldValues.Empty).Under(values);
        }
        return new(common, networks, channels, first.Content.Wordings);
    }
}
