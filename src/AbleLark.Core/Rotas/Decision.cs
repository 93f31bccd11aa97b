using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Rotas;

/// <summary>What a person decided about one occurrence. It sticks to slot and original date, whatever becomes of the slot's time.</summary>
public sealed class Decision
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public Id<Decision> Id { get; init; }
    public required Id<Slot> SlotId { get; init; }

    /// <summary>The occurrence's original local date, in the rota's zone.</summary>
    public required LocalDate Date { get; init; }

    public bool IsSkipped { get; set; }

    /// <summary>Where it was moved to, in the rota's zone; null: it stays.</summary>
    public LocalDateTime? MovedTo { get; set; }

    public string? Note { get; set; }

    /// <summary>Posts given to it by hand, by channel; rotation doesn't touch these.</summary>
    public List<GivenPost> Posts { get; set; } = [];

    public OccurrenceKey Key => new(SlotId, Date);

    public bool IsEmpty => !IsSkipped && MovedTo is null && string.IsNullOrEmpty(Note) && Posts.Count == 0;
}

/// <param name="IsPicked">True: nothing but a person changes it. False: a booking, which a later one may move on.</param>
public sealed record GivenPost(Id<Channel> ChannelId, Id<Post> PostId, bool IsPicked);
