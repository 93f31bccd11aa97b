using AbleLark.Core.Orders;
using NodaTime;

namespace AbleLark.Core.Rotation;

/// <summary>What an occurrence asks a set for.</summary>
/// <param name="CandidateSet">The line's posts for the slot's channels.</param>
/// <param name="Wanted">Channels still to be filled, by place in the slot.</param>
/// <param name="PastGap">True: posts inside their gap may go, though never twice on one date; the one sent longest ago first.</param>
/// <param name="Without">A post that may not go; -1: any may.</param>
/// <param name="AsSubstitute">True: only ready posts that are scheduled on none of the slot's channels may go.</param>
/// <param name="Filled">Channels that this occurrence has filled already, by place in the slot. They are open as they were before: a
/// post's place in the line is read there all the same.</param>
/// <param name="Gone">Posts that went to an account of this occurrence already, each with the other accounts that it is kept from: one
/// account only means one post for one account.</param>
internal readonly record struct Request(
    CandidateSet CandidateSet,
    OrderRule Rule,
    ChannelSet Wanted,
    Instant At,
    LocalDate Date,
    bool PastGap = false,
    int Without = -1,
    bool AsSubstitute = false,
    ChannelSet Filled = default,
    IReadOnlyList<(int Post, ChannelSet Places)>? Gone = null
)
{
    /// <summary>True for what is asked at every occurrence, so that answers hold for the next.</summary>
    public bool IsUsual => !PastGap && !AsSubstitute && Without < 0 && Gone is not { Count: > 0 };
}

/// <summary>Who goes, who would have been next, and where every other post of the line ended.</summary>
/// <param name="Post">Number of the chosen post; -1 when none can go.</param>
/// <param name="Passing">Channels that it can take now, by place in the slot.</param>
/// <param name="IsRings">True when the ring would have given it, whatever put it first.</param>
internal sealed record Choice(
    int Post,
    int Next,
    ChannelSet Passing,
    RankKey RankKey,
    int[] ExcludedBy,
    int Base,
    LocalDate? OpensOn,
    bool IsRings = false
)
{
    public bool IsEmpty => Post < 0;
}

/// <summary>Where a candidate stands: the lesser goes first.</summary>
/// <param name="tier">0 moved to the front, 1 new where new ones go first, 2 the order itself, 3 moved to the back.</param>
/// <param name="sub">1 for a post that has had its turn in the present round.</param>
/// <param name="within">The order's own figure; at the back, when it was moved there.</param>
/// <remarks>Kept small: tens of thousands are held in memory.</remarks>
internal readonly struct RankKey(int tier, int sub, long within, bool isNew, long lastTurn, int channel)
{
    private readonly byte _tier = (byte)tier;
    private readonly byte _sub = (byte)sub;
    private readonly short _channel = (short)channel;

    public long Within { get; } = within;
    public long LastTurn { get; } = lastTurn;
    public bool IsNew { get; } = isNew;
    public int Tier => _tier;
    public int Sub => _sub;
    public int Channel => _channel;

    /// <summary>Of several at the back the one that was moved there latest goes last, whatever the order.</summary>
    public RankKey AtTheBack(long movedAt) => new(Back, 0, movedAt, IsNew, LastTurn, Channel);

    public const int Front = 0;
    public const int New = 1;
    public const int InOrder = 2;
    public const int Back = 3;

    public int CompareTo(in RankKey other) =>
        Tier != other.Tier ? Tier.CompareTo(other.Tier)
        : Sub != other.Sub ? Sub.CompareTo(other.Sub)
        : Within.CompareTo(other.Within);
}

/// <summary>A post that can go, and where it stands.</summary>
/// <param name="Post">Its number; of two that are alike otherwise, the lower goes first.</param>
internal readonly record struct Candidate(int Post, ChannelSet Passing, RankKey RankKey)
{
    public static readonly Candidate None = new(-1, ChannelSet.None, default);

    public bool GoesBefore(in Candidate other)
    {
        int order = RankKey.CompareTo(other.RankKey);
        return order != 0 ? order < 0 : Post < other.Post;
    }
}
