using System.Globalization;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Text;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>Reads what a row says: every content field that a column holds, in each layer of each wording.</summary>
/// <param name="cell">What the row holds for a target.</param>
/// <param name="findings">Is given what can't be taken in.</param>
internal sealed class RowContent(ImportContext context, RowDates dates, Func<string, string> cell, List<Finding> findings)
{
    /// <summary>What the columns of each layer hold; an empty cell says nothing.</summary>
    public PostContent Read(IEnumerable<ImportTarget> targets)
    {
        SortedDictionary<
            int,
            (FieldValues Common, Dictionary<string, FieldValues> Networks, Dictionary<Id<Channel>, FieldValues> Channels)
        > wordings = new() { [0] = (FieldValues.Empty, [], []) };
        foreach (ImportTarget target in targets)
        {
            string text = cell(target.Key);
            if (text.Length == 0 || Value(target, text) is not { } value)
                continue;
            Put(target, target.Content!, value);
        }
        foreach ((Field field, string part) in LinkOrFiles())
        {
            if (Value(context.Targets.Of(field) with { Key = ImportTargets.KeyOf(RowField.LinkOrFiles) }, part) is { } value)
                Put(context.Targets.Of(field), field, value);
        }
        var own = wordings[0];
        return new(
            own.Common,
            own.Networks,
            own.Channels,
            [.. wordings.Where(w => w.Key > 0).Select(w => new ContentLayers(w.Value.Common, w.Value.Networks, w.Value.Channels))]
        );

        void Put(ImportTarget target, Field field, object value)
        {
            var layers = wordings.GetValueOrDefault(target.Wording, (FieldValues.Empty, [], []));
            if (target.Network is { } network)
                layers.Networks[network] = layers.Networks.GetValueOrDefault(network, FieldValues.Empty).WithValue(field, value);
            else if (target.Channel is { } channel)
                layers.Channels[channel] = layers.Channels.GetValueOrDefault(channel, FieldValues.Empty).WithValue(field, value);
            else
                layers.Common = layers.Common.WithValue(field, value);
            wordings[target.Wording] = layers;
        }
    }

    private IEnumerable<(Field, string)> LinkOrFiles()
    {
        string text = cell(ImportTargets.KeyOf(RowField.LinkOrFiles));
        if (text.Length == 0)
            yield break;
        string[] parts = text.Split([';', '\n', ' ', ','], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        string[] links = [.. parts.Where(p => WebAddress.IsValid(p) || IsNearlyLink(p))];
        string[] files = [.. parts.Except(links)];
        if (links.Length > 0)
            yield return (ContentFields.Link, links[0]);
        if (files.Length > 0)
            // A file's name may have spaces in it.
            yield return (ContentFields.Pictures, links.Length == 0 ? text : string.Join(';', files));
    }

    /// <summary>True for an address that only lacks its beginning.</summary>
    private bool IsNearlyLink(string part) =>
        part.Contains('/') && !context.Files.ContainsKey(part) && WebAddress.IsValid("https://" + part);

    private object? Value(ImportTarget target, string text)
    {
        Field field = target.Content!;
        if (field.Kind == FieldKind.Date)
        {
            LocalDate? date = dates.Day(target.Key, text, findings);
            return date?.ToString("uuuu-MM-dd", CultureInfo.InvariantCulture);
        }
        (object? value, Finding? trouble) = field.FromCell(text, context.Files.GetValueOrDefault);
        if (trouble is not null)
        {
            findings.Add(trouble with { Field = target.Key });
            return null;
        }
        try
        {
            return field.Tidy(value);
        }
        catch (FormatException e)
        {
            findings.Add(new(FindingCode.RowValueRefused, Severity.Blocks, target.Key, e.Message));
            return null;
        }
    }
}
