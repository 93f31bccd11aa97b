using System.Text;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Imports;

/// <summary>What headers mean, by their words.</summary>
public sealed class HeaderWords
{
    private readonly ImportTargets _targets;
    private readonly Dictionary<string, ImportTarget> _exact = [];
    private readonly List<(string Word, string Network)> _networks;
    private readonly List<(string Word, Id<Channel> Channel)> _channels;

    /// <summary>Words that people head columns with (common practice, no source), in their plain form.</summary>
    private static readonly Dictionary<RowField, string[]> OfRows = new()
    {
        [RowField.Title] = ["title", "headline", "name", "post title", "post name", "subject", "working title"],
        [RowField.Category] = ["category", "pillar", "content pillar", "theme", "topic", "kind", "series", "main category", "bucket"],
        [RowField.FurtherCategories] = ["further categories", "other categories", "more categories", "also in"],
        [RowField.Networks] = ["network", "networks", "platform", "platforms", "social network", "site"],
        [RowField.Channels] = ["channel", "channels", "account", "accounts", "page", "pages", "profile", "profiles", "handle", "post to"],
        [RowField.Weekday] = ["weekday", "day of week", "day of the week", "dow", "week day"],
        [RowField.Date] =
        [
            "date",
            "publish date",
            "publishing date",
            "post date",
            "posting date",
            "send date",
            "scheduled date",
            "day",
            "date and time",
            "date time",
            "datetime",
            "publish on",
            "send on",
            "when",
            "goes out",
            "scheduled for",
            "due",
            "due date",
        ],
        [RowField.Time] = ["time", "publish time", "publishing time", "post time", "posting time", "hour", "at", "send time"],
        [RowField.Zone] = ["zone", "time zone", "timezone", "tz"],
        [RowField.Lifespan] = ["lifespan", "life span", "evergreen", "how often", "reuse"],
        [RowField.Gap] = ["gap", "gap in days", "repeat gap", "days between", "repeat after"],
        [RowField.From] = ["from", "from date", "not before", "start", "start date", "valid from", "begins"],
        [RowField.To] = ["to", "to date", "until", "not after", "end", "end date", "expires", "expiry", "expiry date", "valid until"],
        [RowField.Notes] = ["notes", "note", "remarks", "remark", "internal notes", "comments", "comment"],
        [RowField.OutsideId] = ["outside id", "id", "external id", "reference", "ref", "key", "number", "no", "item"],
        [RowField.SendingId] = ["sending", "sending id"],
        [RowField.LinkOrFiles] =
        [
            "link or files",
            "link or file",
            "media or link",
            "link media",
            "attachment",
            "attachments",
            "asset",
            "assets",
            "link picture",
            "link or picture",
        ],
    };

    private static readonly Dictionary<string, string[]> OfContent = new()
    {
        [ContentFields.Text.Key] =
        [
            "text",
            "copy",
            "caption",
            "message",
            "post",
            "content",
            "body",
            "post text",
            "post copy",
            "common text",
            "wording",
            "text of the post",
            "description",
            "status",
        ],
        [ContentFields.Link.Key] = ["link", "url", "website", "web address", "address", "destination", "landing page", "web link", "href"],
        [ContentFields.Pictures.Key] =
        [
            "picture",
            "pictures",
            "image",
            "images",
            "photo",
            "photos",
            "media",
            "file",
            "files",
            "visual",
            "visuals",
            "file name",
            "filename",
            "image file",
            "graphic",
            "graphics",
            "media files",
        ],
        [ContentFields.Video.Key] = ["video", "film", "clip", "video file"],
        [ContentFields.Document.Key] = ["document", "pdf"],
        [ContentFields.FirstComment.Key] = ["first comment"],
    };

    public HeaderWords(ImportTargets targets, NetworkBook networks, IReadOnlyList<Channel> channels)
    {
        _targets = targets;
        _networks = [.. networks.All.SelectMany(n => new[] { (Plain(n.Name), n.Key), (Plain(n.Key), n.Key) }).Distinct()];
        _channels =
        [
            .. channels
                .SelectMany(c => new[] { (Plain(targets.NameOf(c)), c.Id), (Plain(c.Handle), c.Id), (Plain(c.Name), c.Id) })
                .GroupBy(c => c.Item1)
                // A name that several have says nothing.
                .Where(g => g.Key.Length > 1 && g.Select(c => c.Id).Distinct().Count() == 1)
                .Select(g => (g.Key, g.First().Id))
                .OrderByDescending(c => c.Key.Length),
        ];
        foreach ((RowField field, string[] words) in OfRows.Concat(HeaderLanguages.OfRows))
            Add(words, targets.Common.First(t => t.Row == field));
        foreach ((string key, string[] words) in OfContent.Concat(HeaderLanguages.OfContent))
        {
            if (targets.Fields.FirstOrDefault(f => f.Key == key) is { } field)
                Add(words, targets.Of(field));
        }
        foreach (ImportTarget target in targets.Common)
            _exact.TryAdd(Plain(target.Name), target);
        foreach (Field field in targets.Fields.Where(f => f.HashKey != f.Key))
            _exact.TryAdd(Plain(field.HashKey), targets.Of(field));

        void Add(string[] words, ImportTarget target)
        {
            foreach (string word in words)
                _exact.TryAdd(word, target);
        }
    }

    /// <summary>What a header means; null: nothing that is known.</summary>
    public ImportTarget? Find(string header)
    {
        // Headers of our own may name a target by its key.
        if (header.Trim() is { Length: > 0 } key && key.IndexOfAny([':', '@', '#', '.']) > 0 && _targets.Find(key) is { } byKey)
            return byKey;
        string words = Plain(header);
        if (words.Length == 0)
            return null;
        if (Exact(words) is { } exact)
            return exact;
        int wording = 0;
        foreach (int number in Enumerable.Range(2, PostContent.MostWordings))
        {
            if (!words.EndsWith($" {number}", StringComparison.Ordinal))
                continue;
            string rest = words[..^(number.ToString(System.Globalization.CultureInfo.InvariantCulture).Length + 1)];
            foreach (string end in new[] { " wording", " version", " variant", "" })
            {
                if (end.Length > 0 ? rest.EndsWith(end, StringComparison.Ordinal) : FindPlace(rest, 0) is not null)
                    (words, wording) = (rest[..^end.Length], number - 1);
                if (wording > 0)
                    break;
            }
            // “Wording 2” alone is another text.
            if (rest is "wording" or "version" or "variant" or "alternative")
                (words, wording) = (ContentFields.Text.Key, number - 1);
        }
        return FindPlace(words, wording);
    }

    /// <summary>A field, perhaps with the network or channel that it is for: “Text for Jot”, “Jot text”, “Jot”.</summary>
    private ImportTarget? FindPlace(string words, int wording)
    {
        if (FieldOf(words) is { } common)
            return _targets.Of(common, wording: wording);
        foreach ((string word, string network) in _networks)
        {
            if (Without(words, word) is { } rest && FieldOf(rest) is { } field)
                return _targets.Of(field, network, wording: wording);
        }
        foreach ((string word, Id<Channel> channel) in _channels)
        {
            if (Without(words, word) is { } rest && FieldOf(rest) is { } field)
                return _targets.Of(field, channel: channel, wording: wording);
        }
        return null;
    }

    private Field? FieldOf(string words) =>
        words.Length == 0 ? _targets.Fields.FirstOrDefault(f => f == ContentFields.Text) : Exact(words)?.Content;

    /// <summary>What words mean just as they are, or without the marks of other languages' letters.</summary>
    private ImportTarget? Exact(string words) => _exact.GetValueOrDefault(words) ?? _exact.GetValueOrDefault(DateLanguages.Folded(words));

    /// <summary>Words without those of a network or channel; null: they aren't among them.</summary>
    private static string? Without(string words, string name)
    {
        string padded = $" {words} ";
        int at = padded.IndexOf($" {name} ", StringComparison.Ordinal);
        if (at < 0)
            return null;
        string rest = (padded[..at] + " " + padded[(at + name.Length + 2)..]).Trim();
        foreach (string little in new[] { " for", " on", " in" })
        {
            if (rest.EndsWith(little, StringComparison.Ordinal))
                rest = rest[..^little.Length];
        }
        return rest;
    }

    /// <summary>Letters and figures in lower case, a single space between words; `firstComment` is two words.</summary>
    public static string Plain(string header)
    {
        StringBuilder plain = new();
        char before = ' ';
        foreach (char c in header.Normalize())
        {
            bool begins = char.IsUpper(c) && char.IsLower(before);
            before = c;
            if (!char.IsLetterOrDigit(c) || begins)
            {
                if (plain.Length > 0 && plain[^1] != ' ')
                    plain.Append(' ');
            }
            if (char.IsLetterOrDigit(c))
                plain.Append(char.ToLowerInvariant(c));
        }
        return plain.ToString().Trim();
    }
}
