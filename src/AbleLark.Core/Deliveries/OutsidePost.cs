using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Figures;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>A post that somebody made on a channel's network itself, as it was found there.</summary>
public sealed class OutsidePost
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<OutsidePost> Id { get; init; }
    public required Id<Channel> ChannelId { get; init; }

    /// <summary>The network's identity for it.</summary>
    public required string RemoteId { get; init; }

    /// <summary>Its own address on the network; null: none that people may be sent to.</summary>
    public string? Address { get; init; }

    public required string Text { get; init; }
    public string? Link { get; init; }

    /// <summary>Kinds of its files, such as `image/png`.</summary>
    public IReadOnlyList<string> Media { get; init; } = [];

    /// <summary>Business time.</summary>
    public required Instant PostedAt { get; init; }

    /// <summary>What it had earned, in order of time; a delivery's from the moment that it counts as one.</summary>
    public List<FigureReading> Readings { get; set; } = [];

    /// <summary>When its figures are next read; null: no more, or as a delivery's.</summary>
    public Instant? NextReadingAt { get; set; }

    /// <summary>The delivery as which it counts in results; null: somebody has to say of which category it is.</summary>
    public Id<Delivery>? DeliveryId { get; set; }

    /// <summary>True: a person said that it needn't count in results.</summary>
    public bool LeftOut { get; set; }

    /// <summary>Keeps what it has earned by now.</summary>
    public void Read(FigureSet? figures, Instant now)
    {
        if (figures is not null && PostedAt < now)
            Readings = [.. Readings, new(now, figures)];
        NextReadingAt = ReadingTimes.Next(PostedAt, now);
    }

    /// <summary>A post of the bank that says the same: it has gone out, and stays out of rotation.</summary>
    public Post AsPost(Id<Category> category, Instant now) =>
        new()
        {
            WorkspaceId = WorkspaceId,
            Id = Id<Post>.New(),
            Title = PostTitle.Of(Text) is { Length: > 0 } title ? title : "Posted without words",
            CategoryId = category,
            Stage = Stage.Ready,
            Lifespan = Lifespan.Once,
            InRotation = false,
            AddedAt = now,
            Channels = [ChannelId],
            Content = new(Said),
        };

    /// <summary>Its delivery, as if it had gone out from here.</summary>
    /// <param name="post">Of which it is a turn.</param>
    /// <param name="network">The network's name.</param>
    /// <param name="zone">The workspace's.</param>
    public Delivery AsDelivery(Post post, Channel channel, string network, DateTimeZone zone)
    {
        PlannedTime time = PlannedTime.Of(PostedAt, zone);
        Delivery delivery = new()
        {
            WorkspaceId = WorkspaceId,
            Id = Id<Delivery>.New(),
            PostId = post.Id,
            ChannelId = ChannelId,
            Origin = new(OriginKind.Outside, Id.Value, time.Local.Date, time.Local.TimeOfDay),
            Time = time,
            State = DeliveryState.Sent,
            Why = new(ReasonCode.FoundOutside) { Other = network },
            Version = post.Version,
            Sent = new(Said),
            TextFingerprint = IdenticalText.Fingerprint(Text),
            SentAt = PostedAt,
            RemoteId = RemoteId,
            Address = Address,
            NextReadingAt = NextReadingAt,
        };
        delivery.Facts = SentFacts.Of(delivery, post, channel, PostedAt, zone);
        return delivery;
    }

    private FieldValues Said => Link is null ? Words : Words.With(ContentFields.Link, Link);

    private FieldValues Words => FieldValues.Empty.With(ContentFields.Text, Text);
}
