using System.Globalization;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>The rules a post must pass to be a candidate, in the order in which they are asked.</summary>
public enum Rule
{
    Category,
    Stage,
    LeftOut,
    Lifespan,
    ChannelChosen,
    Fit,
    ChannelClosed,
    Once,
    Gap,
    IdenticalText,
    FailedDelivery,

    /// <summary>A candidate that stood behind the chosen one.</summary>
    NextInLine,
    Chosen,
}

/// <summary>How many posts of the category ended at a rule.</summary>
public readonly record struct RuleCount(Rule Rule, int Posts);

public enum ReasonCode
{
    /// <summary>Never sent on this line; the latest added.</summary>
    NewestFirst,

    /// <summary>Never sent on this line, and new ones go first.</summary>
    NewOnesFirst,

    /// <summary>All others went out later.</summary>
    EarliestTurn,

    /// <summary>The next in the ring by date added.</summary>
    NextInRing,

    /// <summary>The next in this round.</summary>
    NextInRound,

    /// <summary>Its days since the last turn times its score are the most.</summary>
    LargestWeight,

    /// <summary>It was moved to the front, or a sending was missed or dismissed.</summary>
    Front,

    /// <summary>Every other candidate had a turn since it was moved to the back, or there is none.</summary>
    Back,

    /// <summary>Only posts inside their gap were left; the one sent longest ago.</summary>
    PastGap,

    /// <summary>A person fixed the post to this place.</summary>
    Picked,

    /// <summary>The post was booked into this place.</summary>
    Booked,

    /// <summary>The post that a person gave to this place can't go.</summary>
    GivenCantGo,

    /// <summary>No post can go.</summary>
    NoCandidate,

    /// <summary>A slot without a category.</summary>
    KeptFree,

    /// <summary>The chosen post can't go to this channel.</summary>
    PostNotForChannel,

    /// <summary>The network allows one account for an occurrence, and another was used longer ago.</summary>
    OneAccount,

    /// <summary>The channel would get two deliveries closer than its spacing.</summary>
    TooClose,

    /// <summary>The channel has its most deliveries for that day.</summary>
    DayFull,
    ChannelPaused,
    ChannelDisconnected,
    SlotPaused,
    CategoryPaused,
    WorkspacePaused,

    /// <summary>A person skipped the occurrence.</summary>
    Skipped,

    /// <summary>Another rota replaces this one.</summary>
    Replaced,

    /// <summary>Already a delivery; its reason was kept with it.</summary>
    Scheduled,

    /// <summary>A person took the delivery out.</summary>
    TakenOut,

    /// <summary>The slot's only channels are gone.</summary>
    NoChannel,
}

/// <summary>Why a post was taken, or why a place stays empty; put into words by <see cref="ReasonWords"/>.</summary>
/// <param name="InCategory">Posts with the category, ideas apart.</param>
/// <param name="Counts">Where each of them ended; the numbers add up to <paramref name="InCategory"/>.</param>
/// <param name="LastTurn">Local date of the chosen post's last turn.</param>
/// <param name="Next">Who would have been next.</param>
/// <param name="ExcludedBy">For one channel: the rule that kept the chosen post from it.</param>
public sealed record Reason(
    ReasonCode Code,
    int InCategory = 0,
    IReadOnlyList<RuleCount>? Counts = null,
    LocalDate? LastTurn = null,
    Id<Post>? Next = null,
    string? NextTitle = null,
    Rule? ExcludedBy = null
)
{
    /// <summary>Where posts wait for their gap: the first date on which one of them may go again.</summary>
    public LocalDate? OpensOn { get; init; }

    /// <summary>Categories whose turn came before, but which had nothing to send.</summary>
    public IReadOnlyList<string> TriedFirst { get; init; } = [];

    /// <summary>Round of the line; see <see cref="Order.Shuffled"/>.</summary>
    public int? Round { get; init; }

    /// <summary>Name of the rota that replaces it.</summary>
    public string? Other { get; init; }

    public string Words => ReasonWords.Of(this);

    /// <summary>The same in a short phrase, for lists.</summary>
    public string Brief =>
        this is { Code: ReasonCode.NoCandidate, InCategory: > 0 } ? ReasonWords.NoneCanGo(InCategory) : ReasonWords.Brief(Words);
}

/// <summary>The one place where reasons get their words.</summary>
public static class ReasonWords
{
    public static string Of(Reason reason) =>
        Tried(reason)
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

    /// <summary>What speaks against a place that a person gives.</summary>
    public static string Of(BookingWarning warning) =>
        (warning.Rule, warning.Closed) switch
        {
            (_, ReasonCode.TooClose) => "Nearer to another delivery than the channel's spacing.",
            (_, ReasonCode.DayFull) => "The channel has its most deliveries for that day already.",
            (Rule.Lifespan, _) => "Outside its dates.",
            (Rule.Once, _) => "It went out there already, and is to go once.",
            (Rule.Gap, _) => "Inside its repeat gap.",
            (Rule.IdenticalText, _) => "The same text too soon: the network will refuse it.",
            _ => throw new ArgumentOutOfRangeException(nameof(warning), warning, "A warning without words."),
        };

    /// <summary>The first sentence of a reason that was kept in words.</summary>
    public static string Brief(string words) =>
        words.IndexOf(". ", StringComparison.Ordinal) is >= 0 and var end ? words[..(end + 1)] : words;

    internal static string NoneCanGo(int posts) =>
        posts == 1 ? "The only post in the category can't go." : $"None of the {posts} posts in the category can go.";

    private static string Tried(Reason reason) =>
        reason.TriedFirst.Count == 0 ? "" : $"{string.Join(" and ", reason.TriedFirst)} had nothing to send. ";

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
