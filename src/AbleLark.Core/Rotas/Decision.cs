using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Rotas;

/// <summary>What a person decided about one occurrence. It outlasts changes of the slot's time. It is changed as what
/// comes of an act on the plan, and by nothing else.</summary>
public sealed class Decision : HasOrigin
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public Id<Decision> Id { get; init; }

    /// <summary>Another one with each change: whoever decides says which they saw. Nought, where nothing is decided yet, is never one of
    /// them.</summary>
    public int Revision { get; init; }

    private bool _isSkipped;
    private LocalDateTime? _movedTo;
    private string? _note;
    private IReadOnlyList<GivenPost> _posts = [];

    public bool IsSkipped
    {
        get => _isSkipped;
        init => _isSkipped = value;
    }

    /// <summary>Where it was moved to, in the rota's zone; null: it stays.</summary>
    public LocalDateTime? MovedTo
    {
        get => _movedTo;
        init => _movedTo = value;
    }

    public string? Note
    {
        get => _note;
        init => _note = value;
    }

    /// <summary>Posts given to it by hand, by channel; rotation doesn't touch these.</summary>
    public IReadOnlyList<GivenPost> Posts
    {
        get => _posts;
        init => _posts = [.. value];
    }

    public bool IsEmpty => !IsSkipped && MovedTo is null && string.IsNullOrEmpty(Note) && Posts.Count == 0;

    internal void Be(bool isSkipped, LocalDateTime? movedTo, string? note, IReadOnlyList<GivenPost> posts) =>
        (_isSkipped, _movedTo, _note, _posts) = (isSkipped, movedTo, note, [.. posts]);
}

/// <param name="IsPicked">True: nothing but a person changes it. False: a booking, which a later one may move on.</param>
public sealed record GivenPost(Id<Channel> ChannelId, Id<Post> PostId, bool IsPicked);
