using System.Text.Json;
using System.Text.Json.Serialization;

namespace AbleLark.Core.Figures;

/// <summary>
/// A kind of figure that networks tell about what was sent. One more is one more declaration here: it is kept, read and shown from then
/// on, and counted where a network's file says that the network offers it.
/// </summary>
[JsonConverter(typeof(Json))]
public sealed class FigureKind
{
    /// <param name="number">Where it is kept in the array of an age, from 1; never given to another kind.</param>
    /// <param name="key">Its name in files, the API and kept readings; never changed.</param>
    /// <param name="words">Its name on screens, in the plural.</param>
    /// <param name="isEngagement">True: it counts as an engagement.</param>
    /// <param name="grows">False: a state of the account and not something that the post earns from nought.</param>
    private FigureKind(int number, string key, string words, bool isEngagement = false, bool grows = true) =>
        (Number, Key, Words, IsEngagement, Grows) = (number, key, words, isEngagement, grows);

    public static FigureKind Impressions { get; } = new(1, "impressions", "impressions");
    public static FigureKind Reach { get; } = new(2, "reach", "reach");
    public static FigureKind Likes { get; } = new(3, "likes", "likes", isEngagement: true);
    public static FigureKind Comments { get; } = new(4, "comments", "comments", isEngagement: true);
    public static FigureKind Shares { get; } = new(5, "shares", "shares", isEngagement: true);
    public static FigureKind Saves { get; } = new(6, "saves", "saves", isEngagement: true);
    public static FigureKind LinkClicks { get; } = new(7, "linkClicks", "link clicks", isEngagement: true);
    public static FigureKind VideoViews { get; } = new(8, "videoViews", "video views");
    public static FigureKind Followers { get; } = new(9, "followers", "followers", grows: false);

    /// <summary>All kinds, in the order in which they are shown.</summary>
    public static IReadOnlyList<FigureKind> All { get; } =
    [Reach, Impressions, Likes, Comments, Shares, Saves, LinkClicks, VideoViews, Followers];

    /// <summary>The kinds that count as engagements.</summary>
    public static IReadOnlyList<FigureKind> Engagements { get; } = [.. All.Where(k => k.IsEngagement)];

    private static readonly Dictionary<string, FigureKind> ByKey = All.ToDictionary(k => k.Key, StringComparer.Ordinal);

    public int Number { get; }
    public string Key { get; }
    public string Words { get; }
    public bool IsEngagement { get; }
    public bool Grows { get; }

    /// <summary>The kind of that key; null when there is none.</summary>
    public static FigureKind? Find(string key) => ByKey.GetValueOrDefault(key);

    public override string ToString() => Key;

    private sealed class Json : JsonConverter<FigureKind>
    {
        public override FigureKind Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            reader.TokenType == JsonTokenType.String && Find(reader.GetString()!) is { } kind
                ? kind
                : throw new UnreadableException($"There is no such figure. Write one of: {string.Join(", ", All.Select(k => k.Key))}.");

        public override void Write(Utf8JsonWriter writer, FigureKind value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.Key);
    }
}
