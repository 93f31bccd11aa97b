using System.Text.Json.Serialization;

namespace AbleLark.Core.Networks;

/// <summary>What a post is on a network.</summary>
public enum PostFormat
{
    Text,
    Pictures,
    Video,
    Document,

    /// <summary>Upright, and gone after a day.</summary>
    Story,

    /// <summary>A short upright video.</summary>
    Clip,
}

/// <param name="Kinds">Media types taken, such as image/png.</param>
/// <param name="MostBytes">Largest file, in bytes.</param>
/// <param name="MinWidth">Least width in pixels.</param>
/// <param name="MinRatio">Least width ÷ height.</param>
/// <param name="MaxRatio">Greatest width ÷ height.</param>
/// <param name="MinHeight">Least height in pixels.</param>
/// <param name="BestRatio">The width ÷ height that shows best; null: any.</param>
/// <param name="AltText">What is wanted of the picture in words; null: it isn't shown there.</param>
public sealed record PictureRules(
    int Fewest,
    int Most,
    IReadOnlyList<string> Kinds,
    long? MostBytes = null,
    int? MinWidth = null,
    double? MinRatio = null,
    double? MaxRatio = null,
    double? BestRatio = null,
    int? MinHeight = null,
    FieldRules? AltText = null
);

/// <param name="Kinds">Media types taken.</param>
/// <param name="MostBytes">Largest file, in bytes.</param>
/// <param name="MinRatio">Least width ÷ height.</param>
/// <param name="MaxRatio">Greatest width ÷ height.</param>
public sealed record VideoRules(
    IReadOnlyList<string> Kinds,
    long? MostBytes = null,
    double? MinSeconds = null,
    double? MaxSeconds = null,
    double? MinRatio = null,
    double? MaxRatio = null
);

/// <param name="Kinds">Media types taken.</param>
/// <param name="MostBytes">Largest file, in bytes.</param>
public sealed record DocumentRules(IReadOnlyList<string> Kinds, long? MostBytes = null, int? MostPages = null);

/// <summary>One format that a network offers. With rules for pictures and for a video, it is one of the two.</summary>
/// <param name="ByPerson">The network takes it from a person only, not from programs.</param>
/// <param name="Pictures">Null: it carries none.</param>
/// <param name="Video">Null: it carries none.</param>
/// <param name="Document">Null: it carries none.</param>
public sealed record FormatRules(
    PostFormat Format,
    bool ByPerson = false,
    PictureRules? Pictures = null,
    VideoRules? Video = null,
    DocumentRules? Document = null
)
{
    /// <summary>True for what a post is only where somebody asks for it.</summary>
    [JsonIgnore]
    public bool IsAskedFor => Format is PostFormat.Story or PostFormat.Clip;

    /// <summary>Nothing goes without a video, or a document.</summary>
    internal bool NeedsVideo => Video is not null && Pictures is null;
}
