using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.LineUps;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;
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
                    Time = PlannedTime.Of(at, workspace.Zone),
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

        OlderDeliveries? before = null;
        // What was summed up before is used again, whatever is written, taken away or moved across the edge of a quarter meanwhile.
        for (int round = 0; round < 12; round++)
        {
            LineUpInput read = await scope.ServiceProvider.GetRequiredService<LineUpReader>().ReadAsync(workspace, CancellationToken.None);
            List<LineUpDelivery> all =
            [
                .. (await db.Deliveries.AsNoTracking().Where(d => d.WorkspaceId == workspace.Id).ToListAsync()).Select(LineUpDelivery.Of),
            ];
            // The clock moved on by some milliseconds since; no delivery lies in between.
            (IReadOnlyList<LineUpDelivery> recent, OlderDeliveries older) = OlderDeliveries.Of(
                all,
                read.Decisions,
                OlderDeliveries.Before(now, read.Channels)
            );
            Assert.Equal(recent.OrderBy(d => d.Id), read.Deliveries.OrderBy(d => d.Id));
            Assert.Equal(InOrder(older.Turns), InOrder(read.Older.Turns));
            Assert.Equal(InOrder(older.Failures), InOrder(read.Older.Failures));
            Assert.Equal(InOrder(older.Draws), InOrder(read.Older.Draws));
            Assert.All(new[] { older.Turns.Count, older.Failures.Count, older.Draws.Count, recent.Count }, n => Assert.True(n >= 8));
            // Nothing was written before an odd round: the very sums of the round before.
            Assert.Equal(round % 2 == 1, ReferenceEquals(before, read.Older));
            before = read.Older;
            if (round % 2 == 0)
                continue;
            Guid one = all[chance.Next(all.Count)].Id.Value;
            Guid old = all.Where(d => !recent.Contains(d)).Skip(chance.Next(100)).First().Id.Value;
            await db.Database.ExecuteSqlAsync(
                round switch
                {
                    1 => $"update deliveries set dealt_with = not dealt_with where id = {old}",
                    3 => $"delete from deliveries where id = {old}",
                    5 => $"update deliveries set local_date = local_date - 100, at = at - interval '100 days' where id in ({one}, {old})",
                    7 => $"update deliveries set text_fingerprint = 'another', state = 'Sent', sent_at = at where id = {old}",
                    _ => $"update deliveries set round = coalesce(round, 0) + 3, state = 'Sent', sent_at = at where id in ({old}, {one})",
                }
            );
        }

        static IEnumerable<string> InOrder<T>(IEnumerable<T> rows)
            where T : notnull => rows.Select(r => r.ToString()!).Order(StringComparer.Ordinal);
    }

    /// <summary>Whatever is written, whether it was committed, is still under way or was taken back: what is known of the bank is what
    /// a reader without memory reads; and what wasn't written since isn't read again.</summary>
    [Fact]
    public async Task What_is_known_of_the_bank_is_what_it_says_now()
    {
        ApiClient ada = _installation.Ada;
        Guid category = await ada.CategoryAsync("Bank", await _installation.ConnectAsync(ada, "hearth", "bank"));
        List<Guid> posts = [];
        for (int i = 0; i < 6; i++)
            posts.Add((await ada.PostAsync(category, $"Bank {i}")).Id());
        Id<Workspace> workspace = new(ada.Workspace);
        KnownBanks known = new();
        Random chance = new(11);
        await using AsyncServiceScope mine = _installation.Services.CreateAsyncScope();
        LarkDb db = mine.ServiceProvider.GetRequiredService<LarkDb>();
        await using AsyncServiceScope others = _installation.Services.CreateAsyncScope();
        LarkDb other = others.ServiceProvider.GetRequiredService<LarkDb>();
        int again = 0;
        for (int round = 0; round < 60; round++)
        {
            await using (IDbContextTransaction? transaction = chance.Next(2) == 0 ? await db.Database.BeginTransactionAsync() : null)
            {
                for (int i = chance.Next(3); i >= 0; i--)
                {
                    await WriteAsync(db);
                    await SeesAsync(db);
                }
                // Somebody else sees nothing of what is still under way, and nothing of it later if it is taken back.
                await SeesAsync(other);
                if (transaction is not null && chance.Next(2) == 0)
                    await transaction.CommitAsync();
            }
            await SeesAsync(other);
        }

        // What was written after the oldest transaction that is still running anywhere is read each time.
        bool same = false;
        for (int i = 0; i < 240 && !same; i++)
        {
            await Task.Delay(250);
            Dictionary<Id<Post>, LineUpPost> before = (await ReadAsync(db, known)).ToDictionary(p => p.Id);
            List<LineUpPost> after = await ReadAsync(other, known);
            Assert.NotEmpty(after);
            same = after.All(p => ReferenceEquals(p, before[p.Id]));
        }
        Assert.True(same, "what wasn't written since was read again");
        Assert.True(again > 100);

        async Task WriteAsync(LarkDb through)
        {
            Guid post = posts[chance.Next(posts.Count)];
            string title = $"Bank {chance.Next(1000)}";
            await (
                chance.Next(4) == 0
                    ? through.Database.ExecuteSqlAsync(
                        $"update posts set removed_at = case when removed_at is null then now() end where id = {post}"
                    )
                    : through.Database.ExecuteSqlAsync($"update posts set title = {title} where id = {post}")
            );
        }

        async Task SeesAsync(LarkDb through)
        {
            string[] fresh = InWords(await ReadAsync(through, new()));
            Assert.Equal(fresh, InWords(await ReadAsync(through, known)));
            again += fresh.Length;
        }

        Task<List<LineUpPost>> ReadAsync(LarkDb through, KnownBanks banks) =>
            new BankReader(through, banks).ReadAsync(workspace, CancellationToken.None);

        static string[] InWords(IEnumerable<LineUpPost> bank) =>
            [.. bank.Select(p => JsonSerializer.Serialize(p, LarkJson.Options)).Order(StringComparer.Ordinal)];
    }

    /// <summary>A large workspace is worked out when a server starts, before anybody looks; who looks at once meanwhile waits for the same,
    /// and nobody works it out a second time.</summary>
    [Fact]
    public async Task A_large_workspace_is_worked_out_once_for_all_who_look()
    {
        ApiClient ben = _installation.Ben;
        Guid post = (await ben.PostAsync(await ben.CategoryAsync("Large"), "Large")).Id();
        await using AsyncServiceScope scope = _installation.Services.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        string columns = await db
            .Database.SqlQuery<string>(
                $"""
                select string_agg(quote_ident(column_name), ', ') as "Value" from information_schema.columns
                where table_schema = 'public' and table_name = 'posts' and column_name <> 'id'
                """
            )
            .SingleAsync();
#pragma warning disable EF1002 // The names of our own columns.
        await db.Database.ExecuteSqlRawAsync(
            $"insert into posts (id, {columns}) select gen_random_uuid(), {columns} from posts, generate_series(1, 1001) where id = {{0}}",
            post
        );
#pragma warning restore EF1002

        await using WebApplication server = await _installation.StartServerAsync("--Lark:BackgroundWork=false");
        LineUpSnapshots snapshots = server.Services.GetRequiredService<LineUpSnapshots>();
        Assert.Null(snapshots.Find(await WorkspaceAsync()));
        using LineUpWarming warming = new(server.Services.GetRequiredService<IServiceScopeFactory>(), NullLogger<LineUpWarming>.Instance);
        await warming.StartAsync(CancellationToken.None);
        await warming.ExecuteTask!;
        Assert.True(snapshots.Find(await WorkspaceAsync())?.Input.Bank.Count > 1000);

        await ben.PostAsync(await ben.CategoryAsync("Moves the plan"), "Moves the plan");
        Task<SharedLineUp>[] looks =
        [
            .. Enumerable
                .Range(0, 8)
                .Select(async _ =>
                {
                    await using AsyncServiceScope own = server.Services.CreateAsyncScope();
                    LineUpCache cache = own.ServiceProvider.GetRequiredService<LineUpCache>();
                    return (await cache.GetAsync(new(ben.Workspace), CancellationToken.None)).LineUp;
                }),
        ];
        Assert.Single((await Task.WhenAll(looks)).Distinct());

        Task<Workspace> WorkspaceAsync() => db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == new Id<Workspace>(ben.Workspace));
    }
}
