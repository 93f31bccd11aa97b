using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>A time that a row without one could take, and why.</summary>
/// <param name="Place">True: a place of its category on that day; false: the hour at which its channels do best.</param>
public sealed record OfferedTime(LocalTime Time, bool Place);

/// <summary>What rows are read against.</summary>
/// <param name="Channels">The workspace's: rows are checked against those that they go to.</param>
/// <param name="Files">Files by name, whatever the letter case.</param>
/// <param name="Zone">The workspace's.</param>
/// <param name="Now">Local date and time in it.</param>
public sealed record ImportContext(
    IReadOnlyList<Category> Categories,
    IReadOnlyList<Channel> Channels,
    NetworkBook Networks,
    IReadOnlyDictionary<string, MediaFile> Files,
    DateTimeZone Zone,
    LocalDateTime Now
)
{
    /// <summary>What content rests on.</summary>
    public ContentSources Sources { get; init; } = new(id => Files.Values.FirstOrDefault(p => p.Id == id));

    public ImportTargets Targets { get; init; } = new(Networks, Channels);

    /// <summary>Groups of channels, which rows may name instead.</summary>
    public IReadOnlyList<ChannelGroup> Groups { get; init; } = [];

    /// <summary>What a row of that date without a time could take; null: nothing is known.</summary>
    public Func<LocalDate, Category, IReadOnlyList<Channel>, OfferedTime?> TimeFor { get; init; } = (_, _, _) => null;

    /// <summary>What goes out on each channel already.</summary>
    public IReadOnlyDictionary<Id<Channel>, IReadOnlyList<Instant>> Going { get; init; } =
        new Dictionary<Id<Channel>, IReadOnlyList<Instant>>();

    /// <summary>The sendings to come that a planning sheet names.</summary>
    public IReadOnlyDictionary<Id<Delivery>, KnownSending> Sendings { get; init; } = new Dictionary<Id<Delivery>, KnownSending>();

    /// <summary>The posts that there are, for doubles and for what is known by its outside id.</summary>
    public KnownPosts Known { get; init; } = KnownPosts.None;
}

/// <summary>A post of the bank, as far as an import looks at it.</summary>
/// <param name="Texts">Fingerprints of its texts.</param>
public sealed record KnownPost(Id<Post> Id, string Title, string? OutsideId, IReadOnlyList<string> Texts, TextSketch Sketch);

/// <summary>The bank, as far as an import looks at it.</summary>
public sealed class KnownPosts
{
    private readonly Dictionary<string, KnownPost> _byOutsideId = new(StringComparer.Ordinal);
    private readonly Dictionary<string, KnownPost> _byText = new(StringComparer.Ordinal);

    public KnownPosts(IReadOnlyList<KnownPost> all)
    {
        All = all;
        foreach (KnownPost post in all)
        {
            if (post.OutsideId is { } id)
                _byOutsideId.TryAdd(id, post);
            foreach (string text in post.Texts)
                _byText.TryAdd(text, post);
        }
    }

    public static KnownPosts None { get; } = new([]);

    public IReadOnlyList<KnownPost> All { get; }

    public KnownPost? WithOutsideId(string id) => _byOutsideId.GetValueOrDefault(id);

    public KnownPost? WithText(string fingerprint) => _byText.GetValueOrDefault(fingerprint);
}
