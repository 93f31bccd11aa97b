using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Findings;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Bench;

/// <summary>Workspaces of invented data; the usual one has 8 channels, 6 categories, 60 slots a week, 2,000 posts, a year of
/// deliveries.</summary>
internal static class Usual
{
    private static readonly DateTimeZone Zone = DateTimeZoneProviders.Tzdb["Europe/Dublin"];

    public static Instant Start { get; } = Instant.FromUtc(2026, 3, 2, 0, 0);

    /// <summary>A workspace of this size; each slot goes to two channels on one weekday.</summary>
    public static LineUpInput Workspace(
        string root,
        int slots = 60,
        int bank = 2000,
        int channelCount = 8,
        int categoryCount = 6,
        int deliveries = 3000
    )
    {
        NetworkBook networks = new([
            .. Directory.GetFiles(Path.Combine(root, "networks"), "*.json").Select(f => NetworkRules.Parse(File.ReadAllText(f))),
        ]);
        Random chance = new(1);
        Id<Workspace> id = Id<Workspace>.New();
        string[] keys = [.. networks.All.Select(n => n.Key)];
        Channel[] channels =
        [
            .. Enumerable
                .Range(0, channelCount)
                .Select(i => new Channel
                {
                    WorkspaceId = id,
                    Id = Id<Channel>.New(),
                    Network = keys[i % keys.Length],
                    Account = $"a{i}",
                    Name = $"Channel {i}",
                    Handle = $"a{i}",
                    Position = i,
                }),
        ];
        Category[] categories =
        [
            .. Enumerable
                .Range(0, categoryCount)
                .Select(i => new Category
                {
                    WorkspaceId = id,
                    Id = Id<Category>.New(),
                    Name = $"Category {i}",
                    Colour = "tide",
                    Monogram = "Ca",
                    UsualChannels = [.. channels.Select(c => c.Id)],
                }),
        ];
        Rota rota = new()
        {
            WorkspaceId = id,
            Id = Id<Rota>.New(),
            Name = "The week",
            Zone = Zone,
        };
        for (int i = 0; i < slots; i++)
        {
            Channel[] two = [channels[i % channelCount], channels[(i + 3) % channelCount]];
            rota.Slots.Add(
                new()
                {
                    WorkspaceId = id,
                    Id = Id<Slot>.New(),
                    RotaId = rota.Id,
                    Days = [(IsoDayOfWeek)(1 + (i % 7))],
                    Time = new(7 + (i % 13), 30 * (i % 2)),
                    Source = new([categories[i % categoryCount].Id]),
                    Channels = [.. two.Select(c => c.Id)],
                    Position = i,
                }
            );
        }
        Post[] posts = [.. Enumerable.Range(0, bank).Select(i => NewPost(id, i, categories[i % categoryCount], networks, chance))];
        Delivery[] past =
        [
            .. Enumerable
                .Range(0, deliveries)
                .Select(i => Sent(id, posts[chance.Next(bank)], channels[i % channelCount], Start - Duration.FromHours(3 * (i + 1)))),
        ];
        return new(Zone, [rota], categories, channels, [.. posts.Select(LineUpPost.Of)], [.. past.Select(LineUpDelivery.Of)], networks);
    }

    /// <summary>As it comes from the database: what lies back is summed up.</summary>
    public static LineUpInput AsRead(LineUpInput whole)
    {
        (IReadOnlyList<LineUpDelivery> recent, OlderDeliveries older) = OlderDeliveries.Of(
            whole.Deliveries,
            whole.Decisions,
            OlderDeliveries.Before(Start, whole.Channels)
        );
        return whole with { Deliveries = recent, Older = older };
    }

    private static Post NewPost(Id<Workspace> id, int i, Category category, NetworkBook networks, Random chance) =>
        new()
        {
            WorkspaceId = id,
            Id = Id<Post>.New(),
            Title = $"Post {i}",
            CategoryId = category.Id,
            Stage = Stage.Ready,
            AddedAt = Start - Duration.FromMinutes(chance.Next(500_000)),
            AddedOrder = i,
            Fits = networks.All.ToDictionary(n => n.Key, _ => new Fit(chance.Next(12) == 0 ? [TooLong] : [], $"print {i}")),
        };

    private static readonly Finding TooLong = new(FindingCode.TextTooLong, Severity.Blocks, "text", "300", "280", "Jot", "20");

    private static Delivery Sent(Id<Workspace> id, Post post, Channel channel, Instant at)
    {
        LocalDateTime local = at.InZone(Zone).LocalDateTime;
        return new()
        {
            WorkspaceId = id,
            Id = Id<Delivery>.New(),
            PostId = post.Id,
            ChannelId = channel.Id,
            Time = PlannedTime.Of(at, Zone),
            SentAt = at,
            Origin = Origin.ExactTime(post.Id, local),
            State = DeliveryState.Sent,
        };
    }
}
