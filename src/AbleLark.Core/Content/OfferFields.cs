using System.Text.RegularExpressions;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Text;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Core.Content;

/// <summary>What a button says. Where it leads is the button's own target, or else the post's link.</summary>
internal sealed class ButtonVerbField(string key, string name, int most) : TextField(key, name, most)
{
    internal override void Check(FieldCheck check)
    {
        base.Check(check);
        if (check.Rules.RulesOf(Key) is null)
            return;
        bool says = !string.IsNullOrWhiteSpace(check.Content.Fields.Get(this));
        if (says && check.Sources.ButtonVerbs is { Count: > 0 } verbs && !verbs.Contains(check.Content.Fields.Get(this)))
            check.Advise(FindingCode.VerbUnknown, this, check.Content.Fields.Get(this)!, string.Join(", ", verbs));
        bool leads = check.Content.Fields.Get(ContentFields.ButtonTarget) is { Length: > 0 };
        if (says && !leads && check.Content.CardLink is null)
            check.Block(FindingCode.ButtonLeadsNowhere, this, check.Rules.Name);
        if (!says && leads)
            check.Block(FindingCode.ButtonWithoutVerb, this, check.Rules.Name);
        else if (!says && check.Content.CardLink is not null)
            check.Advise(FindingCode.LinkNeedsButton, this, check.Rules.Name);
    }
}

/// <summary>Where a button leads: a web address, or a telephone number.</summary>
internal sealed partial class ButtonTargetField(string key, string name) : TextField(key, name, WebAddress.Longest)
{
    protected override string? Tidied(string value)
    {
        string target = value.Trim();
        if (target.Length == 0)
            return null;
        return WebAddress.IsValid(target) || TelephonePattern().IsMatch(target)
            ? target
            : throw new FormatException(
                $"“{(target.Length > 80 ? target[..80] + "…" : target)}” is neither a web address nor a telephone number. "
                    + "Begin with https:// or +."
            );
    }

    /// <summary>Checked together with the verb.</summary>
    internal override void Check(FieldCheck check) { }

    // In international form: ITU-T E.164 has fifteen digits at most (from memory).
    [GeneratedRegex(@"^\+[0-9](?:[ -]?[0-9]){6,14}$", RegexOptions.CultureInvariant)]
    private static partial Regex TelephonePattern();
}

/// <summary>A local date.</summary>
internal class DateTextField(string key, string name) : TextField(key, name, most: 10, FieldKind.Date)
{
    protected override string? Tidied(string value)
    {
        string date = value.Trim();
        if (date.Length == 0)
            return null;
        return LocalDatePattern.Iso.Parse(date).Success
            ? date
            : throw new FormatException($"{Name}: “{(date.Length > 40 ? date[..40] + "…" : date)}” is not a date. Write it as 2026-03-25.");
    }

    /// <inheritdoc/>
    public override (object? Value, Finding? Trouble) FromCell(string cell, Func<string, MediaFile?> fileNamed) =>
        LocalDatePattern.Iso.Parse(cell.Trim()).Success
            ? (cell.Trim(), null)
            : (null, new(FindingCode.RowDateImpossible, Severity.Blocks, Key, cell));

    internal LocalDate? DateIn(FieldValues values) =>
        values.Get(this) is { } date && LocalDatePattern.Iso.Parse(date) is { Success: true } read ? read.Value : null;

    /// <summary>Checked together with the day until which it holds.</summary>
    internal override void Check(FieldCheck check) { }
}

/// <summary>The day until which something is offered or held.</summary>
/// <param name="from">The day from which.</param>
internal sealed class UntilField(string key, string name, DateTextField from) : DateTextField(key, name)
{
    internal override void Check(FieldCheck check)
    {
        if (check.Rules.RulesOf(Key) is null)
            return;
        (LocalDate? first, LocalDate? last) = (from.DateIn(check.Content.Fields), DateIn(check.Content.Fields));
        if ((first is null) != (last is null))
            check.Block(FindingCode.DatesHalf, this, check.Rules.Name);
        else if (last < first)
            check.Block(FindingCode.DatesBackwards, this);
        else if (last > first?.PlusYears(1))
            check.Block(FindingCode.DatesFarApart, this, check.Rules.Name);
    }
}
