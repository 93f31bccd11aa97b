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
    PictureMissing,
    PictureKind,
    PictureTooHeavy,
    PictureTooNarrow,
    PictureRatio,
    TextFolds,
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
    public bool Blocks => Severity == Severity.Blocks;

    public string Words => FindingWords.Of(this);
}
