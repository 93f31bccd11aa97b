using System.Globalization;

namespace AbleLark.Core.Findings;

/// <summary>The one place where findings get their words.</summary>
public static class FindingWords
{
    public static string Of(Finding finding)
    {
        string format = finding.Code switch
        {
            FindingCode.TextTooLong => "The text takes {0} of {1} on {2}: cut {3}.",
            FindingCode.NothingToSend => "There is nothing to send to {0} yet: write a text or add a picture.",
            FindingCode.TooManyHashtags => "{0} hashtags; {2} takes {1} at most.",
            FindingCode.HashtagsAdvised => "{0} hashtags; on {2} more than {1} look out of place.",
            FindingCode.LinkNotClickable => "Nobody can click a link on {0}.",
            FindingCode.LinkMissing => "{0} needs a link. Give one in the field for it.",
            FindingCode.AltTextMissing => "{0} wants the picture in words, for those who can't see it. Write its alt text.",
            FindingCode.PictureRatioAdvised => "The picture's shape is {0} : 1; on {2} {1} : 1 shows best.",
            FindingCode.PictureTooLow => "The picture is {0} px high; {2} wants at least {1} px.",
            FindingCode.LinkNeedsButton => "{0} shows a link only as a button: say what the button says.",
            FindingCode.ButtonLeadsNowhere => "The button on {0} leads nowhere: give it a link or a telephone number.",
            FindingCode.ButtonWithoutVerb => "The button on {0} says nothing: write a verb on it, or take its link away.",
            FindingCode.DatesHalf => "{0} wants both dates, from and until, or neither.",
            FindingCode.DatesBackwards => "It ends before it begins: change one of the two dates.",
            FindingCode.DatesFarApart => "{0} takes a year at most from the first to the last date.",
            FindingCode.PictureMissing => "{0} needs a picture.",
            FindingCode.PictureKind => "{1} doesn't take {0} files.",
            FindingCode.PictureTooHeavy => "The picture is {0} MB; {2} takes {1} MB at most.",
            FindingCode.PictureTooNarrow => "The picture is {0} px wide; {2} wants at least {1} px.",
            FindingCode.PictureRatio => "The picture's shape is {0} : 1; {3} takes {1} to {2} : 1. Crop it.",
            FindingCode.TextFolds => "{1} shows the first {0} of the text; the rest only opens on a press.",
            FindingCode.FieldMissing => "{1} needs this: {0}.",
            FindingCode.FieldTooLong => "{0}: {1} of {2} on {3}. Shorten it.",
            FindingCode.FieldValueUnknown => "{0}: {2} doesn't know “{1}”. Choose one of: {3}.",
            FindingCode.CheckedBefore => "It did not fit when it was last checked. Save it, and it is checked anew.",
            FindingCode.RowTitleMissing => "No title: the start of the text is taken.",
            FindingCode.RowTextMissing => "The row has no text and no picture. Fill in one of them.",
            FindingCode.RowCategoryMissing => "The row names no category. Write one of: {0}.",
            FindingCode.RowCategoryUnknown => "There is no category \"{0}\" here. Write one of: {1}.",
            FindingCode.RowLinkBroken => "\"{0}\" is not a web address. It should start with https://.",
            FindingCode.RowPictureUnknown => "The picture \"{0}\" is not among the files. Add it to the upload.",
            FindingCode.RowDateUnclear => "\"{0}\" could be read in two ways. Write the date as 2026-03-25 or 25 Mar 2026.",
            FindingCode.RowDateImpossible => "\"{0}\" is not a date. Write it as 2026-03-25 or 25 Mar 2026.",
            FindingCode.RowDatePast => "{0} has passed. Give a time to come, or leave date and time empty.",
            FindingCode.RowTimeUnclear => "\"{0}\" is not a time. Write it as 14:30.",
            FindingCode.RowTimeWithoutDate => "There is a time but no date. Give both, or neither.",
            FindingCode.RowDateWithoutTime => "There is a date but no time. Give both, or neither.",
            FindingCode.RowDateFar => "{0} is more than a year away. Is the year right?",
            FindingCode.RowTwice => "The same title and text stand in row {0} too.",
            FindingCode.RowCellsTooMany => "The row has {0} cells, the header {1}. A text with a comma in it needs quotation marks.",
            FindingCode.RowNoChannel => "The category \"{0}\" has no usual channels, so the date has nowhere to go. Set them in Set-up.",
            _ => throw new ArgumentOutOfRangeException(nameof(finding), finding.Code, "A finding without words."),
        };
        return string.Format(CultureInfo.InvariantCulture, format, [.. finding.Values]);
    }
}
