using System.Text.Json.Serialization;
using AbleLark.Core.Channels;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Content;

/// <summary>Where content goes: to a network, or to one of its channels.</summary>
/// <param name="Channel">Null: to any channel that has no content of its own.</param>
public readonly record struct Target(NetworkRules Rules, Id<Channel>? Channel = null)
{
    public static implicit operator Target(NetworkRules rules) => new(rules);
}

/// <summary>What one wording says: in common, for single networks, for single channels. The nearer goes first.</summary>
[JsonUnmappedMemberHandling(JsonUnmappedMemberHandling.Disallow)]
public record ContentLayers
{
    public ContentLayers(
        FieldValues? common = null,
        IReadOnlyDictionary<string, FieldValues>? networks = null,
        IReadOnlyDictionary<Id<Channel>, FieldValues>? channels = null
    )
    {
        Common = common ?? FieldValues.Empty;
        Networks = networks ?? new Dictionary<string, FieldValues>();
        Channels = channels ?? new Dictionary<Id<Channel>, FieldValues>();
    }

    public FieldValues Common { get; init; }

    /// <summary>By the networks' keys.</summary>
    public IReadOnlyDictionary<string, FieldValues> Networks { get; init; }

    public IReadOnlyDictionary<Id<Channel>, FieldValues> Channels { get; init; }

    /// <summary>All that it says something in: in common first.</summary>
    public IEnumerable<FieldValues> All() =>
        [
            Common,
            .. Networks.OrderBy(n => n.Key, StringComparer.Ordinal).Select(n => n.Value),
            .. Channels.OrderBy(c => c.Key).Select(c => c.Value),
        ];

    /// <summary>What it says of a target, the nearest first.</summary>
    internal IEnumerable<FieldValues> Nearest(Target target)
    {
        if (target.Channel is { } channel && Channels.TryGetValue(channel, out FieldValues? own))
            yield return own;
        if (Networks.TryGetValue(target.Rules.Key, out FieldValues? network))
            yield return network;
        yield return Common;
    }

    internal bool SameLayers(ContentLayers other) =>
        Common.Equals(other.Common) && Same(Networks, other.Networks) && Same(Channels, other.Channels);

    private static bool Same<TKey>(IReadOnlyDictionary<TKey, FieldValues> one, IReadOnlyDictionary<TKey, FieldValues> other) =>
        one.Count == other.Count && one.All(l => other.TryGetValue(l.Key, out FieldValues? o) && o.Equals(l.Value));
}

/// <summary>
/// What a post says: its own wording, and others that take turns with it. A field is looked for in the wording's layers first, then in
/// the post's own: channel, network, in common.
/// </summary>
[JsonUnmappedMemberHandling(JsonUnmappedMemberHandling.Disallow)]
public sealed record PostContent : ContentLayers
{
    public PostContent(
        FieldValues? common = null,
        IReadOnlyDictionary<string, FieldValues>? networks = null,
        IReadOnlyDictionary<Id<Channel>, FieldValues>? channels = null,
        IReadOnlyList<ContentLayers>? wordings = null
    )
        : base(common, networks, channels) => Wordings = wordings ?? [];

    public static PostContent Empty { get; } = new();

    /// <summary>Most wordings of a post.</summary>
    public const int MostWordings = 8;

    /// <summary>Other wordings, in the order in which they take turns after the first.</summary>
    public IReadOnlyList<ContentLayers> Wordings { get; init; }

    /// <summary>Another with a common value.</summary>
    public PostContent With<T>(Field<T> field, T? value)
        where T : class => this with { Common = Common.With(field, value) };

    /// <summary>Another with a value for one network.</summary>
    public PostContent With<T>(string network, Field<T> field, T? value)
        where T : class =>
        this with
        {
            Networks = new Dictionary<string, FieldValues>(Networks)
            {
                [network] = Networks.GetValueOrDefault(network, FieldValues.Empty).With(field, value),
            },
        };

    /// <summary>Content as a target gets it.</summary>
    /// <param name="wording">Which wording: 0 the post's own; the wordings are counted from 1. One that is no longer there counts as
    /// 0.</param>
    /// <param name="fields">The fields that there are; null: all that are declared.</param>
    /// <param name="sources">Null: none; mentions stay as they were written.</param>
    public ResolvedContent For(Target target, int wording = 0, IReadOnlyList<Field>? fields = null, ContentSources? sources = null) =>
        ResolvedContent.Of(Written(target, wording, fields), target.Rules, sources ?? ContentSources.None);

    /// <summary>The same as it was written: the link apart from the text.</summary>
    internal FieldValues Written(Target target, int wording, IReadOnlyList<Field>? fields = null)
    {
        FieldValues[] layers = [.. Wordings.ElementAtOrDefault(wording - 1)?.Nearest(target) ?? [], .. Nearest(target)];
        FieldValues found = FieldValues.Empty;
        foreach (Field field in (fields ?? ContentFields.All).Where(f => f.IsEverywhere || target.Rules.RulesOf(f.Key) is not null))
        {
            if (Array.Find(layers, l => l.Has(field))?.ValueOf(field) is { } value)
                found = found.WithValue(field, value);
        }
        return found;
    }

    /// <summary>Another that says something else to one target, and to no other, in one wording.</summary>
    internal PostContent Saying(Target target, int wording, Field field, object? value)
    {
        ContentLayers layers = Wordings.ElementAtOrDefault(wording - 1) ?? this;
        if (target.Channel is { } channel)
            layers = layers with
            {
                Channels = new Dictionary<Id<Channel>, FieldValues>(layers.Channels)
                {
                    [channel] = layers.Channels.GetValueOrDefault(channel, FieldValues.Empty).WithValue(field, value),
                },
            };
        else
            layers = layers with
            {
                Networks = new Dictionary<string, FieldValues>(layers.Networks)
                {
                    [target.Rules.Key] = layers.Networks.GetValueOrDefault(target.Rules.Key, FieldValues.Empty).WithValue(field, value),
                },
            };
        return layers is PostContent own ? own : this with { Wordings = [.. Wordings.Select((w, i) => i == wording - 1 ? layers : w)] };
    }

    /// <summary>The same without what can't be taken in as it is written: half a web address, a date that is none.</summary>
    public PostContent WithoutHalfWritten()
    {
        ContentLayers own = Whole(this);
        return new(own.Common, own.Networks, own.Channels, [.. Wordings.Select(Whole)]);

        static ContentLayers Whole(ContentLayers layers) =>
            new(
                Taken(layers.Common),
                layers.Networks.ToDictionary(n => n.Key, n => Taken(n.Value)),
                layers.Channels.ToDictionary(c => c.Key, c => Taken(c.Value))
            );

        static FieldValues Taken(FieldValues values) =>
            values.Fields.Where(f => !values.CanBeTaken(f)).Aggregate(values, (taken, field) => taken.Without(field));
    }

    /// <summary>The files that anything of it names.</summary>
    public IEnumerable<Id<MediaFile>> AllFiles() => AllLayers().SelectMany(l => l.Fields.SelectMany(f => f.Files(l.ValueOf(f)))).Distinct();

    /// <summary>The parts of a picture that any of it shows; null among them: all of it.</summary>
    public IEnumerable<Crop?> CropsOf(Id<MediaFile> media) =>
        AllLayers()
            .SelectMany(l =>
                (l.Get(ContentFields.Pictures)?.All ?? []).Concat(
                    l.Get(ContentFields.Thread)?.Parts.SelectMany(p => p.Pictures?.All ?? []) ?? []
                )
            )
            .Where(p => p.MediaId == media)
            .Select(p => p.Crop)
            .Distinct();

    /// <summary>True when the words of any field hold one of those, whatever the letter case.</summary>
    public bool Says(IReadOnlyCollection<string> words) =>
        AllLayers()
            .SelectMany(l => l.Fields.Select(f => f.Searched(l.ValueOf(f))))
            .Any(text => text is not null && words.Any(w => text.Contains(w, StringComparison.OrdinalIgnoreCase)));

    /// <summary>The channels that have anything of their own, in any wording.</summary>
    public IEnumerable<Id<Channel>> AllChannels() => Wordings.Prepend<ContentLayers>(this).SelectMany(w => w.Channels.Keys).Distinct();

    /// <summary>All that any wording says something in.</summary>
    public IEnumerable<FieldValues> AllLayers() => All().Concat(Wordings.SelectMany(w => w.All()));

    /// <summary>True when both say the same in every layer of every wording.</summary>
    public bool Same(PostContent other) =>
        SameLayers(other) && Wordings.Count == other.Wordings.Count && Wordings.Zip(other.Wordings).All(w => w.First.SameLayers(w.Second));

    /// <summary>What another says otherwise, field by field: in common first, then for networks and channels, then wording by
    /// wording.</summary>
    public IReadOnlyList<ContentDifference> DifferencesTo(PostContent other, ContentSources sources, IReadOnlyList<Field>? fields = null)
    {
        List<ContentDifference> all = [];
        for (int wording = 0; wording <= Math.Max(Wordings.Count, other.Wordings.Count); wording++)
        {
            (ContentLayers before, ContentLayers after) = (WordingOf(wording), other.WordingOf(wording));
            Note(wording, null, null, before.Common, after.Common);
            foreach (string network in before.Networks.Keys.Union(after.Networks.Keys).Order(StringComparer.Ordinal))
                Note(wording, network, null, LayerOf(before.Networks, network), LayerOf(after.Networks, network));
            foreach (Id<Channel> channel in before.Channels.Keys.Union(after.Channels.Keys).Order())
                Note(wording, null, channel, LayerOf(before.Channels, channel), LayerOf(after.Channels, channel));
        }
        return all;

        void Note(int wording, string? network, Id<Channel>? channel, FieldValues before, FieldValues after)
        {
            foreach (Field field in fields ?? ContentFields.All)
            {
                (string was, string becomes) = (field.Show(before.ValueOf(field), sources), field.Show(after.ValueOf(field), sources));
                if (was != becomes || before.Has(field) != after.Has(field))
                    all.Add(new(wording, network, channel, field, was, becomes));
            }
        }
    }

    private static FieldValues LayerOf<TKey>(IReadOnlyDictionary<TKey, FieldValues> layers, TKey key) =>
        layers.TryGetValue(key, out FieldValues? layer) ? layer : FieldValues.Empty;

    private ContentLayers WordingOf(int wording) => wording == 0 ? this : Wordings.ElementAtOrDefault(wording - 1) ?? new();

    /// <summary>As it is kept: values within their limits, and nothing that says nothing.</summary>
    /// <exception cref="FormatException">A value can't be taken in; the message says what to do.</exception>
    public PostContent Tidied()
    {
        ContentLayers own = Tidied(this);
        return new(
            // In common there is nothing to inherit: to hold nothing is not to be there.
            own.Common.Fields.Where(f => own.Common.ValueOf(f) is null).Aggregate(own.Common, (common, f) => common.Without(f)),
            own.Networks,
            own.Channels,
            [.. Wordings.Select(Tidied).Where(w => w.All().Any(SaysSomething))]
        );
    }

    /// <summary>A wording that was begun and left blank is none.</summary>
    private static bool SaysSomething(FieldValues layer) =>
        layer.Fields.Any(f => layer.ValueOf(f) is not string text ? f is not Field<string> : !string.IsNullOrWhiteSpace(text));

    private static ContentLayers Tidied(ContentLayers layers) =>
        new(
            Tidied(layers.Common),
            layers
                .Networks.Select(n => KeyValuePair.Create(n.Key, Tidied(n.Value)))
                .Where(n => !n.Value.IsEmpty)
                .OrderBy(n => n.Key, StringComparer.Ordinal)
                .ToDictionary(),
            layers
                .Channels.Select(c => KeyValuePair.Create(c.Key, Tidied(c.Value)))
                .Where(c => !c.Value.IsEmpty)
                .OrderBy(c => c.Key)
                .ToDictionary()
        );

    private static FieldValues Tidied(FieldValues values) =>
        values.Fields.Aggregate(values, (tidy, field) => tidy.WithValue(field, field.Tidy(values.ValueOf(field))));
}

/// <summary>One field of one layer that differs.</summary>
/// <param name="Wording">0: the post's own.</param>
/// <param name="Before">In words; empty: nothing.</param>
public sealed record ContentDifference(int Wording, string? Network, Id<Channel>? Channel, Field Field, string Before, string After)
{
    private const int MostNamed = 3;

    /// <summary>Where it is, in words: "text for Jot", "picture of wording 2".</summary>
    private string Where(NetworkBook networks)
    {
        string field = Field.Name.ToLowerInvariant();
        string of = Wording == 0 ? field : $"{field} of wording {Wording + 1}";
        return Network is { } network ? $"{of} for {(networks.Has(network) ? networks[network].Name : network)}"
            : Channel is not null ? $"{of} for one channel"
            : of;
    }

    /// <summary>Which fields differ, in words; empty: none.</summary>
    public static string Summary(IReadOnlyCollection<ContentDifference> all, NetworkBook networks)
    {
        string[] named = [.. all.Select(d => d.Where(networks)).Distinct()];
        return string.Join(", ", named.Take(MostNamed)) + (named.Length > MostNamed ? $" and {named.Length - MostNamed} more" : "");
    }
}
