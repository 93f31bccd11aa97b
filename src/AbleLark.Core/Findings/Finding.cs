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
    TooManyPictures,
    PicturesNotTaken,
    OneKindOfMedia,
    CropOutside,
    VideoMissing,
    VideoNotTaken,
    VideoTooShort,
    VideoTooLong,
    VideoRatio,
    DocumentMissing,
    DocumentNotTaken,
    TooManyPages,
    FileKind,
    FileTooHeavy,
    ThreadNotTaken,
    TooManyParts,
    PartTooLong,
    MentionUnknown,
    PeopleNotMentioned,
    PagesNotMentioned,
    MentionWithoutHandle,
    HandleGone,
    HandleOfAnotherNetwork,
    VerbUnknown,
    TextFolds,
    FieldMissing,
    FieldTooLong,
    FieldValueUnknown,
    CheckedBefore,
    RowSummary,
    RowTextMissing,
    RowTextShort,
    RowCategoryMissing,
    RowCategoryUnknown,
    RowLinkBroken,
    RowPictureUnknown,
    RowValueRefused,
    RowDateUnclear,
    RowDateImpossible,
    RowDateNoYear,
    RowDatePast,
    RowDateWeekday,
    RowDateFar,
    RowDateYearAway,
    RowDatesBackwards,
    RowTimeUnclear,
    RowTimeRange,
    RowTimeMoved,
    RowDateBeside,
    RowDateBesideTime,
    RowDateLanguage,
    RowTimeWithoutDate,
    RowDateWithoutTime,
    RowTimeOfPlace,
    RowTimeOfHour,
    RowTimeAtNight,
    RowClockForward,
    RowClockBack,
    RowZoneUnknown,
    RowNetworkUnknown,
    RowNetworkNoChannel,
    RowChannelUnknown,
    RowChannelUnclear,
    RowNoChannel,
    RowSameChannel,
    RowNothingTicked,
    RowTickUnclear,
    RowNowhere,
    RowTooClose,
    RowDayFull,
    RowLifespanUnknown,
    RowGapWrong,
    RowReadOtherwise,
    RowBelongs,
    RowOtherCategory,
    RowPartWithoutTime,
    RowIdTwice,
    RowTwice,
    RowNearRow,
    RowKnown,
    RowNearKnown,
    RowKnownById,
    RowUnchanged,
    RowSendingGone,
    RowSendingChannel,
    RowSendingTwice,
}

/// <summary>A stretch of a text in its normal form C, in UTF-16 units.</summary>
public readonly record struct TextSpan(int Start, int Length);

/// <summary>One thing found in a post or a row: a code with the figures that belong to it.</summary>
/// <param name="Field">Where: `text`, `link`, `picture`, or the name of a column.</param>
/// <param name="Values">Figures and names in the order in which the words use them.</param>
public sealed record Finding(FindingCode Code, Severity Severity, string Field, params IReadOnlyList<string> Values)
{
    /// <summary>Which of several it is about, counted from 0: a picture, a part of a thread; null: all.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? Item { get; init; }

    /// <summary>Where in the field's text: as it is sent, but for mentions, which are gone by then, as it is written. Null: nowhere in
    /// particular.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<TextSpan>? Spans { get; init; }

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
