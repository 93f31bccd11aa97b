using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json.Nodes;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;

namespace AbleLark.SendingBench;

/// <summary>Where things are.</summary>
/// <param name="Postgres">Connection to the database server.</param>
/// <param name="Builds">Folder that holds the published server and stand-ins.</param>
/// <param name="Networks">Folder of the shipped networks' rules.</param>
/// <param name="RestartPostgres">Script that stops the database server at once, as a crash would, and starts it again.</param>
internal sealed record LineUpPlace(string Postgres, string Builds, string Networks, string RestartPostgres);

/// <summary>A promise of a network to whoever posts, and how its stand-in behaves.</summary>
internal sealed record Manners(
    bool HonoursKeys = true,
    int AppearsWithinSeconds = 60,
    int LatencyMilliseconds = 0,
    double LateSeconds = 17
);

/// <summary>A database, stand-in networks and server processes of their own, on loopback; everything that was started is ended, by its
/// process.</summary>
internal sealed class Installation : IAsyncDisposable
{
    private readonly LineUpPlace _place;
    private readonly string _folder = Directory.CreateTempSubdirectory("able-lark-bench-").FullName;
    private readonly List<Process> _processes = [];
    private readonly string _name = $"lark_bench_{Guid.NewGuid():n}";
    private readonly HttpClient _http = new();
    private readonly int _standInsPort = FreePort();

    private Installation(LineUpPlace place)
    {
        _place = place;
        Connection = new NpgsqlConnectionStringBuilder(place.Postgres) { Database = _name }.ToString();
    }

    public string Connection { get; }

    public static async Task<Installation> StartAsync(LineUpPlace place, IReadOnlyDictionary<string, Manners> manners)
    {
        Installation installation = new(place);
        await ExecuteAsync(place.Postgres, $"create database {installation._name}");
        await using (LarkDb db = installation.Open())
            await db.Database.MigrateAsync();
        installation.WriteRules(manners);
        await installation.StartStandInsAsync();
        foreach ((string network, Manners its) in manners)
        {
            (
                await installation._http.PutAsJsonAsync(
                    $"http://127.0.0.1:{installation._standInsPort}/control/networks/{network}",
                    new
                    {
                        its.HonoursKeys,
                        its.LatencyMilliseconds,
                        its.LateSeconds,
                    }
                )
            ).EnsureSuccessStatusCode();
        }
        return installation;
    }

    public LarkDb Open() =>
        new LarkDatabase((DbContextOptions<LarkDatabase>)new DbContextOptionsBuilder<LarkDatabase>().UseLark(Connection).Options);

    public async Task<Process> StartStandInsAsync()
    {
        Process process = Start(
            "standins/AbleLark.StandIns.dll",
            $"--ConnectionStrings:Lark={Connection}",
            $"--urls=http://127.0.0.1:{_standInsPort}",
            "--Logging:LogLevel:Default=None",
            "--Logging:LogLevel:Microsoft.AspNetCore=None"
        );
        await AnswersAsync($"http://127.0.0.1:{_standInsPort}/healthz");
        return process;
    }

    /// <summary>Kills the stand-ins that were started first, and starts others.</summary>
    public async Task<Process> ReplaceReplacementsAsync()
    {
        await KillAsync(_processes[0]);
        return await StartStandInsAsync();
    }

    public Process StartServer(params string[] more) =>
        Start(
            "server/AbleLark.Server.dll",
            [
                $"--ConnectionStrings:Lark={Connection}",
                $"--Lark:DataFolder={_folder}",
                $"--Lark:NetworksFolder={Path.Combine(_folder, "networks")}",
                $"--Lark:NetworksAddress=http://127.0.0.1:{_standInsPort}",
                "--urls=http://127.0.0.1:0",
                "--Logging:LogLevel:Default=None",
                "--Logging:LogLevel:Microsoft.AspNetCore=None",
                .. more,
            ]
        );

    public async Task OrderAsync(string kind, int times, string? account)
    {
        try
        {
            await _http.PostAsJsonAsync(
                $"http://127.0.0.1:{_standInsPort}/control/faults",
                new
                {
                    kind,
                    times,
                    account,
                }
            );
        }
        catch (HttpRequestException)
        {
            // The stand-ins are down just now.
        }
    }

    public static async Task KillAsync(Process process)
    {
        process.Kill(entireProcessTree: true);
        await process.WaitForExitAsync();
    }

    public async Task RestartPostgresAsync()
    {
        using Process restart = Process.Start(new ProcessStartInfo("bash", [_place.RestartPostgres]))!;
        await restart.WaitForExitAsync();
        NpgsqlConnection.ClearAllPools();
    }

    /// <summary>A workspace with channels that are connected, each with texts to send at these times, one after the other.</summary>
    public async Task<List<Id<Channel>>> FillAsync(string slug, string network, int channels, IReadOnlyList<Instant> times)
    {
        IDataProtector protector = DataProtectionProvider
            .Create(new DirectoryInfo(Path.Combine(_folder, "keys")), b => b.SetApplicationName("able-lark"))
            .CreateProtector("channel tokens");
        await using LarkDb db = Open();
        Workspace workspace = new()
        {
            Id = Id<Workspace>.New(),
            Slug = slug,
            Name = slug,
            Zone = DateTimeZoneProviders.Tzdb["Europe/Dublin"],
        };
        db.Workspaces.Add(workspace);
        Category category = new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<Category>.New(),
            Name = "Notes",
            Colour = "tide",
            Monogram = "No",
            UsualChannels = [],
        };
        db.Categories.Add(category);
        List<Id<Channel>> made = [];
        for (int c = 0; c < channels; c++)
        {
            string account = $"{network}-{slug}-{c}",
                access = Guid.NewGuid().ToString("n"),
                refresh = Guid.NewGuid().ToString("n");
            await db.Database.ExecuteSqlAsync(
                $"""
                insert into stand_ins.accounts (id, network, handle, name, followers, interests) values ({account}, {network},
                {account}, {account}, 1000, jsonb_build_object())
                """
            );
            await db.Database.ExecuteSqlAsync(
                $"""
                insert into stand_ins.tokens (access, refresh, account_id, expires_at) values ({access}, {refresh}, {account}, now() +
                interval '1 day')
                """
            );
            Channel channel = new()
            {
                WorkspaceId = workspace.Id,
                Id = Id<Channel>.New(),
                Network = network,
                Account = account,
                Name = account,
                Handle = account,
                Position = c,
            };
            made.Add(channel.Id);
            db.Channels.Add(channel);
            db.ChannelSecrets.Add(
                new()
                {
                    WorkspaceId = workspace.Id,
                    ChannelId = channel.Id,
                    AccessToken = protector.Protect(access),
                    RefreshToken = protector.Protect(refresh),
                    ExpiresAt = SystemClock.Instance.GetCurrentInstant() + Duration.FromHours(20),
                }
            );
            for (int i = 0; i < times.Count; i++)
                AddDelivery(db, workspace, category, channel, times[i], $"{account} note {i}");
            await db.SaveChangesAsync();
            db.ChangeTracker.Clear();
        }
        return made;
    }

    private static void AddDelivery(LarkDb db, Workspace workspace, Category category, Channel channel, Instant at, string text)
    {
        Post post = new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<Post>.New(),
            Title = text,
            CategoryId = category.Id,
            Stage = Stage.Ready,
            AddedAt = at,
            Content = PostContent.Empty.With(ContentFields.Text, text),
            Fits = new Dictionary<string, Fit> { [channel.Network] = new([], text) },
            Version = 1,
        };
        db.Posts.Add(post);
        db.PostVersions.Add(
            new()
            {
                WorkspaceId = workspace.Id,
                PostId = post.Id,
                Number = 1,
                Content = post.Content,
                MadeAt = at,
            }
        );
        LocalDateTime local = at.InZone(workspace.Zone).LocalDateTime;
        db.Deliveries.Add(
            new()
            {
                WorkspaceId = workspace.Id,
                Id = Id<Delivery>.New(),
                PostId = post.Id,
                ChannelId = channel.Id,
                Time = PlannedTime.Of(at, workspace.Zone),
                Origin = Origin.ExactTime(post.Id, local),
            }
        );
    }

    /// <summary>Seconds after its time at which each sent delivery of these channels was sent, by the machine's clock.</summary>
    public async Task<List<double>> LatenessAsync(IReadOnlyList<Id<Channel>> channels)
    {
        await using LarkDb db = Open();
        var ended = await db
            .Deliveries.Where(d => channels.Contains(d.ChannelId) && d.State == DeliveryState.Sent)
            .Select(d => new
            {
                d.At,
                Ended = db.DeliveryAttempts.Where(a => a.DeliveryId == d.Id && a.End == AttemptEnd.Done).Max(a => a.EndedAt),
            })
            .ToListAsync();
        return [.. ended.Select(e => (e.Ended!.Value - e.At).TotalSeconds).Order()];
    }

    /// <summary>Waits until the server has checked every post by its rules.</summary>
    public async Task UntilCheckedAsync(TimeSpan most)
    {
        Stopwatch watch = Stopwatch.StartNew();
        await using LarkDb db = Open();
        while (await db.Posts.AnyAsync(p => p.CheckedBy == ""))
        {
            if (watch.Elapsed > most)
                throw new TimeoutException($"The server has not checked all posts within {most.TotalSeconds:0} s.");
            await Task.Delay(250);
        }
    }

    /// <summary>Waits until so many deliveries of these channels are sent; false when the time is up.</summary>
    public async Task<bool> UntilSentAsync(IReadOnlyList<Id<Channel>> channels, int count, TimeSpan most)
    {
        Stopwatch watch = Stopwatch.StartNew();
        while (watch.Elapsed < most)
        {
            await using LarkDb db = Open();
            if (await db.Deliveries.CountAsync(d => channels.Contains(d.ChannelId) && d.State == DeliveryState.Sent) >= count)
                return true;
            await Task.Delay(250);
        }
        return false;
    }

    public async ValueTask DisposeAsync()
    {
        foreach (Process process in _processes.Where(p => !p.HasExited))
            await KillAsync(process);
        foreach (Process process in _processes)
            process.Dispose();
        NpgsqlConnection.ClearAllPools();
        await ExecuteAsync(_place.Postgres, $"drop database if exists {_name} with (force)");
        _http.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    private void WriteRules(IReadOnlyDictionary<string, Manners> manners)
    {
        Directory.CreateDirectory(Path.Combine(_folder, "networks"));
        foreach (string file in Directory.GetFiles(_place.Networks, "*.json"))
        {
            JsonNode rules = JsonNode.Parse(File.ReadAllText(file))!;
            if (manners.TryGetValue((string)rules["key"]!, out Manners? its))
            {
                rules["sending"]!["honoursKeys"] = its.HonoursKeys;
                rules["sending"]!["appearsWithinSeconds"] = its.AppearsWithinSeconds;
            }
            File.WriteAllText(Path.Combine(_folder, "networks", Path.GetFileName(file)), rules.ToJsonString());
        }
    }

    private Process Start(string program, params string[] arguments)
    {
        Process process = Process.Start(new ProcessStartInfo("dotnet", [Path.Combine(_place.Builds, program), .. arguments]))!;
        _processes.Add(process);
        return process;
    }

    private async Task AnswersAsync(string address)
    {
        for (int i = 0; i < 300; i++)
        {
            try
            {
                if ((await _http.GetAsync(address)).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException)
            {
                // Not yet.
            }
            await Task.Delay(100);
        }
        throw new InvalidOperationException($"{address} gives no answer.");
    }

    private static async Task ExecuteAsync(string connection, string sql)
    {
        await using NpgsqlConnection open = new(connection);
        await open.OpenAsync();
#pragma warning disable CA2100 // The name is made here.
        await using NpgsqlCommand command = new(sql, open);
#pragma warning restore CA2100
        await command.ExecuteNonQueryAsync();
    }

    private static int FreePort()
    {
        using TcpListener listener = new(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
