using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using AbleLark.Core.Contacts;
using AbleLark.Core.Figures;
using AbleLark.Core.Text;
using NodaTime;
using NodaTime.Text;

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
/// <param name="TakesDown">True: what was posted can be taken down again by programs.</param>
public sealed record SendingRules(bool HonoursKeys, int AppearsWithinSeconds, int ReadsBack, int AtOnce, bool TakesDown = false)
{
    public Duration AppearsWithin => Duration.FromSeconds(AppearsWithinSeconds);
}

/// <summary>Who can be mentioned.</summary>
public sealed record MentionRules(bool People = true, bool Pages = true)
{
    public bool Takes(ContactKind kind) => kind == ContactKind.Person ? People : Pages;
}

/// <summary>A figure that may differ between accounts of one network.</summary>
/// <param name="Figure">Where it stands in the network's file (a JSON pointer, RFC 6901).</param>
/// <param name="Name">What it is called on screens.</param>
/// <param name="OfKinds">What it is for accounts of these kinds, in JSON, unless a person says otherwise; null: as the file has it.</param>
public sealed record ChannelFigure(string Figure, string Name, IReadOnlyDictionary<AccountKind, string>? OfKinds = null);

/// <summary>What an account is, as its network says it.</summary>
public enum AccountKind
{
    Page,
    Group,
    Profile,
    Business,
}

/// <summary>What becomes of the rules on a day.</summary>
/// <param name="HoldsFrom">Date from which it holds (ISO 8601).</param>
/// <param name="Rules">What is otherwise then, as a JSON merge patch (RFC 7396).</param>
public sealed record RuleChange(string HoldsFrom, JsonObject Rules);

/// <summary>Of what shape a network's posts are.</summary>
public enum NetworkLook
{
    /// <summary>Text first, with pictures or a link's card below, comments under it.</summary>
    Pages,

    /// <summary>Short texts, one under the other on a thread.</summary>
    Notes,

    /// <summary>The picture first, the text below it.</summary>
    Pictures,

    /// <summary>An upright picture with a title, on a wall.</summary>
    Pins,

    /// <summary>An upright film, the text upon it.</summary>
    Clips,

    /// <summary>A picture, dates and a button.</summary>
    Listings,
}

/// <summary>What one network allows, read from a data file so that a network can be added without code.</summary>
/// <param name="Key">Short name in lower case, used in files and addresses.</param>
/// <param name="HoldsFrom">Date from which these figures hold (ISO 8601).</param>
/// <param name="Mark">The network's mark: an SVG path in a 24 × 24 box, drawn as a line.</param>
/// <param name="Formats">What a post can be on it, the most usual first.</param>
/// <param name="IdenticalTextDays">The same text again within fewer days than this is refused on any of a workspace's accounts.</param>
/// <param name="OneAccountPerOccurrence">A slot with several accounts of this network sends to one of them only.</param>
/// <param name="Figures">Figures that the network offers; others are never expected.</param>
/// <param name="Fields">By key: content fields that it takes besides those that every network has rules for.</param>
/// <param name="Protocol">How it is spoken to.</param>
/// <param name="LinkNeeded">Nothing goes without a link.</param>
/// <param name="Changes">What will be otherwise, from the day on which that holds.</param>
/// <param name="TellsFollowersOnline">It tells when an account's followers are online.</param>
/// <param name="TimesSeen">The figure that counts as `times seen`.</param>
/// <param name="Look">Of what shape its posts are, for drawing them.</param>
/// <param name="KeptByHand">No network at all: whatever goes out there, a person puts there.</param>
public sealed record NetworkRules(
    string Key,
    string Name,
    string Kind,
    string HoldsFrom,
    string Mark,
    TextRules Text,
    LinkShown Link,
    HashtagRules Hashtags,
    IReadOnlyList<FormatRules> Formats,
    SendingRules Sending,
    IReadOnlyList<FigureKind> Figures,
    FigureKind TimesSeen,
    int? IdenticalTextDays = null,
    bool OneAccountPerOccurrence = false,
    IReadOnlyDictionary<string, FieldRules>? Fields = null,
    string Protocol = NetworkRules.UsualProtocol,
    bool LinkNeeded = false,
    MentionRules? Mentions = null,
    IReadOnlyList<ChannelFigure>? PerChannel = null,
    IReadOnlyList<RuleChange>? Changes = null,
    bool TellsFollowersOnline = true,
    NetworkLook Look = NetworkLook.Pages,
    bool KeptByHand = false
)
{
    /// <summary>Who can be mentioned on it.</summary>
    public MentionRules Mentions { get; } = Mentions ?? new();

    /// <summary>What may differ between its accounts.</summary>
    public IReadOnlyList<ChannelFigure> PerChannel { get; } = PerChannel ?? [];

    /// <summary>What is otherwise for a kind of account, by figure.</summary>
    public IReadOnlyDictionary<string, string> FiguresOf(AccountKind kind) =>
        PerChannel
            .Where(f => f.OfKinds?.ContainsKey(kind) == true)
            .ToDictionary(f => f.Figure, f => f.OfKinds![kind], StringComparer.Ordinal);

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

    private string _source = "";

    /// <summary>Reads one network's data file.</summary>
    /// <param name="on">The rules of that day; null: those with which the file begins.</param>
    /// <exception cref="FormatException">The file is not a network's rules; the message says where and why.</exception>
    public static NetworkRules Parse(string json, LocalDate? on = null)
    {
        NetworkRules rules = Read(json, json);
        foreach (RuleChange change in rules.Changes ?? [])
        {
            // Each is read once with what it changes: a mistake is found on the first day, not on the last.
            LocalDate from = LocalDatePattern.Iso.Parse(change.HoldsFrom) is { Success: true } read
                ? read.Value
                : throw new FormatException($"Under “changes”, “{change.HoldsFrom}” is not a date. Write it as 2026-03-25.");
            JsonObject whole = JsonNode.Parse(rules._source)!.AsObject();
            Merge(whole, change.Rules);
            NetworkRules changed = Read(json, whole.ToJsonString());
            if (from <= on)
                rules = changed;
        }
        return rules;
    }

    /// <summary>The same network on another day.</summary>
    public NetworkRules On(LocalDate day) => Changes is null ? this : Parse(_file, day);

    /// <summary>The same network for an account whose figures differ.</summary>
    /// <param name="figures">By their pointers, each written in JSON.</param>
    /// <exception cref="FormatException">It has no such figure, or it can't be that; the message says so.</exception>
    public NetworkRules With(IReadOnlyDictionary<string, string> figures)
    {
        if (figures.Count == 0)
            return this;
        JsonNode whole = JsonNode.Parse(_source)!;
        foreach ((string pointer, string value) in figures)
        {
            if (PerChannel.FirstOrDefault(f => f.Figure == pointer) is not { } figure)
                throw new FormatException($"{Name} has no figure “{pointer}” that differs between accounts.");
            JsonNode? usual = At(whole, pointer);
            JsonValue? own = TryParse(value);
            if (own is null || (usual is not null && own.GetValueKind() != usual.GetValueKind() && !AreBool(own, usual)))
                throw new FormatException($"{figure.Name}: “{value}” can't be that. It is {usual?.ToJsonString() ?? "a number"} for most.");
            string last = pointer[(pointer.LastIndexOf('/') + 1)..];
            if (At(whole, pointer[..pointer.LastIndexOf('/')]) is JsonObject parent)
                parent[last] = own;
        }
        return Read(_file, whole.ToJsonString());
    }

    /// <summary>The figure as this network's file has it, in JSON; empty: it says nothing of it.</summary>
    public string UsualOf(ChannelFigure figure) => At(JsonNode.Parse(_source)!, figure.Figure)?.ToJsonString() ?? "";

    private string _file = "";

    private static NetworkRules Read(string file, string json)
    {
        try
        {
            NetworkRules rules =
                JsonSerializer.Deserialize<NetworkRules>(json, Format) ?? throw new FormatException("The network's file is empty.");
            if (rules.Formats.Count == 0)
                throw new FormatException("Under “formats”, name one format at least.");
            if (rules.Text.Limit < 1)
                throw new FormatException("Under “text”, the limit is at least 1.");
            if (rules.Sending is not { AppearsWithinSeconds: >= 0 and <= 86_400, ReadsBack: >= 1, AtOnce: >= 1 })
                throw new FormatException(
                    "Under “sending”, appearsWithinSeconds lies between 0 and 86400, readsBack and atOnce are at least 1."
                );
            return rules with
            {
                Version = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(json)).AsSpan(0, 6)),
                _source = json,
                _file = file,
            };
        }
        catch (JsonException e)
        {
            throw new FormatException($"The network's file can't be read: {e.Message}", e);
        }
    }

    private static bool AreBool(JsonNode one, JsonNode other) =>
        one.GetValueKind() is JsonValueKind.True or JsonValueKind.False
        && other.GetValueKind() is JsonValueKind.True or JsonValueKind.False;

    private static JsonValue? TryParse(string json)
    {
        try
        {
            return JsonNode.Parse(json) as JsonValue;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static JsonNode? At(JsonNode whole, string pointer)
    {
        JsonNode? at = whole;
        foreach (string step in pointer.Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            at = at switch
            {
                JsonObject o => o[step],
                JsonArray a when int.TryParse(step, out int i) && i >= 0 && i < a.Count => a[i],
                _ => null,
            };
        }
        return at;
    }

    private static void Merge(JsonObject whole, JsonObject patch)
    {
        foreach ((string key, JsonNode? value) in patch)
        {
            if (value is null)
                whole.Remove(key);
            else if (value is JsonObject inner && whole[key] is JsonObject own)
                Merge(own, inner);
            else
                whole[key] = value.DeepClone();
        }
    }
}
