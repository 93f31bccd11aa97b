using System.Text.RegularExpressions;
using AbleLark.Core.Contacts;
using AbleLark.Core.Findings;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;

namespace AbleLark.Core.Content;

/// <summary>Mentions of the address book in a text, written as @{key}: each becomes the handle on the network that the text goes to, or
/// the name where there is none.</summary>
internal static partial class Mentions
{
    /// <summary>A text as the network gets it. What nobody in the address book is called stays as it is.</summary>
    public static string Resolve(string text, NetworkRules rules, ContentSources sources) =>
        !text.Contains("@{", StringComparison.Ordinal)
            ? text
            : Pattern()
                .Replace(
                    text,
                    m =>
                        sources.Contact(m.Groups[1].Value) is not { } contact ? m.Value
                        : HandleOf(contact, rules) is { GoneAt: null, Handle: var handle } ? "@" + handle
                        : contact.Name
                );

    /// <summary>The handle by which the network lets it be mentioned; null: it has none there, or can't be.</summary>
    private static ContactHandle? HandleOf(Contact contact, NetworkRules rules) =>
        rules.Mentions.Takes(contact.Kind) ? contact.Handles.GetValueOrDefault(rules.Key) : null;

    /// <summary>Says what of a text's mentions isn't one on the network.</summary>
    /// <param name="item">Which of several texts it is; null: it is one.</param>
    public static void Check(FieldCheck check, Field field, string text, int? item = null)
    {
        if (!text.Contains('@', StringComparison.Ordinal))
            return;
        string network = check.Rules.Name;
        // Said once of each, however often it is mentioned.
        foreach (var said in Pattern().Matches(text).GroupBy(m => m.Groups[1].Value, StringComparer.OrdinalIgnoreCase))
        {
            string key = said.Key;
            TextSpan[] match = [.. said.Select(At)];
            if (check.Sources.Contact(key) is not { } contact)
                Say(FindingCode.MentionUnknown, Severity.Blocks, match, key);
            else if (!check.Rules.Mentions.Takes(contact.Kind))
                Say(
                    contact.Kind == ContactKind.Person ? FindingCode.PeopleNotMentioned : FindingCode.PagesNotMentioned,
                    Severity.Advice,
                    match,
                    contact.Name,
                    network
                );
            else if (contact.Handles.GetValueOrDefault(check.Rules.Key) is not { } handle)
                Say(FindingCode.MentionWithoutHandle, Severity.Advice, match, contact.Name, network);
            else if (handle.GoneAt is not null)
                Say(FindingCode.HandleGone, Severity.Advice, match, contact.Name, handle.Handle, network);
        }
        foreach ((TextPart part, Contact contact) in OfOtherNetworks(text, check.Rules, check.Sources))
            Say(
                FindingCode.HandleOfAnotherNetwork,
                Severity.Advice,
                [new(part.Start, part.Length)],
                text.Substring(part.Start, part.Length),
                network,
                "@" + contact.Handles[check.Rules.Key].Handle
            );

        void Say(FindingCode code, Severity severity, TextSpan[] at, params string[] values) =>
            check.Add(new(code, severity, field.Key, values) { Item = item, Spans = at });
    }

    /// <summary>A text with handles of other networks written as mentions of whom they are, where the network has one for
    /// them.</summary>
    public static string WithOwn(string text, NetworkRules rules, ContentSources sources)
    {
        foreach ((TextPart part, Contact contact) in OfOtherNetworks(text, rules, sources).OrderByDescending(f => f.Part.Start))
            text = $"{text[..part.Start]}@{{{contact.Key}}}{text[part.End..]}";
        return text;
    }

    private static IEnumerable<(TextPart Part, Contact Contact)> OfOtherNetworks(string text, NetworkRules rules, ContentSources sources)
    {
        if (sources.Contacts.Count == 0)
            yield break;
        foreach (TextPart part in TextParts.Find(text).Where(p => p.Kind == TextPartKind.Mention))
        {
            string handle = text.Substring(part.Start + 1, part.Length - 1);
            Contact? contact = sources.Contacts.FirstOrDefault(c =>
                HandleOf(c, rules) is { GoneAt: null } own
                && !Same(own.Handle, handle)
                && c.Handles.Any(h => h.Key != rules.Key && Same(h.Value.Handle, handle))
            );
            bool isSomebodyHere = sources.Contacts.Any(c =>
                c.Handles.GetValueOrDefault(rules.Key) is { } here && Same(here.Handle, handle)
            );
            if (contact is not null && !isSomebodyHere)
                yield return (part, contact);
        }
    }

    private static TextSpan At(Match match) => new(match.Index, match.Length);

    private static bool Same(string one, string other) => one.Equals(other, StringComparison.OrdinalIgnoreCase);

    [GeneratedRegex(@"@\{([^{}\s]{1,60})\}", RegexOptions.CultureInvariant)]
    private static partial Regex Pattern();
}
