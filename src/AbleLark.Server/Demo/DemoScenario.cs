using System.Text.Json;
using AbleLark.Core.Orders;
using AbleLark.Data;

namespace AbleLark.Server.Demo;

/// <summary>The demo's made-up client, as read from its file.</summary>
/// <param name="AltTexts">By the pictures' moods.</param>
public sealed record DemoScenario(
    string Slug,
    string Name,
    string Zone,
    IReadOnlyList<DemoAccount> Accounts,
    Dictionary<string, double> Interests,
    IReadOnlyList<DemoCategory> Categories,
    IReadOnlyList<DemoSlot> Slots,
    Dictionary<string, string> AltTexts,
    IReadOnlyList<DemoPost> Posts
)
{
    public static DemoScenario Load()
    {
        using Stream stream = typeof(DemoScenario).Assembly.GetManifestResourceStream("AbleLark.Server.Demo.marram.json")!;
        return JsonSerializer.Deserialize<DemoScenario>(stream, LarkJson.Options)!;
    }
}

/// <param name="Ended">True for a connection that the network has ended since.</param>
public sealed record DemoAccount(
    string Key,
    string Network,
    string Handle,
    string Name,
    int Followers,
    bool Ended = false,
    bool IsPerson = false
);

/// <param name="Gap">Repeat gap in days.</param>
/// <param name="Target">Target share.</param>
public sealed record DemoCategory(
    string Name,
    string Colour,
    string Monogram,
    IReadOnlyList<string> Channels,
    Order Order = Order.NewestFirst,
    int? Gap = null,
    double? Target = null
);

/// <param name="Second">A category that takes turns with the first.</param>
public sealed record DemoSlot(
    IReadOnlyList<int> Days,
    string Time,
    string? Category,
    IReadOnlyList<string> Channels,
    string? Second = null
);

/// <param name="C">Category.</param>
/// <param name="T">Title.</param>
/// <param name="X">Text.</param>
/// <param name="L">Link.</param>
/// <param name="Pic">Mood of the drawn picture.</param>
/// <param name="Jot">Variant for the short-text network.</param>
/// <param name="Back">What was asked for when it was sent back.</param>
/// <param name="Also">Moods of further pictures.</param>
/// <param name="Thread">Further parts on networks that have threads; the first stands for the text there.</param>
/// <param name="Film">The film that it shows; null: none.</param>
/// <param name="Document">True: it hands out the demo's document where one is taken.</param>
/// <param name="Story">True: on the picture network it is a story.</param>
/// <param name="To">The only channels that it goes to, by key.</param>
public sealed record DemoPost(
    string C,
    string T,
    string X,
    string? L = null,
    string? Pic = null,
    string? Jot = null,
    string? Back = null,
    IReadOnlyList<string>? Also = null,
    IReadOnlyList<string>? Thread = null,
    string? Film = null,
    bool Document = false,
    bool Story = false,
    IReadOnlyList<string>? To = null
);
