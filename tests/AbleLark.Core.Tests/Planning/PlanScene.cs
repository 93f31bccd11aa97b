using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Tests.Planning;

/// <summary>A small plan to act on.</summary>
internal sealed class PlanScene
{
    public static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private static readonly Id<Category> Category = Id<Category>.New();
    private readonly List<Channel> _channels = [];
    private readonly List<Post> _posts = [];

    public PlanScene(LocalDateTime now) => Now = now.InZoneLeniently(Dublin).ToInstant();

    public Instant Now { get; }

    public Workspace Workspace { get; } =
        new()
        {
            Id = Id<Workspace>.New(),
            Slug = "plan",
            Name = "Plan",
            Zone = Dublin,
        };

    /// <summary>Networks that mind the same text.</summary>
    public Dictionary<string, int> IdenticalTextDays { get; } = [];

    public List<Delivery> Deliveries { get; } = [];

    public Channel Channel(string name = "Harbour", ConnectionState connection = ConnectionState.Connected)
    {
        Channel channel = new()
        {
            WorkspaceId = Workspace.Id,
            Id = Id<Channel>.New(),
            Network = "jot",
            Account = name,
            Name = name,
            Handle = name,
            Connection = connection,
        };
        _channels.Add(channel);
        return channel;
    }

    public Post Post(string title = "Boats", Stage stage = Stage.Ready, int? gapDays = null, string text = "words")
    {
        Post post = new()
        {
            WorkspaceId = Workspace.Id,
            Id = Id<Post>.New(),
            Title = title,
            CategoryId = Category,
            Stage = stage,
            GapDays = gapDays,
            Fits = _channels.ToDictionary(c => c.FitKey, _ => new Fit([], text)),
        };
        _posts.Add(post);
        return post;
    }

    public Delivery At(Post post, Channel channel, LocalDateTime local, DeliveryState state = DeliveryState.Planned) =>
        Add(Delivery.AtExactTime(Workspace, post.Id, channel.Id, local.InZoneLeniently(Dublin).ToInstant(), state: state));

    /// <summary>One of a place that waits, and what goes out instead of it.</summary>
    public (Delivery Waiter, Delivery Substitute) Waiting(Post post, Post instead, Channel channel, LocalDateTime local)
    {
        Origin place = Origin.Place(Id<Slot>.New(), local.Date);
        return (
            OfPlace(place, post, channel, local, DeliveryState.WaitingForApproval),
            OfPlace(place, instead, channel, local, DeliveryState.Substitute)
        );
    }

    public Delivery OfPlace(Origin place, Post post, Channel channel, LocalDateTime local, DeliveryState state) =>
        Add(
            new()
            {
                WorkspaceId = Workspace.Id,
                Id = Id<Delivery>.New(),
                PostId = post.Id,
                ChannelId = channel.Id,
                Time = PlannedTime.Of(local.InZoneLeniently(Dublin).ToInstant(), Dublin),
                Origin = place,
                State = state,
            }
        );

    private Delivery Add(Delivery delivery)
    {
        Deliveries.Add(delivery);
        return delivery;
    }

    /// <summary>As whoever keeps deliveries would read it.</summary>
    public PlanSnapshot Snapshot() =>
        new()
        {
            Workspace = Workspace,
            Now = Now,
            Channels = _channels.ToDictionary(c => c.Id),
            Posts = _posts.ToDictionary(p => p.Id),
            Gaps = new Dictionary<Id<Category>, int?>(),
            Substitutes = Deliveries
                .Where(d => d is { State: DeliveryState.Substitute, OriginKind: OriginKind.Place })
                .ToLookup(d => (d.Origin, d.ChannelId)),
            Others =
            [
                .. Deliveries
                    .Where(d => d.State is not (DeliveryState.Cancelled or DeliveryState.Missed or DeliveryState.Refused))
                    .Select(d => new Neighbour(d.Id, d.PostId, d.ChannelId, d.At, d.State == DeliveryState.Substitute, TextOf(d))),
            ],
            IdenticalTextDays = IdenticalTextDays,
        };

    private string? TextOf(Delivery delivery)
    {
        Channel channel = _channels.Single(c => c.Id == delivery.ChannelId);
        return IdenticalTextDays.ContainsKey(channel.Network)
            ? _posts.Single(p => p.Id == delivery.PostId).FitOn(channel)!.FingerprintOf(delivery.Wording)
            : null;
    }

    public PlanChange Look(PlanAct act) => PlanDoor.Of(Snapshot(), act);

    public PlanChange Do(PlanAct act)
    {
        PlanChange change = Look(act);
        change.Apply();
        Deliveries.AddRange(change.Added.Select(a => a.Delivery));
        return change;
    }
}
