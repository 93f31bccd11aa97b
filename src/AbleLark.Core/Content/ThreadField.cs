using System.Globalization;
using System.Text.Json.Serialization;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Text;

namespace AbleLark.Core.Content;

/// <summary>A further part of a thread.</summary>
/// <param name="Pictures">Null: none.</param>
public sealed record ThreadPart(
    string Text,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] Pictures? Pictures = null
);

/// <summary>What follows the post's own text, each part under the one before.</summary>
/// <param name="IsNumbered">Each part ends in its number and that of all, which counts.</param>
public sealed record PostThread(IReadOnlyList<ThreadPart> Parts, bool IsNumbered = false)
{
    /// <summary>Most further parts that are taken in.</summary>
    public const int Most = 50;

    /// <summary>Most UTF-16 units of a part.</summary>
    public const int MostText = 10_000;

    /// <summary>What stands behind a part's text.</summary>
    /// <param name="part">From 1.</param>
    public static string Number(int part, int of) => string.Create(CultureInfo.InvariantCulture, $" {part}/{of}");

    public bool Equals(PostThread? other) => other is not null && IsNumbered == other.IsNumbered && Parts.SequenceEqual(other.Parts);

    public override int GetHashCode() => Parts.Aggregate(IsNumbered.GetHashCode(), HashCode.Combine);
}

/// <summary>The further parts of a thread, where a network has threads.</summary>
internal sealed class ThreadField(string key, string name) : Field<PostThread>(key, name, FieldKind.Thread)
{
    internal override IEnumerable<Id<MediaFile>> Files(object? value) =>
        value is PostThread thread ? thread.Parts.SelectMany(p => p.Pictures?.All ?? []).Select(p => p.MediaId) : [];

    protected override PostThread? Tidied(PostThread value)
    {
        if (value.Parts.Count > PostThread.Most)
            throw new FormatException($"{Name}: {value.Parts.Count} parts; {PostThread.Most} is the most. Join some, or leave some out.");
        if (value.Parts.Any(p => p?.Text is null))
            throw new FormatException($"{Name}: one of the parts has no text. Leave the part out.");
        if (value.Parts.Any(p => p.Text.Length > PostThread.MostText))
            throw new FormatException(
                $"{Name}: a part is longer than {PostThread.MostText:N0} characters, which no network takes. Shorten it."
            );
        if (value.Parts.Any(p => p.Pictures?.All.Count > Pictures.Most))
            throw new FormatException($"{Name}: a part has more than {Pictures.Most} pictures. Leave some out.");
        ThreadPart[] parts =
        [
            .. value
                .Parts.Select(p => new ThreadPart(
                    p.Text,
                    p.Pictures is { All.Count: > 0 } all ? new([.. all.All.Select(a => a.Tidied())]) : null
                ))
                .Where(p => !string.IsNullOrWhiteSpace(p.Text) || p.Pictures is not null),
        ];
        return parts.Length == 0 ? null : value with { Parts = parts };
    }

    protected override string Shown(PostThread value, ContentSources sources) =>
        string.Join('\n', value.Parts.Select(p => p.Text)) + (value.IsNumbered ? " (numbered)" : "");

    protected override string? Formed(PostThread value, ContentSources sources) =>
        string.Join(
            '\n',
            value.Parts.Select(p =>
                string.Create(CultureInfo.InvariantCulture, $"{p.Text.Length}:{p.Text}")
                + string.Concat(p.Pictures?.All.Select(a => $" [{a.Form(sources)}]") ?? [])
            )
        );

    protected override string? Searched(PostThread value) => string.Join('\n', value.Parts.Select(p => p.Text));

    /// <summary>Parts with a line of three hyphens between.</summary>
    public override (object? Value, Finding? Trouble) FromCell(string cell, Func<string, MediaFile?> fileNamed) =>
        (new PostThread([.. cell.ReplaceLineEndings("\n").Split("\n---\n").Select(t => new ThreadPart(t))]), null);

    /// <summary>Each part by the same rules as the post itself.</summary>
    internal override void Check(FieldCheck check)
    {
        if (check.Rules.RulesOf(Key) is not { } rules)
        {
            if (check.Written.Get(this) is not null)
                check.Advise(FindingCode.ThreadNotTaken, this, check.Rules.Name);
            return;
        }
        if (check.Content.Fields.Get(this) is not { } thread)
            return;
        if (thread.Parts.Count + 1 > rules.Limit)
            check.Block(
                FindingCode.TooManyParts,
                this,
                FieldCheck.Whole(thread.Parts.Count + 1),
                FieldCheck.Whole(rules.Limit.Value),
                check.Rules.Name
            );
        for (int i = 0; i < thread.Parts.Count; i++)
        {
            ThreadPart part = thread.Parts[i];
            TextCount count = check.CountOf(part.Text);
            if (check.Written.Get(this)?.Parts.ElementAtOrDefault(i) is { } written)
                Mentions.Check(check, this, written.Text, i);
            if (!count.Fits)
                check.BlockAt(
                    i,
                    FindingCode.PartTooLong,
                    this,
                    FieldCheck.Whole(i + 2),
                    FieldCheck.Whole(count.Units),
                    FieldCheck.Whole(count.Limit),
                    check.Rules.Name
                );
            if (part.Pictures is not { } pictures)
                continue;
            if (check.Rules.Formats.FirstOrDefault(f => f.Pictures is not null && !f.IsAskedFor)?.Pictures is { } allowed)
                MediaChecks.Each(check, this, pictures.All, allowed with { Fewest = 0 });
            else
                check.Block(FindingCode.PicturesNotTaken, this, check.Rules.Name);
        }
    }
}
