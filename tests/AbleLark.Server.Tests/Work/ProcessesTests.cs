using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Data;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;

namespace AbleLark.Server.Tests.Work;

/// <summary>Several server processes on one database, one that is asked to stop, and databases that come later.</summary>
public sealed class ProcessesTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task Several_servers_read_each_delivery_s_figures_once()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "figures");
        Guid category = await _ada.CategoryAsync("Figures", channel);
        for (int i = 0; i < 12; i++)
            await _ada.PlanAsync(installation, (await _ada.PostAsync(category, $"Figures {i}")).Id(), 5, channel);
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.PassAsync();
        await installation.MoveOnAsync(Duration.FromHours(26));
        await using WebApplication second = await installation.StartServerAsync();
        await Task.WhenAll(Enumerable.Range(0, 8).Select(i => installation.PassAsync(i % 2 == 0 ? null : second.Services)));
        Id<Delivery>[] mine = await installation.ReadAsync(db =>
            db.Deliveries.Where(d => d.ChannelId == new Id<Core.Channels.Channel>(channel)).Select(d => d.Id).ToArrayAsync()
        );
        int[] readings = await installation.ReadAsync(db =>
            db.Readings.Where(r => mine.Contains(r.DeliveryId)).GroupBy(r => r.DeliveryId).Select(g => g.Count()).ToArrayAsync()
        );
        Assert.Equal(Enumerable.Repeat(1, 12), readings);
        Assert.Equal(
            12,
            await installation.ReadAsync(db => db.AgeFigures.CountAsync(a => a.AgeHours == 24 && mine.Contains(a.DeliveryId)))
        );
        Assert.False(await installation.ReadAsync(db => db.WorkFailures.AnyAsync()));
    }

    [Fact]
    public async Task Several_servers_schedule_each_place_once_and_ask_for_an_audience_once()
    {
        Guid channel = await installation.ConnectAsync(installation.Ben, "hearth", "several");
        Guid category = await installation.Ben.CategoryAsync("Several", channel);
        for (int i = 0; i < 5; i++)
            await installation.Ben.PostAsync(category, $"Several {i}");
        await installation.Ben.SlotAsync(category, "12:00", [1, 2, 3, 4, 5, 6, 7], channel);
        await using WebApplication second = await installation.StartServerAsync();
        await Task.WhenAll(Enumerable.Range(0, 8).Select(i => installation.PassAsync(i % 2 == 0 ? null : second.Services)));
        var places = await installation.ReadAsync(db =>
            db.Deliveries.Where(d => d.ChannelId == new Id<Core.Channels.Channel>(channel)).Select(d => d.OriginDate).ToListAsync()
        );
        Assert.NotEmpty(places);
        Assert.Equal(places.Distinct().Count(), places.Count);
        Assert.Equal(
            168,
            await installation.ReadAsync(db =>
                db.ChannelAudiences.Where(a => a.ChannelId == new Id<Core.Channels.Channel>(channel)).Select(a => a.Online).SingleAsync()
            )
                is { } online
                ? online.Count
                : 0
        );
        Assert.False(await installation.ReadAsync(db => db.WorkFailures.AnyAsync()));
    }

    [Fact]
    public async Task A_silent_account_holds_up_nobody_else()
    {
        Guid slow = await installation.ConnectAsync(_ada, "hearth", "silent");
        Guid category = await _ada.CategoryAsync("Silent", slow);
        for (int i = 0; i < 10; i++)
            await _ada.PlanAsync(installation, (await _ada.PostAsync(category, $"Silent {i}")).Id(), 5, slow);
        await installation.OrderAsync("silent", 20, "hearth-silent");
        (Guid other, _) = await installation.DueAsync("Not held up");
        Stopwatch watch = Stopwatch.StartNew();
        Task round = installation.PassAsync();
        while (await _ada.StateAsync(other) != "sent")
            await Task.Delay(20);
        TimeSpan took = watch.Elapsed;
        await round;
        Assert.True(took < watch.Elapsed, $"The other one was sent after {took}; the silent one gave up after {watch.Elapsed}.");
        // One was tried; the others were given back at once instead of waiting in vain one after the other.
        Assert.Equal(
            1,
            await installation.ReadAsync(db =>
                db.DeliveryAttempts.CountAsync(a =>
                    a.Step == "post" && db.Deliveries.Any(d => d.Id == a.DeliveryId && d.ChannelId == new Id<Core.Channels.Channel>(slow))
                )
            )
        );
        Assert.Equal(
            9,
            await installation.ReadAsync(db =>
                db.Deliveries.CountAsync(d =>
                    d.ChannelId == new Id<Core.Channels.Channel>(slow) && d.State == DeliveryState.Planned && d.Lease == null
                )
            )
        );
        await installation.ClearFaultsAsync();
    }

    [Fact]
    public async Task A_server_asked_to_stop_gives_back_what_it_holds_and_the_next_one_goes_on_at_once()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "stopping");
        Guid category = await _ada.CategoryAsync("Stopping", channel);
        for (int i = 0; i < 8; i++)
            await _ada.PlanAsync(installation, (await _ada.PostAsync(category, $"Stopping {i}")).Id(), 5, channel);
        await installation.BehaveAsync("hearth", latencyMilliseconds: 400);
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        WebApplication first = await installation.StartServerAsync("--Lark:BackgroundWork=true");
        while (await SentAsync(channel) < 2)
            await Task.Delay(20);
        await first.StopAsync();
        await first.DisposeAsync();
        await installation.BehaveAsync("hearth");
        int before = await SentAsync(channel);
        Assert.InRange(before, 2, 7);
        Assert.Equal(0, await installation.ReadAsync(db => db.Deliveries.CountAsync(d => d.Lease != null)));
        Stopwatch watch = Stopwatch.StartNew();
        await installation.SendDueAsync();
        Assert.Equal(8, await SentAsync(channel));
        Assert.True(watch.Elapsed < TimeSpan.FromSeconds(10), $"The rest took {watch.Elapsed}.");
        Assert.Equal(
            Enumerable.Range(0, 8).Select(i => $"Stopping {i}"),
            (await installation.PostedAsync("hearth-stopping")).Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public async Task Servers_that_start_at_once_on_an_empty_database_all_start()
    {
        string empty = await Databases.EmptyAsync();
        WebApplication[] servers =
        [
            .. Enumerable
                .Range(0, 3)
                .Select(_ =>
                    LarkServer.Create([
                        .. installation.Arguments(),
                        $"--ConnectionStrings:Lark={empty}",
                        "--Lark:Demo=false",
                        "--Lark:BackgroundWork=true",
                    ])
                ),
        ];
        await Task.WhenAll(servers.Select(s => s.StartAsync()));
        await using LarkDb db = Databases.Open(empty);
        Assert.Empty(await db.Database.GetPendingMigrationsAsync());
        foreach (WebApplication server in servers)
        {
            Assert.Equal("ready", await ReadinessAsync(server));
            await server.DisposeAsync();
        }
    }

    [Fact]
    public async Task A_server_waits_for_a_database_that_is_not_there_yet_and_makes_one_that_its_server_lacks()
    {
        NpgsqlConnectionStringBuilder real = new(Databases.Connection($"lark_made_{Guid.NewGuid():n}"));
        int port = FreePort();
        NpgsqlConnectionStringBuilder through = new(real.ToString()) { Port = port, Pooling = false };
        WebApplication server = LarkServer.Create([
            .. installation.Arguments(),
            $"--ConnectionStrings:Lark={through}",
            "--Lark:Demo=false",
        ]);
        Task start = server.StartAsync();
        await RefuseAsync(port, times: 2);
        Assert.False(start.IsCompleted, "It started without a database, or gave up.");
        // The database's server comes up: here, a door to it is opened.
        using CancellationTokenSource closing = new();
        Task door = ForwardAsync(port, real.Host!, real.Port, closing.Token);
        await start.WaitAsync(TimeSpan.FromSeconds(30));
        Assert.Equal("ready", await ReadinessAsync(server));
        await server.DisposeAsync();
        await closing.CancelAsync();
        await door;
    }

    private async Task<int> SentAsync(Guid channel) =>
        await installation.ReadAsync(db =>
            db.Deliveries.CountAsync(d => d.ChannelId == new Id<Core.Channels.Channel>(channel) && d.State == DeliveryState.Sent)
        );

    private static async Task<string> ReadinessAsync(WebApplication server)
    {
        using HttpClient http = new();
        return JsonSerializer
            .Deserialize<JsonElement>(await (await http.GetAsync($"{server.Urls.Single()}/readyz")).Content.ReadAsStringAsync())
            .Text("status");
    }

    private static int FreePort()
    {
        using TcpListener listener = new(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    /// <summary>Hangs up on so many callers.</summary>
    private static async Task RefuseAsync(int port, int times)
    {
        using TcpListener listener = new(IPAddress.Loopback, port);
        listener.Start();
        using CancellationTokenSource limit = new(TimeSpan.FromSeconds(30));
        for (int i = 0; i < times; i++)
            (await listener.AcceptTcpClientAsync(limit.Token)).Close();
    }

    private static async Task ForwardAsync(int port, string host, int to, CancellationToken closing)
    {
        using TcpListener listener = new(IPAddress.Loopback, port);
        listener.Start();
        try
        {
            while (true)
            {
                TcpClient from = await listener.AcceptTcpClientAsync(closing);
                TcpClient target = new();
                await target.ConnectAsync(host, to, closing);
                _ = from.GetStream()
                    .CopyToAsync(target.GetStream(), CancellationToken.None)
                    .ContinueWith(_ => target.Close(), TaskScheduler.Default);
                _ = target
                    .GetStream()
                    .CopyToAsync(from.GetStream(), CancellationToken.None)
                    .ContinueWith(_ => from.Close(), TaskScheduler.Default);
            }
        }
        catch (OperationCanceledException)
        {
            // The door is closed.
        }
    }
}
