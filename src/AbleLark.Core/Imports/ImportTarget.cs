using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;

namespace AbleLark.Core.Imports;

/// <summary>What a column may hold besides content.</summary>
public enum RowField
{
    Title,
    Category,
    FurtherCategories,
    Networks,
    Channels,
    Weekday,

    /// <summary>A date, or a date and a time in one cell.</summary>
    Date,
    Time,
    Zone,
    Lifespan,
    Gap,
    From,
    To,
    Notes,

    /// <summary>What the post is called elsewhere: unique in the workspace.</summary>
    OutsideId,

    /// <summary>By which a row of a planning sheet is known again.</summary>
    SendingId,

    /// <summary>Links and names of files in one column; each cell is sorted by what it holds.</summary>
    LinkOrFiles,

    /// <summary>Ticks: whether the row goes to the network or channel of the column.</summary>
    GoesTo,
}

/// <summary>What the cells of a column become: something of the row, or a content field of one wording, in common, for a network or for a
/// channel.</summary>
/// <param name="Key">`post.date` for the row's, `post.goesTo:jot` for ticks; `text`, `text:jot`, `text@` with a channel's identity,
/// `text#2` for content.</param>
/// <param name="Name">As it is shown, and the header that our own sheets have.</param>
/// <param name="Wording">0: the post's own.</param>
public sealed record ImportTarget(
    string Key,
    string Name,
    RowField? Row,
    Field? Content,
    string? Network = null,
    Id<Channel>? Channel = null,
    int Wording = 0
);

/// <summary>All that columns can become in a workspace.</summary>
public sealed class ImportTargets
{
    private const char OfNetwork = ':';
    private const char OfChannel = '@';
    private const char OfWording = '#';

    private readonly IReadOnlyList<Field> _fields;
    private readonly NetworkBook _networks;
    private readonly IReadOnlyList<Channel> _channels;

    /// <param name="fields">The content fields that there are; null: all that are declared.</param>
    public ImportTargets(NetworkBook networks, IReadOnlyList<Channel> channels, IReadOnlyList<Field>? fields = null)
    {
        (_networks, _channels, _fields) = (networks, channels, fields ?? ContentFields.All);
        Common = [.. Rows, .. _fields.Select(f => Of(f)!)];
    }

    private static readonly string[] Keys = [.. Enum.GetNames<RowField>().Select(n => "post." + char.ToLowerInvariant(n[0]) + n[1..])];

    public static IReadOnlyList<ImportTarget> Rows { get; } =
    [.. Enum.GetValues<RowField>().Where(f => f != RowField.GoesTo).Select(f => new ImportTarget(KeyOf(f), NameOf(f), f, null))];

    /// <summary>Ticks for each network that the workspace has a channel on, and for each channel.</summary>
    public IEnumerable<ImportTarget> Ticks =>
        [
            .. _networks.All.Where(n => _channels.Any(c => c.Network == n.Key)).Select(n => Tick(n.Key)),
            .. _channels.Where(c => _networks.Has(c.Network)).Select(c => Tick(channel: c.Id)),
        ];

    /// <summary>Ticks for a network or a channel.</summary>
    public ImportTarget Tick(string? network = null, Id<Channel>? channel = null) =>
        Placed(KeyOf(RowField.GoesTo), "Ticks", RowField.GoesTo, null, network, channel);

    /// <summary>The row's own, and content in common.</summary>
    public IReadOnlyList<ImportTarget> Common { get; }

    public IReadOnlyList<Field> Fields => _fields;

    /// <summary>One field in every place that it can have: in common, for each network that takes it, for each channel.</summary>
    public IEnumerable<ImportTarget> Places(Field field) =>
        [
            Of(field),
            .. _networks.All.Where(n => field.IsEverywhere || n.RulesOf(field.Key) is not null).Select(n => Of(field, n.Key)),
            .. _channels
                .Where(c => _networks.Has(c.Network) && (field.IsEverywhere || _networks[c.Network].RulesOf(field.Key) is not null))
                .Select(c => Of(field, channel: c.Id)),
        ];

    /// <summary>What a key stands for; null: nothing in this workspace.</summary>
    public ImportTarget? Find(string key)
    {
        if (Rows.FirstOrDefault(t => t.Key == key) is { } row)
            return row;
        int wording = 0;
        string rest = key;
        if (key.LastIndexOf(OfWording) is > 0 and var at)
        {
            if (!int.TryParse(key.AsSpan(at + 1), out int number) || number < 2 || number > PostContent.MostWordings + 1)
                return null;
            (wording, rest) = (number - 1, key[..at]);
        }
        string[] parts = rest.Split([OfNetwork, OfChannel], 2);
        bool isTick = parts[0] == KeyOf(RowField.GoesTo);
        Field? field = _fields.FirstOrDefault(f => f.Key == parts[0]);
        if (field is null && (!isTick || parts.Length == 1 || wording > 0))
            return null;
        (string? network, Id<Channel>? channel) = (null, null);
        if (parts.Length > 1 && rest[parts[0].Length] == OfNetwork)
        {
            if (!_networks.Has(parts[1]))
                return null;
            network = parts[1];
        }
        else if (parts.Length > 1)
        {
            if (!Guid.TryParse(parts[1], out Guid id) || _channels.All(c => c.Id.Value != id))
                return null;
            channel = new(id);
        }
        return field is null ? Tick(network, channel) : Of(field, network, channel, wording);
    }

    public ImportTarget Of(Field field, string? network = null, Id<Channel>? channel = null, int wording = 0)
    {
        ImportTarget target = Placed(field.Key, Names.GetValueOrDefault(field.Key, field.Name), null, field, network, channel);
        return wording == 0
            ? target
            : target with
            {
                Key = $"{target.Key}{OfWording}{wording + 1}",
                Name = $"{target.Name}, wording {wording + 1}",
                Wording = wording,
            };
    }

    private ImportTarget Placed(string key, string name, RowField? row, Field? field, string? network, Id<Channel>? channel)
    {
        if (network is not null)
            (key, name) = ($"{key}{OfNetwork}{network}", $"{name} for {_networks[network].Name}");
        else if (channel is { } id)
            (key, name) = ($"{key}{OfChannel}{id}", $"{name} on {NameOf(_channels.First(c => c.Id == id))}");
        return new(key, name, row, field, network, channel);
    }

    /// <summary>A channel by the words that tell it from all others: its name and its network.</summary>
    public string NameOf(Channel channel) =>
        _networks.Has(channel.Network) ? $"{channel.Name} ({_networks[channel.Network].Name})" : channel.Name;

    public static string KeyOf(RowField field) => Keys[(int)field];

    public static string NameOf(RowField field) =>
        field switch
        {
            RowField.Category => "Category",
            RowField.FurtherCategories => "Further categories",
            RowField.Gap => "Gap in days",
            RowField.OutsideId => "Outside id",
            RowField.SendingId => "Sending",
            RowField.LinkOrFiles => "Link or files",
            _ => field.ToString(),
        };

    /// <summary>Where a column has a plainer name than the field on its own.</summary>
    private static readonly Dictionary<string, string> Names = new() { [ContentFields.Pictures.Key] = "Pictures" };
}
