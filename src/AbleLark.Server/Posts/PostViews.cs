using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Findings;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Text;
using AbleLark.Server.Media;
using NodaTime;

namespace AbleLark.Server.Posts;

/// <param name="Blocked">Networks that it goes to and that can't take it, each with what keeps it out.</param>
/// <param name="SentBack">What was asked for when it was sent back.</param>
/// <param name="LastSent">When it last went out on any channel.</param>
/// <param name="NextPlanned">The next scheduled or exact time.</param>
public sealed record PostLine(
    Id<Post> Id,
    string Title,
    Id<Category> CategoryId,
    Stage Stage,
    Lifespan Lifespan,
    bool InRotation,
    string Excerpt,
    Guid? PictureId,
    Instant? AddedAt,
    IReadOnlyDictionary<string, string> Blocked,
    int TimesSent,
    Instant? LastSent,
    Instant? NextPlanned,
    string? SentBack,
    int Version
);

/// <param name="Total">All posts that match, of which these are the first.</param>
public sealed record PostList(int Total, IReadOnlyList<PostLine> Posts);

/// <param name="Version">Give it back in If-Match when you save.</param>
/// <param name="OutsideId">What it is called in the sheet that it came from.</param>
public sealed record PostView(
    Id<Post> Id,
    int Version,
    string Title,
    Id<Category> CategoryId,
    Stage Stage,
    Lifespan Lifespan,
    bool InRotation,
    IReadOnlyList<Id<Channel>>? Channels,
    PostContent Content,
    IReadOnlyList<MediaView> Pictures,
    IReadOnlyList<NetworkCheck> Checks,
    IReadOnlyList<PostDelivery> Deliveries,
    Instant? AddedAt,
    IReadOnlyList<Id<Category>> FurtherCategories,
    LocalDate? From,
    LocalDate? To,
    int? GapDays,
    string? SentBack,
    string Notes,
    string? OutsideId
);

/// <param name="Note">What is asked for.</param>
public sealed record SendBackRequest([MostCharacters(500, "The note")] string Note);

/// <param name="Channels">Null takes the category's usual channels.</param>
/// <param name="Notes">For whoever plans and writes, never sent; null: they stay as they are.</param>
public sealed record PostEdit(
    [MostCharacters(NamedAttribute.Longest, "The title")] string Title,
    Id<Category> CategoryId,
    Stage Stage,
    Lifespan Lifespan,
    bool InRotation,
    IReadOnlyList<Id<Channel>>? Channels,
    PostContent Content,
    IReadOnlyList<Id<Category>>? FurtherCategories = null,
    LocalDate? From = null,
    LocalDate? To = null,
    [Range(1, 730, ErrorMessage = "A repeat gap lies between 1 and 730 days.")] int? GapDays = null,
    [MostCharacters(5_000, "The notes")] string? Notes = null
);

/// <summary>How the content stands with one network, or one channel.</summary>
/// <param name="ChannelId">The channel, where it has content of its own; null: the network.</param>
/// <param name="Content">What would be sent.</param>
/// <param name="ByPerson">The network takes it from a person only.</param>
/// <param name="WordingBlocks">For each wording, what keeps it from this network; null: it can go.</param>
/// <param name="Approved">True: every wording has approval here. False: some of it waits. Null: none is needed.</param>
/// <param name="OverflowAt">Place in its text, in UTF-16 units, where the limit falls.</param>
/// <param name="ThreadUnits">Length of each further part of its thread, counted as the text is.</param>
public sealed record NetworkCheck(
    string Network,
    Id<Channel>? ChannelId,
    bool Fits,
    int Units,
    int Limit,
    int? OverflowAt,
    FieldValues Content,
    bool ByPerson,
    IReadOnlyList<TextPart> Parts,
    IReadOnlyList<FindingView> Findings,
    IReadOnlyList<string?> WordingBlocks,
    bool? Approved,
    IReadOnlyList<int> ThreadUnits
);

/// <param name="Networks">Which ones it is to fit.</param>
/// <param name="Channel">One of a single network's channels, where it has content of its own; null: the network.</param>
/// <param name="Only">The one thing that is to be done; null: whatever is needed.</param>
public sealed record FitRequest(
    PostContent Content,
    [MaxLength(50, ErrorMessage = "Name each network once.")] IReadOnlyList<string> Networks,
    Id<Channel>? Channel = null,
    Fix? Only = null
);

/// <param name="Network">For which it was done.</param>
public sealed record FixView(string Network, FixDone Did);

/// <param name="Content">What fits, as far as it can be mended without asking.</param>
/// <param name="Done">In the order in which it was done; empty: nothing was needed, or nothing could be.</param>
public sealed record FittedView(PostContent Content, IReadOnlyList<FixView> Done);

/// <param name="Fixes">How it can be mended without asking, the first first; empty: a person has to.</param>
/// <param name="Item">Which of several it is about, from 0: a picture, a part of a thread; null: all.</param>
/// <param name="Spans">Where in the field's text: as it is sent, but for mentions as it is written. Null: nowhere in particular.</param>
public sealed record FindingView(
    FindingCode Code,
    bool Blocks,
    string Field,
    string Words,
    IReadOnlyList<Fix> Fixes,
    int? Item,
    IReadOnlyList<TextSpan>? Spans
)
{
    public static FindingView Of(Finding f, NetworkRules? rules = null) =>
        new(f.Code, f.Blocks, f.Field, f.Words, rules is null ? [] : Fitting.FixesOf(f.Code, rules), f.Item, f.Spans);
}

public sealed record PostDelivery(
    Id<Delivery> Id,
    Id<Channel> ChannelId,
    Instant At,
    LocalDate Date,
    LocalTime Time,
    DeliveryState State,
    OriginKind Origin,
    string? Trouble,
    string? Address
);

/// <summary>An exact time for a post, in the workspace's zone.</summary>
/// <param name="Date">Null, together with the time: now.</param>
/// <param name="Channels">Empty takes the post's own channels that can take it.</param>
/// <param name="KeyDateId">A key date that they stand relative to, and move with; null: none.</param>
/// <param name="Occurrence">Which coming of it.</param>
public sealed record PlanRequest(
    LocalDate? Date,
    LocalTime? Time,
    IReadOnlyList<Id<Channel>>? Channels,
    Id<KeyDate>? KeyDateId = null,
    LocalDate? Occurrence = null
);

/// <param name="LeftOut">Channels that can't take the post, and why.</param>
public sealed record PlanResult(IReadOnlyList<PostDelivery> Planned, IReadOnlyList<string> LeftOut, Guid ChangeSetId);
