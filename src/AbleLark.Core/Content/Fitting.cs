using AbleLark.Core.Findings;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Content;

/// <summary>How a finding is mended without asking.</summary>
public enum Fix
{
    UseHandle,
    MoveLinkToComment,
    TakeLinkOut,
    DropHashtags,
    LeaveDocumentOut,
    LeaveVideoOut,
    CropToRatio,
    LeavePictureOut,
    MoveHashtagsToComment,
    SplitIntoThread,
    CutAtAWord,
}

/// <summary>One thing that was done to make content fit.</summary>
/// <param name="Wording">Of which wording: 0 the post's own.</param>
/// <param name="Field">Of which field.</param>
/// <param name="Before">What was there and isn't any more, in words.</param>
/// <param name="After">What is there now, in words.</param>
public sealed record FixDone(Fix Fix, int Wording, string Field, string Before, string After);

/// <param name="Content">What fits, as far as it can be mended without asking.</param>
/// <param name="Done">In the order in which it was done; empty: nothing was needed, or nothing could be.</param>
public sealed record FittedContent(PostContent Content, IReadOnlyList<FixDone> Done);

/// <summary>Makes content fit a network, as far as that needs no decision. What is changed is that network's, or channel's, alone. Doing it
/// again changes nothing more.</summary>
public static class Fitting
{
    /// <summary>Which findings can be mended without asking, and how: the first way that can be gone is. Empty: a person has to.</summary>
    public static IReadOnlyList<Fix> FixesOf(FindingCode code, NetworkRules rules)
    {
        bool hasComment = rules.RulesOf(ContentFields.FirstComment.Key) is not null;
        bool hasThread = rules.RulesOf(ContentFields.Thread.Key) is not null;
        return code switch
        {
            FindingCode.TextTooLong =>
            [
                .. hasComment ? [Fix.MoveHashtagsToComment] : Array.Empty<Fix>(),
                hasThread ? Fix.SplitIntoThread : Fix.CutAtAWord,
            ],
            FindingCode.HandleOfAnotherNetwork => [Fix.UseHandle],
            FindingCode.PartTooLong or FindingCode.TooManyParts => [Fix.SplitIntoThread],
            FindingCode.TooManyHashtags or FindingCode.HashtagsAdvised => [Fix.DropHashtags],
            FindingCode.LinkNotClickable => hasComment ? [Fix.MoveLinkToComment, Fix.TakeLinkOut] : [Fix.TakeLinkOut],
            FindingCode.PictureRatio or FindingCode.CropOutside => [Fix.CropToRatio, Fix.LeavePictureOut],
            FindingCode.PictureRatioAdvised => [Fix.CropToRatio],
            FindingCode.PictureKind
            or FindingCode.PictureTooNarrow
            or FindingCode.PictureTooLow
            or FindingCode.TooManyPictures
            or FindingCode.PicturesNotTaken => [Fix.LeavePictureOut],
            FindingCode.VideoNotTaken or FindingCode.VideoTooShort or FindingCode.VideoTooLong or FindingCode.VideoRatio =>
            [
                Fix.LeaveVideoOut,
            ],
            FindingCode.DocumentNotTaken or FindingCode.TooManyPages => [Fix.LeaveDocumentOut],
            FindingCode.OneKindOfMedia => [Fix.LeaveDocumentOut, Fix.LeavePictureOut],
            FindingCode.FileKind or FindingCode.FileTooHeavy => [Fix.LeaveVideoOut, Fix.LeaveDocumentOut],
            _ => [],
        };
    }

    /// <summary>Mends every wording for one target.</summary>
    /// <param name="only">The one thing that is done; null: whatever is needed.</param>
    public static FittedContent Fit(PostContent content, Target target, ContentSources sources, Fix? only = null)
    {
        Fitter fitter = new(content, target, sources);
        for (int wording = 0; wording <= content.Wordings.Count; wording++)
        {
            // One after the other: dropping hashtags may spare a cut. Each is tried once, so that this ends.
            foreach (Fix fix in Enum.GetValues<Fix>().Where(f => only is null || f == only))
            {
                Finding[] findings =
                [
                    .. ContentCheck
                        .Check(fitter.Content, target, sources, wording)
                        .Findings.Where(f => FixesOf(f.Code, target.Rules).Contains(fix)),
                ];
                if (findings.Length > 0)
                    fitter.Apply(fix, findings, wording);
            }
        }
        return new(fitter.Content, fitter.Done);
    }
}
