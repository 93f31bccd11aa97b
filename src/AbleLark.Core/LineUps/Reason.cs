using System.Globalization;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>The rules a post must pass to be a candidate, in the order in which they are asked.</summary>
public enum Rule
{
    Stage,
    LeftOut,
    ChannelChosen,
    Fit,
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
    /// <summary>All others went out later.</summary>
    EarliestTurn,
    /// <summary>A sending was missed or dismissed, so it goes first.</summary>
    Front,
    /// <summary>No post can go.</summary>
    NoCandidate,
    /// <summary>A slot without a category.</summary>
    KeptFree,
    /// <summary>The chosen post can't go to this channel.</summary>
    PostNotForChannel,
    /// <summary>The network allows one account for an occurrence, and another rested longer.</summary>
    OneAccount,
    /// <summary>Already a delivery; its reason was kept with it.</summary>
    Settled,
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
/// <param name="Struck">For one channel: the rule that kept the chosen post from it.</param>
public sealed record Reason(
    ReasonCode Code, int InCategory = 0, IReadOnlyList<RuleCount>? Counts = null,
    LocalDate? LastTurn = null, Id<Post>? Next = null, string? NextTitle = null, Rule? Struck = null)
{
    public string Words => ReasonWords.Of(this);
}

/// <summary>The one place where reasons get their words.</summary>
public static class ReasonWords
{
    public static string Of(Reason reason) => reason.Code switch
    {
        ReasonCode.NewestFirst => $"Never sent here, and the latest added of those.{Next(reason)}{Rest(reason)}",
        ReasonCode.EarliestTurn => $"Rested longest: last turn {Date(reason.LastTurn)}.{Next(reason)}{Rest(reason)}",
        ReasonCode.Front => $"Its last place was missed or dismissed, so it goes first.{Next(reason)}{Rest(reason)}",
        ReasonCode.NoCandidate => reason.InCategory == 0
            ? "The category has no posts yet."
            : $"{Posts(reason.InCategory)} in the category: {List(reason.Counts ?? [])}.",
        ReasonCode.KeptFree => "Kept free for a post of your own.",
        ReasonCode.PostNotForChannel => $"The chosen post can't go here: {Why(reason.Struck ?? Rule.Fit)}.",
        ReasonCode.OneAccount => "This network takes a post from one account only; another account has rested longer.",
        ReasonCode.Settled => "Settled: only a person changes it now.",
        ReasonCode.TakenOut => "Taken out by hand.",
        ReasonCode.NoChannel => "None of the slot's channels is there any more.",
        _ => throw new ArgumentOutOfRangeException(nameof(reason), reason.Code, "A reason without words."),
    };

    private static string Next(Reason reason) => reason.NextTitle is null ? " Nothing else could have gone." : $" Next would be “{reason.NextTitle}”.";

    private static string Rest(Reason reason)
    {
        RuleCount[] passedOver = [.. (reason.Counts ?? []).Where(c => c.Rule is not (Rule.Chosen or Rule.NextInLine))];
        return passedOver.Length == 0 ? "" : $" Passed over, of {Posts(reason.InCategory)}: {List(passedOver)}.";
    }

    private static string List(IReadOnlyList<RuleCount> counts) =>
        string.Join(", ", counts.Where(c => c.Posts > 0).Select(c => $"{c.Posts} {Why(c.Rule)}"));

    private static string Why(Rule rule) => rule switch
    {
        Rule.Stage => "not ready",
        Rule.LeftOut => "left out of rotation",
        Rule.ChannelChosen => "not meant for this channel",
        Rule.Fit => "not fit for the network",
        Rule.Once => "already sent once",
        Rule.Gap => "already out that day",
        Rule.IdenticalText => "with the same text too soon for the network",
        Rule.FailedDelivery => "waiting after a failed sending",
        Rule.NextInLine => "next in line",
        _ => "chosen",
    };

    private static string Posts(int n) => n == 1 ? "1 post" : $"{n} posts";

    private static string Date(LocalDate? date) => date?.ToString("d MMM yyyy", CultureInfo.InvariantCulture) ?? "never";
}
