using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Comparison;
using AbleLark.Core.Media;
using AbleLark.Core.Posts;
using AbleLark.Core.Results;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Access;

namespace AbleLark.Server.Results;

/// <summary>What deliveries are put together by.</summary>
public enum ResultsBy
{
    Channel,
    Daypart,
    Post,

    /// <summary>Of posts that went out in more than one wording.</summary>
    Wording,
    Hashtag,

    /// <summary>Main and further categories alike, so that a delivery may stand under several.</summary>
    AnyCategory,
}

/// <summary>What deliveries that have something in common earned. Of channel, daypart, post, wording, hashtag and category, those are given
/// that they share.</summary>
/// <param name="Key">By which its deliveries are asked for.</param>
/// <param name="Name">In words.</param>
public sealed record GroupRow(string Key, string Name, int Posts, int Deliveries, int LeftOut, double Total, double? Rate, double? Median)
{
    public Id<Channel>? ChannelId { get; init; }
    public Daypart? Daypart { get; init; }
    public Id<Post>? PostId { get; init; }

    /// <summary>A picture of the post.</summary>
    public Id<MediaFile>? File { get; init; }

    /// <summary>Number of the wording: 0 the post's own.</summary>
    public int? Wording { get; init; }

    public string? Hashtag { get; init; }
    public Id<Category>? CategoryId { get; init; }

    /// <summary>What they earned to what such posts earn there then; null where nothing can be said.</summary>
    public BesideUsual? BesideUsual { get; init; }

    /// <summary>Of channels and dayparts: what going out there, or then, makes of a delivery, all else alike.</summary>
    public RatioRange? Makes { get; init; }
}

/// <summary>Which groups come first.</summary>
public enum GroupOrder
{
    /// <summary>Those that did best beside the usual.</summary>
    Best,

    /// <summary>Those that did worst. What nothing can be said of comes last in either.</summary>
    Worst,
}

/// <param name="Total">Groups that there are, of which these are some.</param>
public sealed record GroupRows(int Total, IReadOnlyList<GroupRow> Rows);

/// <summary>Results by whatever deliveries have in common.</summary>
public static class GroupEndpoints
{
    private const int MostRows = 500;

    public static void MapGroups(this RouteGroupBuilder workspace) => workspace.MapGet("/results/groups", ShowAsync).Needs(Right.Results);

    private static Task<GroupRows> ShowAsync(
        Id<Workspace> workspaceId,
        [AsParameters] ResultsQuery query,
        QueryWord<ResultsBy> by,
        QueryWord<GroupOrder>? order,
        int? skip,
        int? take,
        ResultsGroups groups,
        CancellationToken cancellation
    ) =>
        groups.OfAsync(
            workspaceId,
            query.Question(),
            by.Value,
            order?.Value ?? GroupOrder.Best,
            Math.Max(0, skip ?? 0),
            Math.Clamp(take ?? 100, 1, MostRows),
            cancellation
        );
}
