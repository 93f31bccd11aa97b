using NodaTime;

namespace AbleLark.Core.Reasons;

/// <summary>The one place where reasons get their words.</summary>
public static class ReasonWords
{
    public static string Of(Reason reason) =>
        (reason.AsSubstitute ? "Goes out if the post before it has no approval in time. " : "")
        + Tried(reason)
        + reason.Code switch
        {
            ReasonCode.NewestFirst => $"Never sent here, and the latest added of those.{Next(reason)}{Rest(reason)}",
            ReasonCode.NewOnesFirst => $"Never sent here, and new ones go first.{Next(reason)}{Rest(reason)}",
            ReasonCode.EarliestTurn => $"Longest since last sent: last turn {Date(reason.LastTurn)}.{Next(reason)}{Rest(reason)}",
            ReasonCode.NextInRing => $"Next by date added.{Next(reason)}{Rest(reason)}",
            ReasonCode.NextInRound => $"Drawn next in round {reason.Round}.{Next(reason)}{Rest(reason)}",
            ReasonCode.LargestWeight =>
                $"Days since {Date(reason.LastTurn)} and how well it did, taken together.{Next(reason)}{Rest(reason)}",
            ReasonCode.Front => $"At the front of its line.{Next(reason)}{Rest(reason)}",
            ReasonCode.Back => $"At the back of its line, and nothing before it can go.{Next(reason)}{Rest(reason)}",
            ReasonCode.PastGap => "Only posts inside their gap were left; of those it was sent longest ago: last turn "
                + $"{Date(reason.LastTurn)}.{Rest(reason)}",
            ReasonCode.Picked => "Picked for this place.",
            ReasonCode.Booked => "Booked into this place.",
            ReasonCode.GivenCantGo =>
                $"The post given to this place can't go: {Why(reason.ExcludedBy ?? Rule.Fit)}. Rotation leaves the place to you.",
            ReasonCode.NoCandidate => reason.InCategory == 0
                ? "The category has no posts yet."
                : $"{Posts(reason.InCategory)} in the category: {List(reason)}.",
            ReasonCode.KeptFree => "Kept free for a post of your own.",
            ReasonCode.PostNotForChannel => $"The chosen post can't go here: {Why(reason.ExcludedBy ?? Rule.Fit)}.",
            ReasonCode.OneAccount => "This network takes a post from one account only; another account was used longer ago.",
            ReasonCode.TooClose => "Gives way: another delivery on this channel is nearer than its spacing.",
            ReasonCode.DayFull => "Gives way: the channel has its most deliveries for this day.",
            ReasonCode.ChannelPaused => "The channel is paused.",
            ReasonCode.ChannelDisconnected => "The channel is disconnected.",
            ReasonCode.SlotPaused => "The slot is paused.",
            ReasonCode.CategoryPaused => "The category is paused.",
            ReasonCode.WorkspacePaused => "All sending is stopped.",
            ReasonCode.Skipped => "Skipped by a person.",
            ReasonCode.Replaced => $"“{reason.Other}” replaces this rota.",
            ReasonCode.Scheduled => "Scheduled: only a person changes it now.",
            ReasonCode.TakenOut => "Taken out by a person.",
            ReasonCode.NoChannel => "None of the slot's channels is there any more.",
            ReasonCode.TookPlace => "Took this scheduled place.",
            ReasonCode.Exchanged => "Swapped with another by a person.",
            ReasonCode.Corrected => "Sent again, corrected: the one before was taken down.",
            ReasonCode.FoundOutside => $"Posted on {reason.Other} itself, and found there.",
            ReasonCode.PassedUnscheduled => "Its time passed before it was scheduled.",
            ReasonCode.Told => reason.Other ?? "",
            _ => throw new ArgumentOutOfRangeException(nameof(reason), reason.Code, "A reason without words."),
        };

    /// <summary>What a rule says against a post, to follow "it is" or a number of posts.</summary>
    public static string Why(Rule rule) =>
        rule switch
        {
            Rule.Category => "not in this category",
            Rule.Stage => "not ready",
            Rule.LeftOut => "left out of rotation",
            Rule.Lifespan => "outside its dates",
            Rule.ChannelChosen => "not meant for this channel",
            Rule.Fit => "not fit for the network",
            Rule.ChannelClosed => "kept out by a pause, a disconnected channel, spacing or a full day",
            Rule.Once => "sent once already",
            Rule.Gap => "inside the repeat gap",
            Rule.IdenticalText => "the same text too soon for the network",
            Rule.FailedDelivery => "failed and not dealt with",
            Rule.NextInLine => "behind it in line",
            Rule.Chosen => "chosen",
            _ => throw new ArgumentOutOfRangeException(nameof(rule), rule, "A rule without words."),
        };

    /// <summary>The first sentence.</summary>
    internal static string Brief(string words) =>
        words.IndexOf(". ", StringComparison.Ordinal) is >= 0 and var end ? words[..(end + 1)] : words;

    internal static string NoneCanGo(int posts) =>
        posts == 1 ? "The only post in the category can't go." : $"None of the {posts} posts in the category can go.";

    private static string Tried(Reason reason) =>
        reason.TriedFirst is null or [] ? "" : $"{string.Join(" and ", reason.TriedFirst)} had nothing to send. ";

    private static string Next(Reason reason) =>
        reason.NextTitle is null ? " Nothing else could have gone." : $" Next would be “{reason.NextTitle}”.";

    private static string Rest(Reason reason)
    {
        Reason passedOver = reason with { Counts = [.. (reason.Counts ?? []).Where(c => c.Rule is not (Rule.Chosen or Rule.NextInLine))] };
        return passedOver.Counts!.Count == 0 ? "" : $" Passed over, of {Posts(reason.InCategory)}: {List(passedOver)}.";
    }

    private static string List(Reason reason) =>
        string.Join(
            ", ",
            (reason.Counts ?? [])
                .Where(c => c.Posts > 0)
                .Select(c =>
                    $"{c.Posts} {Why(c.Rule)}"
                    + (c.Rule == Rule.Gap && reason.OpensOn is { } opens ? $" until {Date(opens)} at the earliest" : "")
                )
        );

    private static string Posts(int count) => count == 1 ? "1 post" : $"{count} posts";

    private static string Date(LocalDate? date) => date?.InWords() ?? "never";
}
