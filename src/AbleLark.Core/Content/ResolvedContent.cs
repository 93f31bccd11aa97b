using System.Text.Json.Serialization;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Content;

/// <summary>What is sent to one network: only fields that hold something, the link only where it is shown as a card.</summary>
public sealed record ResolvedContent(FieldValues Fields)
{
    /// <summary>What was written, as the network gets it: with what its format carries, the link where it is shown, the parts of a thread
    /// numbered, mentions by the handles that they have there.</summary>
    internal static ResolvedContent Of(FieldValues written, NetworkRules rules, ContentSources sources)
    {
        FieldValues fields = LinkAsShown(Mentioned(Formats.Carried(written, rules), rules, sources), rules.Link);
        if (rules.RulesOf(ContentFields.Thread.Key) is null)
            return new(fields.Without(ContentFields.Thread));
        if (fields.Get(ContentFields.Thread) is not { IsNumbered: true } thread)
            return new(fields);
        int all = thread.Parts.Count + 1;
        return new(
            fields
                .With(ContentFields.Text, (fields.Get(ContentFields.Text) ?? "") + PostThread.Number(1, all))
                .With(
                    ContentFields.Thread,
                    new PostThread([.. thread.Parts.Select((p, i) => p with { Text = p.Text + PostThread.Number(i + 2, all) })])
                )
        );
    }

    private static FieldValues Mentioned(FieldValues written, NetworkRules rules, ContentSources sources)
    {
        foreach (Field<string> field in new[] { ContentFields.Text, ContentFields.FirstComment })
        {
            if (written.Get(field) is { } text)
                written = written.With(field, Mentions.Resolve(text, rules, sources));
        }
        return written.Get(ContentFields.Thread) is { } thread
            ? written.With(
                ContentFields.Thread,
                thread with
                {
                    Parts = [.. thread.Parts.Select(p => p with { Text = Mentions.Resolve(p.Text, rules, sources) })],
                }
            )
            : written;
    }

    /// <summary>The link stands in the text, unless the network makes a card of it.</summary>
    internal static FieldValues LinkAsShown(FieldValues fields, LinkShown shown)
    {
        if (shown == LinkShown.Card || fields.Get(ContentFields.Link) is not { } link)
            return fields;
        string text = fields.Get(ContentFields.Text) ?? "";
        if (!Has(text, link))
            text = text.Length == 0 ? link : $"{text}\n{link}";
        return fields.With(ContentFields.Text, text).Without(ContentFields.Link);
    }

    /// <summary>True when the link itself stands in the text, not just a longer one that begins with it.</summary>
    private static bool Has(string text, string link)
    {
        for (int at = text.IndexOf(link, StringComparison.Ordinal); at >= 0; at = text.IndexOf(link, at + 1, StringComparison.Ordinal))
        {
            ReadOnlySpan<char> rest = text.AsSpan(at + link.Length).TrimStart(".,;:!?)]}'\"”’»…");
            if (rest.IsEmpty || char.IsWhiteSpace(rest[0]))
                return true;
        }
        return false;
    }

    /// <summary>The text, with the link in it where the network wants it there.</summary>
    [JsonIgnore]
    public string Text => Fields.Get(ContentFields.Text) ?? "";

    /// <summary>The link to show as a card, where the network does so.</summary>
    [JsonIgnore]
    public string? CardLink => Fields.Get(ContentFields.Link);

    /// <summary>In their order.</summary>
    [JsonIgnore]
    public IReadOnlyList<Picture> Pictures => Fields.Get(ContentFields.Pictures)?.All ?? [];

    [JsonIgnore]
    public Id<MediaFile>? Video => Fields.Get(ContentFields.Video)?.MediaId;

    [JsonIgnore]
    public Id<MediaFile>? Document => Fields.Get(ContentFields.Document)?.MediaId;

    /// <summary>True when it is more than words.</summary>
    [JsonIgnore]
    public bool HasMedia => Pictures.Count > 0 || Video is not null || Document is not null;

    /// <summary>What follows the text, part by part.</summary>
    [JsonIgnore]
    public IReadOnlyList<ThreadPart> Parts => Fields.Get(ContentFields.Thread)?.Parts ?? [];

    /// <summary>The files that it names.</summary>
    public IEnumerable<Id<MediaFile>> AllFiles() => Fields.Fields.SelectMany(f => f.Files(Fields.ValueOf(f))).Distinct();

    /// <summary>What is said under the post at once, where the network takes that; null: nothing.</summary>
    [JsonIgnore]
    public string? FirstComment => Fields.Get(ContentFields.FirstComment) is { } words && !string.IsNullOrWhiteSpace(words) ? words : null;
}
