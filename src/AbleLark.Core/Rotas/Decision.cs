using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Rotas;

/// <summary>What a person decided about one occurrence. It outlasts changes of the slot's time.</summary>
public sealed class Decision : HasOrigin
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public Id<Decision> Id { get; init; }

    /// <summary>Another one with each change: whoever decides says which they saw. Nought, where nothing is decided yet, is never one of
    /// them.</summary>
    public int Revision { get; set; }

    public bool IsSkipped { get; set; }

    /// <summary>Where it was moved to, in the rota's zone; null: it stays.</summary>
    public LocalDateTime? MovedTo { get; set; }

    public string? Note { get; set; }

    /// <summary>Posts given to it by hand, by channel; rotation doesn't touch these.</summary>
    public List<GivenPost> Posts { get; set; } = [];

    /// <summary>The same decision about another occurrence.</summary>
    public Decision For(Origin origin) =>
        new()
        {
            WorkspaceId = WorkspaceId,
            Id = Id<Decision>.New(),
            Origin = origin,
            IsSkipped = IsSkipped,
            MovedTo = MovedTo,
            Note = Note,
            Posts = Posts,
        };

    public bool IsEmpty => !IsSkipped && MovedTo is null && string.IsNullOrEmpty(Note) && Posts.Count == 0;
}

/// <param name="IsPicked">True: nothing but a person changes it. False: a booking, which a later one may move on.</param>
public sealed record GivenPost(Id<Channel> ChannelId, Id<Post> PostId, bool IsPicked);
