using NodaTime;
using NodaTime.Text;

namespace AbleLark.Core.Acts;

/// <summary>The one place where acts get their words.</summary>
public static class ActWords
{
    /// <summary>What was done, in a few words.</summary>
    public static string Of(Act act) =>
        act.Code switch
        {
            ActCode.CountedOutside => $"Counted a post made on {act.Of(0)} itself as “{act.Of(1)}”",
            ActCode.RotaAdded => $"Added the rota {act.Of(0)}",
            ActCode.RotaChanged => $"Changed the rota {act.Of(0)}",
            ActCode.RotaRemoved => $"Removed the rota {act.Of(0)}",
            ActCode.SlotAdded => $"Added a slot at {act.Of(0)}",
            ActCode.SlotRemoved => $"Removed the slot at {act.Of(0)}",
            ActCode.Scheduled => $"Scheduled everything through {Day(act, 0)}",
            ActCode.ContactAdded => $"Added {act.Of(0)} to the address book",
            ActCode.ContactChanged => $"Changed {act.Of(0)} in the address book",
            ActCode.ContactRemoved => $"Took {act.Of(0)} out of the address book",
            ActCode.HandlesLookedUp => $"Looked up the handles of {act.Of(0)}",
            ActCode.ChannelsConnected => $"Connected {act.Of(0)}",
            ActCode.KeptChannelAdded => $"Added the channel {act.Of(0)}, kept by hand",
            ActCode.ChannelChanged => $"Changed {act.Of(0)}",
            ActCode.ChannelDisconnected => $"Disconnected {act.Of(0)}",
            ActCode.GroupAdded => $"Added the channel group {act.Of(0)}",
            ActCode.GroupChanged => $"Changed the channel group {act.Of(0)}",
            ActCode.GroupRemoved => $"Removed the channel group {act.Of(0)}",
            ActCode.Paused => $"Paused {act.Of(0)}",
            ActCode.PauseEnded => "Ended a pause",
            ActCode.DeliveryParted => "Parted a delivery from its key date",
            ActCode.DeliveryTied => $"Put a delivery relative to “{act.Of(0)}”",
            ActCode.KeyDateAdded => $"Put “{act.Of(0)}” on the calendar",
            ActCode.KeyDateChanged => $"Changed the key date “{act.Of(0)}”",
            ActCode.KeyDateRemoved => $"Took “{act.Of(0)}” off the calendar",
            ActCode.KeyDateKindAdded => $"Named a kind of key dates: {act.Of(0)}",
            ActCode.KeyDateKindChanged => $"Changed the kind of key dates {act.Of(0)}",
            ActCode.KeyDateKindRemoved => $"Removed the kind of key dates {act.Of(0)}",
            ActCode.CalendarRead => "Read key dates from a calendar",
            ActCode.CalendarSourceRemoved => $"Stopped reading the calendar {act.Of(0)}",
            ActCode.ViewSaved => $"Saved the view {act.Of(0)} of the calendar",
            ActCode.ViewRemoved => $"Removed the view {act.Of(0)} of the calendar",
            ActCode.PostSentBack => $"Sent “{act.Of(0)}” back",
            ActCode.PostWritten => $"Wrote “{act.Of(0)}”",
            ActCode.PostRemoved => $"Removed “{act.Of(0)}”",
            ActCode.FileDescribed => $"Described “{act.Of(0)}”",
            ActCode.CategoryShuffled => $"Shuffled {act.Of(0)} anew",
            ActCode.CategoryAdded => $"Added the category {act.Of(0)}",
            ActCode.CategoryChanged => $"Changed the category {act.Of(0)}",
            ActCode.CategoryRemoved => $"Removed the category {act.Of(0)}",
            ActCode.PostedByHand => "Posted a delivery themselves",
            ActCode.CountedUnder => $"Counted a delivery under {act.Of(0)}",
            ActCode.RestTried => "Tried the rest of a delivery again",
            ActCode.DeliveryFound => "Found a delivery on the network",
            ActCode.SettingsChanged => $"Changed the settings of {act.Of(0)}",
            ActCode.LogoChanged => "Changed the logo",
            ActCode.FailureDismissed => "Dismissed a failure",
            ActCode.DeliveryCancelled => "Cancelled a delivery",
            ActCode.LookedAgain => "Had a delivery looked for again",
            ActCode.SentAgain => "Sent a delivery again that is not on the network",
            ActCode.PostBooked => $"Booked “{act.Of(0)}”",
            ActCode.PlaceGiven => $"Gave a scheduled place to “{act.Of(0)}”",
            ActCode.PostEdited => $"Edited “{act.Of(0)}”{Then(": ", act, 1)}",
            ActCode.PostApproved => $"Approved “{act.Of(0)}”",
            ActCode.PostApprovedAsAllowed => $"Approved “{act.Of(0)}” (changed by the same person, as the workspace allows)",
            ActCode.PostApprovedByNobodyElse => $"Approved “{act.Of(0)}” (changed by the same person; nobody else may approve)",
            ActCode.PostPlanned => $"Gave “{act.Of(0)}” a time",
            ActCode.PostSentAtOnce => $"Sent “{act.Of(0)}” at once",
            ActCode.PostSentCorrected => $"Sent “{act.Of(0)}” again, corrected",
            ActCode.PostMovedToFront => $"Moved “{act.Of(0)}” to the front",
            ActCode.PostMovedToBack => $"Moved “{act.Of(0)}” to the back",
            ActCode.PostPutBackIntoOrder => $"Put “{act.Of(0)}” back into the order",
            ActCode.DeliveryRescheduled => "Rescheduled a delivery",
            ActCode.TakenDown => "Took down a delivery",
            ActCode.TakenDownByHand => "Took a delivery down themselves",
            ActCode.PostsExchanged => $"Swapped “{act.Of(0)}” and “{act.Of(1)}”",
            ActCode.PlacesExchanged => "Swapped two places of the line-up",
            ActCode.PlaceFreed => $"Freed {Moment(act)}",
            ActCode.PlaceSkipped => $"Skipped {Moment(act)}",
            ActCode.PlaceMoved => $"Moved {Moment(act)}",
            ActCode.PlaceFixed => $"Fixed {Moment(act)}",
            ActCode.PlaceNoted => $"Wrote a note on {Moment(act)}",
            ActCode.PlaceChanged => $"Changed {Moment(act)}",
            ActCode.ChosenMoved => "Moved what was chosen in the calendar",
            ActCode.ChosenCopied => "Copied what was chosen in the calendar",
            ActCode.ChosenCancelled => "Cancelled what was chosen in the calendar",
            ActCode.ChosenAskedFor => "Asked for approval of what was chosen in the calendar",
            ActCode.PassedDismissed => act.Number(0) == 1 ? "Dismissed a missed place" : $"Dismissed {act.Number(0)} missed places",
            ActCode.PostsFollow => $"Let posts follow: “{act.Of(0)}”",
            ActCode.PostsStay => $"Let posts stay where they are: “{act.Of(0)}”",
            ActCode.KeyDateDone => $"Did what was to be done: {ComingOf(act)}",
            ActCode.KeyDateUndone => $"Is yet to be done: {ComingOf(act)}",
            ActCode.KeyDateSkipped => $"Skipped {ComingOf(act)}",
            ActCode.KeyDateMoved => $"Moved {ComingOf(act)}",
            ActCode.NoteWritten => "Wrote a note on the calendar",
            ActCode.NoteTaken => "Took a note off the calendar",
            ActCode.FilesRemoved => act.Number(0) == 1
                ? $"Took “{act.Of(1)}” out of the media"
                : $"Took {act.Number(0):N0} files out of the media",
            ActCode.Imported => Imported(act),
            ActCode.TakenBack => $"Took back: {Of(act.Before!)}",
            ActCode.DoneAgain => $"Did again: {Of(act.Before!)}",
            ActCode.Told => act.Of(0),
            _ => throw new ArgumentOutOfRangeException(nameof(act), act.Code, "An act without words."),
        };

    private static string Day(Act act, int at) => LocalDatePattern.Iso.Parse(act.Of(at)).GetValueOrThrow().InWords();

    /// <summary>A place by its date and the slot's time.</summary>
    private static string Moment(Act act)
    {
        LocalDate date = LocalDatePattern.Iso.Parse(act.Of(0)).GetValueOrThrow();
        return $"{date.ToString("ddd d MMM", System.Globalization.CultureInfo.InvariantCulture)} {act.Of(1)}";
    }

    /// <summary>A key date, and one of the dates on which it comes.</summary>
    private static string ComingOf(Act act) => $"“{act.Of(0)}”, {Day(act, 1)}";

    private static string Then(string between, Act act, int at) => act.Values.Count > at ? between + act.Of(at) : "";

    private static string Imported(Act act) =>
        (act.Number(0), act.Number(1)) switch
        {
            (var news, 0) => $"Imported {news} posts from {act.Of(2)}",
            (0, var changed) => $"Changed {changed} posts from {act.Of(2)}",
            var (news, changed) => $"Imported {news} posts and changed {changed} from {act.Of(2)}",
        };
}
