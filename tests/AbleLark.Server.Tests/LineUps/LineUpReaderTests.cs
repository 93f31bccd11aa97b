using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.LineUps;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;

namespace AbleLark.Server.Tests.LineUps;

/// <summary>What the line-up is worked out from is read as the Core parts and sums it.</summary>
public sealed class LineUpReaderTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    [Fact]
    public async Task The_database_sums_the_past_up_as_the_core_does()
    {
        ApiClient ada = _installation.Ada;
        Guid[] channels =
        [
            await _installation.ConnectAsync(ada, "hearth", "past-one"),
            await _installation.ConnectAsync(ada, "jot", "past-two"),
        ];
        Guid category = await ada.CategoryAsync("Past", channels);
        List<Guid> posts = [];
        for (int i = 0; i < 5; i++)
            posts.Add((await ada.PostAsync(category, $"Past {i}")).Id());
        await using AsyncServiceScope scope = _installation.Services.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        Instant now = await _installation.NowAsync();
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == new Id<Workspace>(ada.Workspace));
        Random chance = new(7);
        DeliveryState[] states = Enum.GetValues<DeliveryState>();
        Id<Slot>[] slots = [Id<Slot>.New(), Id<Slot>.New()];
        Guid[] lines = [category, Guid.NewGuid()];
        for (int i = 0; i < 600; i++)
        {
            Instant at = now - Duration.FromHours(chance.Next(-100, 1500)) - Duration.FromSeconds(i);
            DeliveryState state = states[chance.Next(states.Length)];
            LocalDateTime local = at.InZone(workspace.Zone).LocalDateTime;
            Id<Post> post = new(posts[chance.Next(posts.Count)]);
            bool drawn = chance.Next(2) == 0;
            db.Deliveries.Add(
                new()
                {
                    WorkspaceId = workspace.Id,
                    Id = Id<Delivery>.New(),
                    PostId = post,
                    ChannelId = new(channels[chance.Next(2)]),
                    At = at,
                    LocalDate = local.Date,
                    LocalTime = local.TimeOfDay,
                    Origin = drawn ? Origin.Place(slots[chance.Next(2)], local.Date.PlusDays(-7 * i)) : Origin.ExactTime(post, local),
                    State = state,
                    SentAt = state == DeliveryState.Sent ? at + Duration.FromMinutes(chance.Next(3)) : null,
                    TextFingerprint = state == DeliveryState.Sent ? $"print {chance.Next(3)}" : null,
                    DealtWith = chance.Next(2) == 0,
                    DrawnBy = drawn ? lines[chance.Next(2)] : null,
                    DrawnInOrder = drawn ? (chance.Next(2) == 0 ? Order.Shuffled : Order.OldestFirst) : null,
                    Round = drawn && chance.Next(3) > 0 ? chance.Next(9) : null,
                    Wording = chance.Next(2),
                }
            );
        }
        await db.SaveChangesAsync();

        LineUpInput read = await scope.ServiceProvider.GetRequiredService<LineUpReader>().ReadAsync(workspace, CancellationToken.None);
        List<LineUpDelivery> all =
        [
            .. (await db.Deliveries.AsNoTracking().Where(d => d.WorkspaceId == workspace.Id).ToListAsync()).Select(LineUpDelivery.Of),
        ];
        // The clock moved on by some milliseconds since; no delivery lies in between.
        (IReadOnlyList<LineUpDelivery> recent, OlderDeliveries older) = OlderDeliveries.Of(all, OlderDeliveries.Before(now, read.Channels));
        Assert.Equal(recent.OrderBy(d => d.Id), read.Deliveries.OrderBy(d => d.Id));
        Assert.Equal(InOrder(older.Turns), InOrder(read.Older.Turns));
        Assert.Equal(InOrder(older.Failures), InOrder(read.Older.Failures));
        Assert.Equal(InOrder(older.Draws), InOrder(read.Older.Draws));
        Assert.All(new[] { older.Turns.Count, older.Failures.Count, older.Draws.Count, recent.Count }, n => Assert.True(n >= 8));

        static IEnumerable<string> InOrder<T>(IEnumerable<T> rows)
            where T : notnull => rows.Select(r => r.ToString()!).Order(StringComparer.Ordinal);
    }
}
