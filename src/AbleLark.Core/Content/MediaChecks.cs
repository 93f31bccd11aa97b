using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Content;

/// <summary>What networks mind about files.</summary>
internal static class MediaChecks
{
    /// <summary>A shape that differs by less than this share from the best one is as good.</summary>
    private const double BestWithin = 0.05;

    /// <summary>Pictures of the post itself.</summary>
    public static void Pictures(FieldCheck check, Field field, IReadOnlyList<Picture> pictures)
    {
        string network = check.Rules.Name;
        bool hasVideo = check.Content.Video is not null;
        if (check.Format.Pictures is not { } rules)
        {
            if (pictures.Count > 0)
                check.Block(
                    hasVideo && check.Format.Video is not null ? FindingCode.OneKindOfMedia : FindingCode.PicturesNotTaken,
                    field,
                    network
                );
            return;
        }
        if (pictures.Count > 0 && hasVideo && check.Format.Video is not null)
            check.Block(FindingCode.OneKindOfMedia, field, network);
        if (pictures.Count(p => check.Sources.Media(p.MediaId) is not null) < rules.Fewest && !(hasVideo && check.Format.Video is not null))
            check.Block(FindingCode.PictureMissing, field, network);
        Each(check, field, pictures, rules);
    }

    /// <summary>The number of pictures, and each of them.</summary>
    public static void Each(FieldCheck check, Field field, IReadOnlyList<Picture> pictures, PictureRules rules)
    {
        if (pictures.Count > rules.Most)
            check.Block(
                FindingCode.TooManyPictures,
                field,
                FieldCheck.Whole(pictures.Count),
                FieldCheck.Whole(rules.Most),
                check.Rules.Name
            );
        for (int i = 0; i < pictures.Count; i++)
        {
            if (check.Sources.Media(pictures[i].MediaId) is { } file)
                One(check, field, pictures[i], file, rules, i);
        }
    }

    private static void One(FieldCheck check, Field field, Picture picture, MediaFile file, PictureRules allowed, int at)
    {
        string network = check.Rules.Name;
        if (!allowed.Kinds.Contains(file.Kind))
        {
            check.BlockAt(at, FindingCode.PictureKind, field, file.Kind, network);
            return;
        }
        if (picture.Crop is { } crop && !crop.FitsIn(file))
            check.BlockAt(at, FindingCode.CropOutside, field);
        (int width, int height) = picture.Crop is { } part ? (part.Width, part.Height) : (file.Width, file.Height);
        if (allowed.MostBytes is { } most && file.Bytes > most)
            check.AdviseAt(at, FindingCode.PictureTooHeavy, field, FieldCheck.Megabytes(file.Bytes), FieldCheck.Megabytes(most), network);
        if (allowed.MinWidth is { } least && width < least)
            check.BlockAt(at, FindingCode.PictureTooNarrow, field, FieldCheck.Whole(width), FieldCheck.Whole(least), network);
        if (allowed.MinHeight is { } lowest && height < lowest)
            check.BlockAt(at, FindingCode.PictureTooLow, field, FieldCheck.Whole(height), FieldCheck.Whole(lowest), network);
        double ratio = (double)width / height;
        if (ratio < (allowed.MinRatio ?? 0) || ratio > (allowed.MaxRatio ?? double.MaxValue))
            check.BlockAt(
                at,
                FindingCode.PictureRatio,
                field,
                FieldCheck.Ratio(ratio),
                FieldCheck.Ratio(allowed.MinRatio ?? 0),
                FieldCheck.Ratio(allowed.MaxRatio ?? 0),
                network
            );
        else if (allowed.BestRatio is { } best && Math.Abs(ratio - best) > best * BestWithin)
            check.AdviseAt(at, FindingCode.PictureRatioAdvised, field, FieldCheck.Ratio(ratio), FieldCheck.Ratio(best), network);
        if (allowed.AltText is not { } words)
            return;
        string altText = picture.AltTextOr(file);
        if (!string.IsNullOrWhiteSpace(altText))
            check.Long(words, field, altText, at, "Alt text");
        else if (words.IsNeeded)
            check.BlockAt(at, FindingCode.AltTextMissing, field, network);
    }

    public static void Video(FieldCheck check, FileField field)
    {
        string network = check.Rules.Name;
        VideoRules? rules = check.Format.Video;
        if (check.Content.Video is not { } id)
        {
            if (check.Format.NeedsVideo)
                check.Block(FindingCode.VideoMissing, field, network);
            return;
        }
        if (rules is null)
        {
            check.Block(FindingCode.VideoNotTaken, field, network);
            return;
        }
        if (check.Sources.Media(id) is not { } file)
        {
            check.Block(FindingCode.VideoMissing, field, network);
            return;
        }
        if (!rules.Kinds.Contains(file.Kind))
        {
            check.Block(FindingCode.FileKind, field, file.Kind, network);
            return;
        }
        if (rules.MostBytes is { } most && file.Bytes > most)
            check.Block(FindingCode.FileTooHeavy, field, FieldCheck.Megabytes(file.Bytes), FieldCheck.Megabytes(most), network);
        double seconds = file.Seconds ?? 0;
        if (seconds < (rules.MinSeconds ?? 0))
            check.Block(FindingCode.VideoTooShort, field, FieldCheck.Ratio(seconds), FieldCheck.Ratio(rules.MinSeconds ?? 0), network);
        if (seconds > (rules.MaxSeconds ?? double.MaxValue))
            check.Block(FindingCode.VideoTooLong, field, FieldCheck.Ratio(seconds), FieldCheck.Ratio(rules.MaxSeconds ?? 0), network);
        double ratio = (double)file.Width / file.Height;
        if (ratio < (rules.MinRatio ?? 0) || ratio > (rules.MaxRatio ?? double.MaxValue))
            check.Block(
                FindingCode.VideoRatio,
                field,
                FieldCheck.Ratio(ratio),
                FieldCheck.Ratio(rules.MinRatio ?? 0),
                FieldCheck.Ratio(rules.MaxRatio ?? 0),
                network
            );
    }

    public static void Document(FieldCheck check, FileField field)
    {
        string network = check.Rules.Name;
        if (check.Content.Document is not { } id)
        {
            if (check.Format.Document is not null)
                check.Block(FindingCode.DocumentMissing, field, network);
            return;
        }
        if (check.Format.Document is not { } rules)
        {
            // Beside a video, a network that takes both takes one of them.
            bool takesIt = check.Rules.Formats.Any(f => f.Document is not null);
            check.Block(takesIt ? FindingCode.OneKindOfMedia : FindingCode.DocumentNotTaken, field, network);
            return;
        }
        if (check.Sources.Media(id) is not { } file)
        {
            check.Block(FindingCode.DocumentMissing, field, network);
            return;
        }
        if (!rules.Kinds.Contains(file.Kind))
        {
            check.Block(FindingCode.FileKind, field, file.Kind, network);
            return;
        }
        if (rules.MostBytes is { } most && file.Bytes > most)
            check.Block(FindingCode.FileTooHeavy, field, FieldCheck.Megabytes(file.Bytes), FieldCheck.Megabytes(most), network);
        if (file.Pages > (rules.MostPages ?? int.MaxValue))
            check.Block(
                FindingCode.TooManyPages,
                field,
                FieldCheck.Whole(file.Pages ?? 0),
                FieldCheck.Whole(rules.MostPages ?? 0),
                network
            );
    }

    /// <summary>Any picture.</summary>
    public static void AnyPicture(FieldCheck check, FileField field)
    {
        if (
            check.Content.Fields.Get(field) is { } chosen
            && check.Sources.Media(chosen.MediaId) is { } file
            && !file.Kind.StartsWith("image/", StringComparison.Ordinal)
        )
            check.Block(FindingCode.PictureKind, field, file.Kind, check.Rules.Name);
    }
}
