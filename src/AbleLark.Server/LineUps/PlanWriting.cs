using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>What several acts on the line-up write; the caller saves.</summary>
internal static class PlanWriting
{
    /// <summary>The decision about an occurrence; null: there is none.</summary>
    public static Task<Decision?> DecisionAsync(this LarkDb db, Id<Workspace> workspace, Origin origin, CancellationToken cancellation) =>
        db.Decisions.SingleOrDefaultAsync(
            d =>
                d.WorkspaceId == workspace
                && d.OriginKind == origin.Kind
                && d.OriginId == origin.Id
                && d.OriginDate == origin.Date
                && d.OriginTime == origin.Time,
            cancellation
        );

    /// <summary>The decision about an occurrence, to be written on; a new one where there was none.</summary>
    public static async Task<Decision> OpenDecisionAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        Origin origin,
        CancellationToken cancellation
    )
    {
        Decision? decision =
            db.Decisions.Local.FirstOrDefault(d => d.WorkspaceId == workspace && d.Origin == origin)
            ?? await db.DecisionAsync(workspace, origin, cancellation);
        if (decision is null)
            db.Decisions.Add(
                decision = new()
                {
                    WorkspaceId = workspace,
                    Id = Id<Decision>.New(),
                    Origin = origin,
                }
            );
        return decision;
    }

    /// <summary>Fixes the posts that a place would send, on the channels that have none given; every other channel keeps what a person
    /// gave it.</summary>
    public static void PickAsProjected(this Decision decision, LineUpPlace place) =>
        decision.Pick(
            place
                .Picks.Where(p => p.PostId is not null && decision.Posts.All(g => g.ChannelId != p.ChannelId))
                .Select(p => (p.ChannelId, p.PostId!.Value))
        );

    /// <summary>Fixes posts on their channels, in place of what was given there before.</summary>
    public static void Pick(this Decision decision, IEnumerable<(Id<Channel> Channel, Id<Post> Post)> posts)
    {
        List<GivenPost> given = [.. posts.Select(p => new GivenPost(p.Channel, p.Post, IsPicked: true))];
        decision.Posts = [.. decision.Posts.Where(old => given.All(g => g.ChannelId != old.ChannelId)), .. given];
    }

    /// <summary>Moves a post to the front or the back of its lines on some channels, or, with no side, back into the order.</summary>
    public static async Task MoveInLinesAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        Id<Post> post,
        IReadOnlyList<Id<Channel>> channels,
        Side? side,
        Instant now,
        CancellationToken cancellation
    )
    {
        db.LineMoves.RemoveRange(
            await db
                .LineMoves.Where(m => m.WorkspaceId == workspace && m.PostId == post && channels.Contains(m.ChannelId))
                .ToListAsync(cancellation)
        );
        if (side is { } to)
            db.LineMoves.AddRange(
                channels.Select(c => new LineMove
                {
                    WorkspaceId = workspace,
                    Id = Id<LineMove>.New(),
                    PostId = post,
                    ChannelId = c,
                    Side = to,
                    At = now,
                })
            );
    }
}
