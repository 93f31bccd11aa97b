using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Findings;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Pauses;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>Builds a small workspace for the line-up: add what a test needs, then project.</summary>
internal sealed class Scene
{
    /// <summary>Keeps a wording out.</summary>
    public static readonly Finding TooLong = new(FindingCode.TextTooLong, Severity.Blocks, "text", "300", "280", "Jot", "20");

    public static readonly LocalDate Monday = new(2026, 3, 2);
    private int _ids;
    private readonly List<Category> _categories = [];
    private readonly List<Channel> _channels = [];
    private readonly List<Post> _bank = [];
    private readonly List<Delivery> _deliveries = [];
    private readonly Rota _rota;

    public Scene(string zone = "Europe/Dublin")
    {
        Zone = DateTimeZoneProviders.Tzdb[zone];
        Workspace = new()
        {
            Id = NewId<Workspace>(),
            Slug = "scene",
            Name = "Scene",
            Zone = Zone,
        };
        _rota = new()
        {
            WorkspaceId = Workspace.Id,
            Id = NewId<Rota>(),
            Name = "The week",
            Zone = Zone,
        };
    }

    /// <summary>Identities in order: a draw depends on them, and a failure must come again.</summary>
    private Id<T> NewId<T>() => new(new Guid(++_ids, 0, 0, [0, 0, 0, 0, 0, 0, 0, 1]));

    public DateTimeZone Zone { get; }

    /// <summary>Start of the first Monday, local time.</summary>
    public Instant Now => At(Monday, LocalTime.Midnight);

    public IReadOnlyList<Post> Bank => _bank;

    public Instant At(LocalDate date, LocalTime time) => Occurrences.InstantOf(date, time, Zone)!.Value;

    public List<Rota> Rotas { get; } = [];
    public List<Decision> Decisions { get; } = [];
    public List<Pause> Pauses { get; } = [];
    public List<LineMove> Moves { get; } = [];
    public List<(Id<Channel>, Instant)> Outside { get; } = [];
    public Dictionary<(Id<Post>, Id<Channel>), double> Scores { get; } = [];

    public Rota Rota => _rota;

    public IReadOnlyList<Delivery> Deliveries => _deliveries;

    public Rota AnotherRota(LocalDate? from = null, LocalDate? to = null, Rota? replaces = null)
    {
        Rota rota = new()
        {
            WorkspaceId = Workspace.Id,
            Id = NewId<Rota>(),
            Name = $"Rota {Rotas.Count}",
            Zone = Zone,
            From = from,
            To = to,
            Replaces = replaces?.Id,
            Rank = Rotas.Count + 1,
        };
        Rotas.Add(rota);
        return rota;
    }

    public Decision Decide(Slot slot, LocalDate date, Action<Decided> what)
    {
        Decided decided = new();
        what(decided);
        Decision decision = decided.About(Workspace.Id, Origin.Place(slot.Id, date));
        Decisions.Add(decision);
        return decision;
    }

    public void Rest(Paused what, Guid target, LocalDate from, LocalDate? to = null) =>
        Pauses.Add(
            new()
            {
                WorkspaceId = Workspace.Id,
                Id = NewId<Pause>(),
                What = what,
                Target = target,
                From = from,
                To = to,
            }
        );

    public void Move(Post post, Channel channel, Side side, Instant? at = null) =>
        Moves.Add(
            new()
            {
                WorkspaceId = Workspace.Id,
                PostId = post.Id,
                ChannelId = channel.Id,
                Side = side,
                At = at ?? Now,
            }
        );

    public Channel Channel(string network)
    {
        Channel channel = new()
        {
            WorkspaceId = Workspace.Id,
            Id = NewId<Channel>(),
            Network = network,
            Account = $"{network}-{_channels.Count}",
            Name = $"{network} {_channels.Count}",
            Handle = "h",
            Position = _channels.Count,
        };
        _channels.Add(channel);
        return channel;
    }

    public Category Category(params Channel[] usual)
    {
        Category category = new()
        {
            WorkspaceId = Workspace.Id,
            Id = NewId<Category>(),
            Name = $"Category {_categories.Count}",
            Colour = "tide",
            Monogram = "Ca",
            UsualChannels = [.. usual.Select(c => c.Id)],
        };
        _categories.Add(category);
        return category;
    }

    public Slot Slot(Category? category, LocalTime time, IEnumerable<IsoDayOfWeek> days, params Channel[] channels) =>
        SlotIn(_rota, category, time, days, channels);

    public Slot SlotIn(Rota rota, Category? category, LocalTime time, IEnumerable<IsoDayOfWeek> days, params Channel[] channels)
    {
        Slot slot = new()
        {
            WorkspaceId = Workspace.Id,
            Id = NewId<Slot>(),
            RotaId = rota.Id,
            Days = [.. days],
            Time = time,
            Source = category is null ? SlotSource.None : new([category.Id]),
            Channels = [.. channels.Select(c => c.Id)],
            Position = rota.Slots.Count,
        };
        rota.Slots.Add(slot);
        return slot;
    }

    /// <summary>A ready, evergreen post, fit for every network, with a text of its own; each one added a minute after the one
    /// before.</summary>
    public Post Post(Category category, Action<Post>? but = null)
    {
        Post post = new()
        {
            WorkspaceId = Workspace.Id,
            Id = NewId<Post>(),
            Title = $"Post {_bank.Count}",
            CategoryId = category.Id,
            Stage = Stage.Ready,
            AddedAt = Now - Duration.FromDays(100) + Duration.FromMinutes(_bank.Count),
            Fits = Repository.Networks.All.ToDictionary(n => n.Key, _ => new Fit([], $"print {_bank.Count}")),
        };
        but?.Invoke(post);
        _bank.Add(post);
        return post;
    }

    public Delivery Delivery(
        Post post,
        Channel channel,
        Instant at,
        DeliveryState state,
        Slot? slot = null,
        bool dealtWith = false,
        DrawnBy? given = null,
        LocalDate? slotDate = null,
        int wording = 0
    )
    {
        LocalDateTime local = at.InZone(Zone).LocalDateTime;
        Delivery delivery = new()
        {
            WorkspaceId = Workspace.Id,
            Id = NewId<Delivery>(),
            PostId = post.Id,
            ChannelId = channel.Id,
            Time = PlannedTime.Of(at, Zone),
            State = state,
            Origin = slot is null ? Origin.ExactTime(post.Id, local) : Origin.Place(slot.Id, slotDate ?? local.Date),
            DealtWith = dealtWith,
            DrawnBy = given?.Line,
            DrawnInOrder = given?.Order,
            Round = given?.Round,
            Wording = wording,
        };
        _deliveries.Add(delivery);
        return delivery;
    }

    public Workspace Workspace { get; }

    /// <summary>Turns places into deliveries, as the application does.</summary>
    public void Schedule(IEnumerable<LineUpPlace> places) => _deliveries.AddRange(SchedulePlan.DeliveriesOf(Workspace, places));

    public NetworkBook Networks { get; set; } = Repository.Networks;

    public LineUpInput Input() =>
        new(
            Zone,
            [_rota, .. Rotas],
            _categories,
            _channels,
            [.. _bank.Select(LineUpPost.Of)],
            [.. _deliveries.Select(LineUpDelivery.Of)],
            Networks
        )
        {
            Decisions = Decisions,
            Pauses = Pauses,
            Moves = Moves,
            Scores = Scores,
            Outside = Outside,
        };

    public IReadOnlyList<LineUpPlace> Project(int days = 7) => LineUp.Project(Input(), Now, At(Monday.PlusDays(days), LocalTime.Midnight));

    public Post? PostIn(LineUpPlace place) =>
        place.Picks.Select(p => p.PostId).OfType<Id<Post>>().Select(id => _bank.Single(p => p.Id == id)).FirstOrDefault();

    /// <summary>Titles in order; a dash for an empty place.</summary>
    public string[] Titles(int days = 7) => [.. Project(days).Select(p => PostIn(p)?.Title ?? "–")];

    /// <summary>It goes out.</summary>
    public static void Send(Delivery delivery)
    {
        delivery.Become(DeliveryState.Sending);
        delivery.Become(DeliveryState.Sent);
    }

    /// <summary>As if it had never been.</summary>
    public void Forget(Delivery delivery) => _deliveries.Remove(delivery);
}
