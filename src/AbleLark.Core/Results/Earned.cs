using AbleLark.Core.Channels;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Results;

/// <summary>What one delivery had earned at seven days.</summary>
/// <param name="Engagements">Null: missing, and so left out.</param>
public sealed record Earned(Id<Post> PostId, Id<Channel> ChannelId, Instant SentAt, double? Engagements);
