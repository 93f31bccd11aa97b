using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Planning;

/// <summary>What holds for a place from now on; nothing at all: the rotation fills it.</summary>
public sealed record PlaceDecision(Origin Place)
{
    public bool IsSkipped { get; init; }

    /// <summary>In the rota's zone; null: it stays.</summary>
    public LocalDateTime? MovedTo { get; init; }

    public string? Note { get; init; }
    public IReadOnlyList<GivenPost> Posts { get; init; } = [];

    /// <summary>What speaks against it.</summary>
    public IReadOnlyList<PlanRemark> Remarks { get; init; } = [];

    public static PlaceDecision Of(Origin place, Decision? decision) =>
        decision is null
            ? new(place)
            : new(place)
            {
                IsSkipped = decision.IsSkipped,
                MovedTo = decision.MovedTo,
                Note = decision.Note,
                Posts = decision.Posts,
            };

    /// <summary>Gives posts to channels, in place of what was given there before.</summary>
    public PlaceDecision With(IEnumerable<GivenPost> posts)
    {
        GivenPost[] given = [.. posts];
        return this with { Posts = [.. Posts.Where(old => given.All(g => g.ChannelId != old.ChannelId)), .. given] };
    }

    public PlaceDecision Picking(IEnumerable<(Id<Channel> Channel, Id<Post> Post)> posts) =>
        With(posts.Select(p => new GivenPost(p.Channel, p.Post, IsPicked: true)));

    /// <summary>Fixes the posts that it would send, on the channels that have none given; every other channel keeps what a person gave
    /// it.</summary>
    internal PlaceDecision PickingAsProjected(LineUpPlace place) =>
        Picking(
            place
                .Picks.Where(p => p.PostId is not null && Posts.All(g => g.ChannelId != p.ChannelId))
                .Select(p => (p.ChannelId, p.PostId!.Value))
        );

    /// <summary>Nothing is promised to a post on a channel any more; what a person picked stays.</summary>
    internal PlaceDecision WithoutBooking(Id<Post> post, Id<Channel> channel) =>
        this with
        {
            Posts = [.. Posts.Where(p => p.ChannelId != channel || p.PostId != post || p.IsPicked)],
        };
}
