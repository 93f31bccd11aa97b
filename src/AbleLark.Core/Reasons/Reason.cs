using System.Text.Json.Serialization;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Reasons;

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

    /// <summary>A person gave a scheduled place to this post.</summary>
    TookPlace,

    /// <summary>A person exchanged it with another.</summary>
    Exchanged,

    /// <summary>A person sent it again, corrected, after the one before was taken down.</summary>
    Corrected,

    /// <summary>It was posted on the network itself, and found there.</summary>
    FoundOutside,

    /// <summary>The place passed before it was scheduled.</summary>
    PassedUnscheduled,

    /// <summary>Kept in words, before reasons were kept by code.</summary>
    Told,
}

/// <summary>Why a post was taken, or why a place stays empty, as it is kept with a delivery or a passed place; put into words by
/// <see cref="ReasonWords"/>.</summary>
/// <param name="InCategory">Posts with the category, ideas apart.</param>
/// <param name="Counts">Where each of them ended; the numbers add up to <paramref name="InCategory"/>.</param>
/// <param name="LastTurn">Local date of the chosen post's last turn.</param>
/// <param name="Next">Who would have been next.</param>
/// <param name="ExcludedBy">For one channel: the rule that kept the chosen post from it.</param>
public sealed record Reason(
    ReasonCode Code,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)] int InCategory = 0,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] IReadOnlyList<RuleCount>? Counts = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] LocalDate? LastTurn = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] Id<Post>? Next = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string? NextTitle = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] Rule? ExcludedBy = null
)
{
    /// <summary>Where posts wait for their gap: the first date on which one of them may go again.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public LocalDate? OpensOn { get; init; }

    /// <summary>Categories whose turn came before, but which had nothing to send.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<string>? TriedFirst { get; init; }

    /// <summary>Round of the line; see <see cref="Order.Shuffled"/>.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? Round { get; init; }

    /// <summary>Name of the rota that replaces it, or of the network on which it was found; what was kept in words.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Other { get; init; }

    /// <summary>True: it goes out only if the post before it has no approval in time.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool AsSubstitute { get; init; }

    [JsonIgnore]
    public string Words => ReasonWords.Of(this);

    /// <summary>The same in a short phrase, for lists.</summary>
    [JsonIgnore]
    public string Brief =>
        this is { Code: ReasonCode.NoCandidate, InCategory: > 0 } ? ReasonWords.NoneCanGo(InCategory) : ReasonWords.Brief(Words);
}
