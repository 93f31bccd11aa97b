using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using AbleLark.Core.Figures;
using AbleLark.Core.Text;
using NodaTime;

namespace AbleLark.Core.Networks;

/// <summary>How a network shows a post's link.</summary>
public enum LinkShown
{
    /// <summary>Written in the text, and counted there.</summary>
    InText,

    /// <summary>As a card beside the text.</summary>
    Card,

    /// <summary>As plain text that nobody can click.</summary>
    NotClickable,
}

/// <param name="Measure">What counts towards the limit.</param>
/// <param name="Limit">Most units.</param>
/// <param name="LinkUnits">Units any link takes; null: as written.</param>
/// <param name="FoldAfter">Units shown before the reader has to open the text; null: all.</param>
public sealed record TextRules(TextMeasure Measure, int Limit, int? LinkUnits = null, int? FoldAfter = null);

/// <param name="Advised">More than this looks out of place; null: any number.</param>
/// <param name="Most">More than this is refused; null: any number.</param>
public sealed record HashtagRules(int? Advised = null, int? Most = null);

/// <param name="Kinds">Media types taken, such as image/png.</param>
/// <param name="MostBytes">Largest file, in bytes.</param>
/// <param name="MinWidth">Least width in pixels.</param>
/// <param name="MinRatio">Least width ÷ height.</param>
/// <param name="MaxRatio">Greatest width ÷ height.</param>
/// <param name="MinHeight">Least height in pixels.</param>
/// <param name="BestRatio">The width ÷ height that shows best; null: any.</param>
public sealed record PictureRules(
    int Fewest,
    int Most,
    IReadOnlyList<string> Kinds,
    long? MostBytes = null,
    int? MinWidth = null,
    double? MinRatio = null,
    double? MaxRatio = null,
    double? BestRatio = null,
    int? MinHeight = null
);

/// <summary>What a network wants of a content field that not every network takes.</summary>
/// <param name="IsNeeded">Nothing goes without it.</param>
/// <param name="Measure">What counts towards the limit.</param>
/// <param name="Limit">Most units; null: any number.</param>
/// <param name="Values">The only values taken; null: any.</param>
public sealed record FieldRules(
    bool IsNeeded = false,
    TextMeasure Measure = TextMeasure.Utf16Units,
    int? Limit = null,
    IReadOnlyList<string>? Values = null
);

/// <summary>What a network promises to whoever posts to it, and how hard it may be asked.</summary>
/// <param name="HonoursKeys">True: the same idempotency key never posts twice.</param>
/// <param name="AppearsWithinSeconds">Longest time, in seconds from the end of a call, until its post stands in the account's list, if it
/// arrived at all. Covers what clocks of different machines differ by.</param>
/// <param name="ReadsBack">How many of an account's latest posts the list gives, over all its pages.</param>
/// <param name="AtOnce">Most calls at once from one process, over all accounts; an account is called once at a time.</param>
public sealed record SendingRules(bool HonoursKeys, int AppearsWithinSeconds, int ReadsBack, int AtOnce)
{
    public Duration AppearsWithin => Duration.FromSeconds(AppearsWithinSeconds);
}

/// <summary>What one network allows, read from a data file so that a network can be added without code.</summary>
/// <param name="Key">Short name in lower case, used in files and addresses.</param>
/// <param name="HoldsFrom">Date from which these figures hold (ISO 8601).</param>
/// <param name="Mark">The network's mark: an SVG path in a 24 × 24 box, drawn as a line.</param>
/// <param name="IdenticalTextDays">The same text again within fewer days than this is refused on any of a workspace's accounts.</param>
/// <param name="OneAccountPerOccurrence">A slot with several accounts of this network sends to one of them only.</param>
/// <param name="Figures">Figures that the network offers; others are never expected.</param>
/// <param name="Fields">By key: content fields that it takes besides those that every network has rules for.</param>
/// <param name="Protocol">How it is spoken to.</param>
/// <param name="LinkNeeded">Nothing goes without a link.</param>
/// <param name="TimesSeen">The figure that counts as `times seen`.</param>
public sealed record NetworkRules(
    string Key,
    string Name,
    string Kind,
    string HoldsFrom,
    string Mark,
    TextRules Text,
    LinkShown Link,
    HashtagRules Hashtags,
    PictureRules Pictures,
    SendingRules Sending,
    IReadOnlyList<FigureKind> Figures,
    FigureKind TimesSeen,
    int? IdenticalTextDays = null,
    bool OneAccountPerOccurrence = false,
    IReadOnlyDictionary<string, FieldRules>? Fields = null,
    string Protocol = NetworkRules.UsualProtocol,
    bool LinkNeeded = false
)
{
    /// <summary>What most networks speak.</summary>
    public const string UsualProtocol = "plain";

    private static readonly JsonSerializerOptions Format = new(JsonSerializerDefaults.Web)
    {
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        RespectNullableAnnotations = true,
        RespectRequiredConstructorParameters = true,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    /// <summary>What stands for these rules as a whole: changes with any of them.</summary>
    [JsonIgnore]
    public string Version { get; private init; } = "";

    /// <summary>What it wants of a content field; null: it doesn't take it, or has rules of its own for it.</summary>
    public FieldRules? RulesOf(string field) => Fields?.GetValueOrDefault(field);

    /// <summary>Reads one network's data file.</summary>
    /// <exception cref="FormatException">The file is not a network's rules; the message says where and why.</exception>
    public static NetworkRules Parse(string json)
    {
        try
        {
            NetworkRules rules =
                JsonSerializer.Deserialize<NetworkRules>(json, Format) ?? throw new FormatException("The network's file is empty.");
            return rules.Sending is { AppearsWithinSeconds: >= 0 and <= 86_400, ReadsBack: >= 1, AtOnce: >= 1 }
                ? rules with
                {
                    Version = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(json)).AsSpan(0, 6)),
                }
                : throw new FormatException(
                    "Under “sending”, appearsWithinSeconds lies between 0 and 86400, readsBack and atOnce are at least 1."
                );
        }
        catch (JsonException e)
        {
            throw new FormatException($"The network's file can't be read: {e.Message}", e);
        }
    }
}

/// <summary>All networks known to the application, by key.</summary>
/// <param name="off">Files that couldn't be read, each with the reason.</param>
public sealed class NetworkBook(IReadOnlyCollection<NetworkRules> rules, IReadOnlyList<string>? off = null)
{
    /// <summary>Files that couldn't be read, each with the reason: their networks are off.</summary>
    public IReadOnlyList<string> Off { get; } = off ?? [];

    private readonly Dictionary<string, NetworkRules> _byKey = rules.ToDictionary(r => r.Key, StringComparer.Ordinal);

    public IEnumerable<NetworkRules> All => _byKey.Values.OrderBy(r => r.Name, StringComparer.Ordinal);

    /// <summary>What stands for all their rules: changes with any of them.</summary>
    public string Version { get; } =
        Convert.ToHexStringLower(
            SHA256
                .HashData(Encoding.UTF8.GetBytes(string.Join(' ', rules.Select(r => $"{r.Key}:{r.Version}").Order(StringComparer.Ordinal))))
                .AsSpan(0, 8)
        );

    public bool Has(string key) => _byKey.ContainsKey(key);

    public NetworkRules this[string key] => _byKey[key];
}
