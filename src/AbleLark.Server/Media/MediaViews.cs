using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Server.Media;

/// <param name="Width">Pixels as shown.</param>
/// <param name="Height">Pixels as shown.</param>
/// <param name="Shape">Null: it has none, being a document.</param>
/// <param name="Turn">Degrees clockwise by which its pixels are turned to be shown.</param>
/// <param name="Frames">Pictures shown one after the other; 1: it stands still.</param>
/// <param name="Seconds">A video's length; null: it isn't one.</param>
/// <param name="Pages">A document's; null: it isn't one.</param>
/// <param name="VideoCodec">How a video's pictures are written, such as avc1.</param>
/// <param name="AudioCodec">How its sound is written; null: it has none.</param>
/// <param name="HasPoster">A picture stands for the video.</param>
/// <param name="Focus">The point that matters most; null: nobody said.</param>
public sealed record MediaView(
    Id<MediaFile> Id,
    string FileName,
    string Kind,
    long Bytes,
    int Width,
    int Height,
    MediaShape? Shape,
    int Turn,
    int Frames,
    double? Seconds,
    int? Pages,
    string? VideoCodec,
    string? AudioCodec,
    bool HasPoster,
    string AltText,
    FocalPoint? Focus,
    Instant AddedAt
)
{
    public static MediaView Of(MediaFile m) =>
        new(
            m.Id,
            m.FileName,
            m.Kind,
            m.Bytes,
            m.Width,
            m.Height,
            m.Shape,
            m.Turn,
            m.Frames,
            m.Seconds,
            m.Pages,
            m.VideoCodec,
            m.AudioCodec,
            m.PosterHash is not null,
            m.AltText,
            m is { FocusX: { } x, FocusY: { } y } ? new(x, y) : null,
            m.AddedAt
        );
}

/// <summary>A file of the workspace in a list.</summary>
/// <param name="Posts">Posts in the bank that use it.</param>
/// <param name="LastSentAt">When it last went out; null: never.</param>
public sealed record MediaItem(MediaView File, int Posts, Instant? LastSentAt);

/// <param name="Total">All that are so, on every page.</param>
public sealed record MediaPage(IReadOnlyList<MediaItem> Items, int Total);

/// <summary>A post that uses a file.</summary>
public sealed record MediaUseView(Id<Post> Post, string Title, Stage Stage);

/// <summary>A delivery that it went out with, or is going out with.</summary>
public sealed record MediaSendingView(
    Id<Delivery> Delivery,
    Id<Post> Post,
    Id<Channel> Channel,
    Instant At,
    DeliveryState State,
    string? Address
);

/// <param name="Sendings">The latest first; some of them where there are many.</param>
/// <param name="SentTimes">How often it has gone out.</param>
public sealed record MediaUses(IReadOnlyList<MediaUseView> Posts, IReadOnlyList<MediaSendingView> Sendings, int SentTimes);

/// <summary>Whether anything uses a file: for looking.</summary>
public enum MediaUse
{
    Used,
    Never,
}

/// <summary>What files are, roughly.</summary>
public enum MediaSort
{
    Picture,
    Video,
    Document,
}

/// <param name="FileName">Null: as it is.</param>
/// <param name="AltText">The picture in words; empty: none.</param>
/// <param name="Focus">The point that matters most; null: the middle.</param>
public sealed record MediaRequest(
    [property: StringLength(Picture.MostAltText)] string AltText,
    FocalPoint? Focus,
    [property: StringLength(200)] string? FileName = null
);

/// <param name="Files">Files of the workspace that nothing uses.</param>
public sealed record MediaRemoval([property: MaxLength(1_000)] IReadOnlyList<Id<MediaFile>> Files);

/// <param name="Picture">A picture of the workspace that is to stand for the video.</param>
public sealed record PosterRequest(Id<MediaFile> Picture);
