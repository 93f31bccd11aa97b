using System.Globalization;
using AbleLark.Core.Findings;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;

namespace AbleLark.Core.Content;

/// <summary>The count and the findings for one network, or for one channel that has content of its own.</summary>
public sealed record CheckedContent(ResolvedContent Content, TextCount Count, IReadOnlyList<Finding> Findings)
{
    /// <summary>True when nothing keeps the network from taking it.</summary>
    public bool Fits => Block is null;

    /// <summary>The first finding that keeps it out; null: it fits.</summary>
    public Finding? Block => Findings.FirstOrDefault(f => f.Blocks);

    /// <summary>The same for each of its wordings.</summary>
    public IReadOnlyList<CheckedContent> Wordings { get; init; } = [];
}

/// <summary>What a field's check looks at, and where it says what it found.</summary>
/// <param name="written">As it was written, before the network's ways of showing it.</param>
/// <param name="count">Of the text as it would be sent.</param>
public sealed class FieldCheck(FieldValues written, ResolvedContent content, TextCount count, NetworkRules rules, ContentSources sources)
{
    private readonly List<Finding> _findings = [];

    public FieldValues Written => written;
    public ResolvedContent Content => content;

    /// <summary>The format in which it goes.</summary>
    public FormatRules Format { get; } = Formats.Of(content.Fields, rules);

    public TextCount Count => count;
    public NetworkRules Rules => rules;
    public ContentSources Sources => sources;
    public IReadOnlyList<Finding> Findings => _findings;

    public void Block(FindingCode code, Field field, params string[] values) =>
        _findings.Add(new(code, Severity.Blocks, field.Key, values));

    /// <param name="item">Which of several it is about, from 0.</param>
    internal void BlockAt(int item, FindingCode code, Field field, params string[] values) =>
        _findings.Add(new(code, Severity.Blocks, field.Key, values) { Item = item });

    /// <inheritdoc cref="BlockAt"/>
    internal void AdviseAt(int item, FindingCode code, Field field, params string[] values) =>
        _findings.Add(new(code, Severity.Advice, field.Key, values) { Item = item });

    /// <param name="spans">Where in the text as it is sent.</param>
    internal void Mark(FindingCode code, Severity severity, Field field, IReadOnlyList<TextSpan> spans, params string[] values) =>
        _findings.Add(new(code, severity, field.Key, values) { Spans = spans });

    internal void Add(Finding finding) => _findings.Add(finding);

    /// <summary>A text counted as the network counts a post's.</summary>
    internal TextCount CountOf(string text) => TextCounter.Count(text, rules.Text.Measure, rules.Text.Limit, rules.Text.LinkUnits);

    public void Advise(FindingCode code, Field field, params string[] values) =>
        _findings.Add(new(code, Severity.Advice, field.Key, values));

    /// <summary>Blocks what is longer than the network takes.</summary>
    /// <param name="item">Which of several it is; null: it is one.</param>
    /// <param name="name">What it is called; null: as the field.</param>
    internal void Long(FieldRules field, Field declared, string value, int? item = null, string? name = null)
    {
        if (field.Limit is not { } limit)
            return;
        TextCount length = TextCounter.Count(value, field.Measure, limit);
        if (!length.Fits)
            _findings.Add(
                new(
                    FindingCode.FieldTooLong,
                    Severity.Blocks,
                    declared.Key,
                    name ?? declared.Name,
                    Whole(length.Units),
                    Whole(limit),
                    rules.Name
                )
                {
                    Item = item,
                }
            );
    }

    internal static string Whole(int n) => n.ToString("N0", CultureInfo.InvariantCulture);

    internal static string Ratio(double r) => r.ToString("0.##", CultureInfo.InvariantCulture);

    internal static string Megabytes(long bytes) => (bytes / 1048576.0).ToString("0.#", CultureInfo.InvariantCulture);
}

/// <summary>Checks a post's content against a network's rules.</summary>
public static class ContentCheck
{
    /// <summary>Grows when the checks below find otherwise than before: what was worked out by older ones is worked out anew.</summary>
    public const int Version = 4;

    /// <summary>What stands for all rules that findings are worked out by.</summary>
    public static string RulesVersion(NetworkBook networks) => $"{Version}:{networks.Version}";

    /// <summary>Checks all wordings of a post.</summary>
    /// <param name="target">Whose content.</param>
    public static CheckedContent CheckAll(PostContent content, Target target, ContentSources sources, IReadOnlyList<Field>? fields = null)
    {
        CheckedContent[] all = [.. Enumerable.Range(0, content.Wordings.Count + 1).Select(i => Check(content, target, sources, i, fields))];
        return all[0] with { Wordings = all[1..] };
    }

    /// <summary>Checks one wording.</summary>
    /// <param name="wording">Which one; see <see cref="PostContent.For"/>.</param>
    /// <param name="fields">The fields that there are; null: all that are declared.</param>
    public static CheckedContent Check(
        PostContent content,
        Target target,
        ContentSources sources,
        int wording = 0,
        IReadOnlyList<Field>? fields = null
    )
    {
        NetworkRules rules = target.Rules;
        fields ??= ContentFields.All;
        FieldValues written = content.Written(target, wording, fields);
        ResolvedContent resolved = ResolvedContent.Of(written, rules, sources);
        TextCount count = TextCounter.Count(resolved.Text, rules.Text.Measure, rules.Text.Limit, rules.Text.LinkUnits);
        FieldCheck check = new(written, resolved, count, rules, sources);
        foreach (Field field in fields)
            field.Check(check);
        return new(resolved, count, check.Findings);
    }
}
