using AbleLark.Core.Media;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Content;

/// <summary>What a network takes of a picture, and the part of it that would do.</summary>
/// <param name="Network">The network's key.</param>
/// <param name="Format">What the post is there.</param>
/// <param name="MinRatio">Least width ÷ height; null: any.</param>
/// <param name="MaxRatio">Greatest width ÷ height; null: any.</param>
/// <param name="BestRatio">The width ÷ height that shows best; null: any.</param>
/// <param name="MinWidth">Least width in pixels; null: any.</param>
/// <param name="MinHeight">Least height in pixels; null: any.</param>
/// <param name="Suggested">The part round the focus that has the best shape, or the nearest one taken; null: the whole is as good.</param>
public sealed record CropChoice(
    string Network,
    PostFormat Format,
    double? MinRatio,
    double? MaxRatio,
    double? BestRatio,
    int? MinWidth,
    int? MinHeight,
    Crop? Suggested
)
{
    /// <param name="allowed">What the network minds about pictures in the format that the post has there.</param>
    /// <param name="focus">What matters most in it; null: what the file says, or the middle.</param>
    public static CropChoice Of(string network, PostFormat format, PictureRules allowed, MediaFile file, FocalPoint? focus = null) =>
        new(
            network,
            format,
            allowed.MinRatio,
            allowed.MaxRatio,
            allowed.BestRatio,
            allowed.MinWidth,
            allowed.MinHeight,
            Suggest(allowed, file, (double)file.Width / file.Height, focus)
        );

    /// <param name="ratio">Width ÷ height as it is now.</param>
    /// <returns>Null: it may stay as it is, or nothing of it is large enough.</returns>
    internal static Crop? Suggest(PictureRules allowed, MediaFile file, double ratio, FocalPoint? focus)
    {
        double wanted = allowed.BestRatio ?? Math.Clamp(ratio, allowed.MinRatio ?? 0, allowed.MaxRatio ?? double.MaxValue);
        if (wanted == ratio)
            return null;
        FocalPoint around = focus ?? (file is { FocusX: { } x, FocusY: { } y } ? new(x, y) : FocalPoint.Centre);
        Crop crop = Crop.ToRatio(file.Width, file.Height, wanted, around).Within(allowed.MinRatio, allowed.MaxRatio);
        return crop.Width >= (allowed.MinWidth ?? 0) && crop.Height >= (allowed.MinHeight ?? 0) ? crop : null;
    }
}
