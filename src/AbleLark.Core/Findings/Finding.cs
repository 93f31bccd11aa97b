using System.Text.Json.Serialization;

namespace AbleLark.Core.Findings;

public enum Severity
{
    /// <summary>Worth knowing; nothing is held up.</summary>
    Advice,

    /// <summary>The channel, or the row, can't take it as it is.</summary>
    Blocks,
}

/// <summary>What was found; put into words by <see cref="FindingWords"/>.</summary>
public enum FindingCode
{
    TextTooLong,
    NothingToSend,
    TooManyHashtags,
    HashtagsAdvised,
    LinkNotClickable,
    LinkMissing,
    AltTextMissing,
    PictureRatioAdvised,
    PictureTooLow,
    LinkNeedsButton,
    ButtonLeadsNowhere,
    ButtonWithoutVerb,
    DatesHalf,
    DatesBackwards,
    DatesFarApart,
    PictureMissing,
    PictureKind,
    PictureTooHeavy,
    PictureTooNarrow,
    PictureRatio,
    TextFolds,
    FieldMissing,
    FieldTooLong,
    FieldValueUnknown,
    CheckedBefore,
    RowTitleMissing,
    RowTextMissing,
    RowCategoryMissing,
    RowCategoryUnknown,
    RowLinkBroken,
    RowPictureUnknown,
    RowDateUnclear,
    RowDateImpossible,
    RowDatePast,
    RowTimeUnclear,
    RowTimeWithoutDate,
    RowDateWithoutTime,
    RowDateFar,
    RowTwice,
    RowCellsTooMany,
    RowNoChannel,
}

/// <summary>One thing found in a post or a row: a code with the figures that belong to it.</summary>
/// <param name="Field">Where: `text`, `link`, `picture`, or the name of a column.</param>
/// <param name="Values">Figures and names in the order in which the words use them.</param>
public sealed record Finding(FindingCode Code, Severity Severity, string Field, params IReadOnlyList<string> Values)
{
    [JsonIgnore]
    public bool Blocks => Severity == Severity.Blocks;

    [JsonIgnore]
    public string Words => FindingWords.Of(this);
}

public static class FindingLists
{
    /// <summary>The first that blocks; null when none does.</summary>
    public static Finding? FirstBlock(this IReadOnlyList<Finding> findings)
    {
        for (int i = 0; i < findings.Count; i++)
        {
            if (findings[i].Blocks)
                return findings[i];
        }
        return null;
    }
}
