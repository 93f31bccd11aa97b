using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using System.Web;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Outgoing;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using AbleLark.StandIns;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>
/// A whole installation for one test class: a database, the real stand-in networks and the real server, all on loopback. The
/// background work only runs when a test calls for a round, and business time only moves when a test moves it.
/// </summary>
public sealed class TestInstallation : IAsyncLifetime
{
    private readonly Dictionary<string, string> _settings = new()
    {
        ["Lark:Demo"] = "true",
        ["Lark:BackgroundWork"] = "false",
        ["Lark:NetworkTimeoutSeconds"] = "2",
    };
    private readonly List<Action<IServiceCollection>> _more = [];
    private readonly TestInstallation? _shared;
    private WebApplication? _standIns;
    private WebApplication? _server;

    public TestInstallation() { }

    /// <summary>The same installation with another Ada and another Ben, each with a workspace of their own.</summary>
    internal TestInstallation(TestInstallation shared) => _shared = shared;

    /// <summary>More settings for the server, `name=value`.</summary>
    public IReadOnlyDictionary<string, string> Settings
    {
        init
        {
            foreach ((string name, string given) in value)
                _settings[name] = given;
        }
    }

    /// <summary>Other services in place of the server's usual ones.</summary>
    public Action<IServiceCollection> Replaced
    {
        init => _more.Add(value);
    }

    public string Database { get; private set; } = "";
    public string DataFolder { get; private set; } = Directory.CreateTempSubdirectory("able-lark-test-").FullName;
    public string NetworksAddress { get; private set; } = "";
    public string Address { get; private set; } = "";
    public IServiceProvider Services => _server!.Services;

    /// <summary>Ada, planner of Harbour Ropes.</summary>
    public ApiClient Ada { get; private set; } = null!;

    /// <summary>Ben, planner of Orchard Cider: a stranger to Ada's workspace.</summary>
    public ApiClient Ben { get; private set; } = null!;

    private string _ada = "ada@example.org";
    private string _ben = "ben@example.org";

    public async ValueTask InitializeAsync()
    {
        if (_shared is { } shared)
        {
            (Database, DataFolder, _standIns, NetworksAddress, _server, Address) = (
                shared.Database,
                shared.DataFolder,
                shared._standIns,
                shared.NetworksAddress,
                shared._server,
                shared.Address
            );
            string mark = Guid.NewGuid().ToString("n");
            (_ada, _ben) = ($"ada-{mark}@example.org", $"ben-{mark}@example.org");
            await using LarkDb db = Databases.Open(Database);
            Databases.AddPerson(db, _ada, "Ada Finch", $"harbour-{mark}", "Harbour Ropes");
            Databases.AddPerson(db, _ben, "Ben Teal", $"orchard-{mark}", "Orchard Cider");
            await db.SaveChangesAsync();
        }
        else
        {
            await StartAsync();
        }
        Ada = await ApiClient.SignInAsync(this, _ada);
        Ben = await ApiClient.SignInAsync(this, _ben);
    }

    private async Task StartAsync()
    {
        Database = await Databases.NewAsync();
        _standIns = await StandInApp.CreateAsync([
            $"--ConnectionStrings:Lark={Database}",
            "--urls=http://127.0.0.1:0",
            "--Logging:LogLevel:Default=Error",
        ]);
        await _standIns.StartAsync();
        NetworksAddress = _standIns.Urls.Single();
        _server = await StartServerAsync();
        Address = _server.Urls.Single();
        await BeginInTheMorningAsync();
    }

    public async ValueTask DisposeAsync()
    {
        Ada?.Dispose();
        Ben?.Dispose();
        if (_shared is not null)
            return;
        if (_server is not null)
            await _server.DisposeAsync();
        if (_standIns is not null)
            await _standIns.DisposeAsync();
        Directory.Delete(DataFolder, recursive: true);
    }

    /// <summary>Starts one more server on the same database.</summary>
    public async Task<WebApplication> StartServerAsync(params string[] more)
    {
        WebApplication server = LarkServer.Create(
            [.. Arguments(), .. more],
            services =>
            {
                services.Configure<PasswordHasherOptions>(o => o.IterationCount = Databases.PasswordRounds);
                _more.ForEach(m => m(services));
            }
        );
        await server.StartAsync();
        return server;
    }

    /// <summary>Stops the server, does something while it is away, and starts it again at the same address.</summary>
    public async Task RestartAsync(Func<Task> meanwhile)
    {
        await _server!.StopAsync();
        await _server.DisposeAsync();
        await meanwhile();
        _server = await StartServerAsync($"--urls={Address}");
    }

    /// <summary>Settings of a server of this installation, as command-line arguments.</summary>
    public IEnumerable<string> Arguments() =>
        [
            $"--ConnectionStrings:Lark={Database}",
            $"--Lark:DataFolder={DataFolder}",
            $"--Lark:NetworksAddress={NetworksAddress}",
            "--Lark:LinkTimeoutSeconds=3",
            $"--Lark:LinkHosts=*.example.org={new Uri(NetworksAddress).Authority}",
            "--urls=http://127.0.0.1:0",
            "--Logging:LogLevel:Default=Critical",
            "--Logging:LogLevel:Microsoft.AspNetCore=Critical",
            .. _settings.Select(s => $"--{s.Key}={s.Value}"),
        ];

    public async Task<Instant> NowAsync()
    {
        await using AsyncServiceScope scope = Services.CreateAsyncScope();
        return await scope.ServiceProvider.GetRequiredService<BusinessClock>().NowAsync();
    }

    /// <summary>Moves business time on, without doing what falls due on the way.</summary>
    public async Task MoveOnAsync(Duration by)
    {
        MindOthers();
        await using LarkDb db = Databases.Open(Database);
        (await db.BusinessTimes.SingleAsync()).Ahead += by;
        await db.SaveChangesAsync();
    }

    /// <summary>One more member of Ada's workspace, signed in.</summary>
    public async Task<ApiClient> MemberAsync(Role role, Guid? workspace = null)
    {
        string email = $"{role}-{Guid.NewGuid():n}@example.org".ToLowerInvariant();
        await using (LarkDb db = Databases.Open(Database))
        {
            Guid person = Databases.AddPerson(db, email, $"{role} Wader");
            db.Memberships.Add(
                new()
                {
                    WorkspaceId = new(workspace ?? Ada.Workspace),
                    PersonId = person,
                    Role = role,
                }
            );
            await db.SaveChangesAsync();
        }
        return await ApiClient.SignInAsync(this, email);
    }

    /// <summary>The day on which tests begin: what a test sees doesn't depend on when it is run. `./lark test --day DAY` names
    /// another.</summary>
    public static LocalDate Day { get; } =
        Environment.GetEnvironmentVariable("LARK_TEST_DAY") is { Length: > 0 } day
            ? LocalDatePattern.Iso.Parse(day).GetValueOrThrow()
            : new LocalDate(2026, 12, 2);

    /// <summary>The clock begins at ten in the morning, local time: what a test calls today lasts for all of it.</summary>
    private Task BeginInTheMorningAsync() =>
        MoveToAsync((Day + new LocalTime(10, 0)).InZoneLeniently(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).ToInstant());

    /// <summary>One more workspace of Ada's, with nothing in it; returns its name in addresses.</summary>
    public async Task<string> EmptyWorkspaceAsync(string name)
    {
        await using LarkDb db = Databases.Open(Database);
        string slug = name.ToLowerInvariant();
        Databases.AddWorkspace(db, await db.Users.Where(u => u.Email == _ada).Select(u => u.Id).SingleAsync(), slug, name);
        await db.SaveChangesAsync();
        return slug;
    }

    /// <summary>Sets business time to this instant.</summary>
    public async Task MoveToAsync(Instant instant) => await MoveOnAsync(instant - await NowAsync());

    /// <summary>What one class does with the clock, the background work or the networks happens to every other class that shares the
    /// installation.</summary>
    private void MindOthers()
    {
        if (_shared is not null)
            throw new InvalidOperationException("This installation is shared. Use TestInstallation as the class fixture.");
    }

    /// <summary>One round of background work: schedule, send, pull figures.</summary>
    public async Task PassAsync(IServiceProvider? services = null)
    {
        MindOthers();
        await using AsyncServiceScope scope = (services ?? Services).CreateAsyncScope();
        await scope.ServiceProvider.GetRequiredService<BackgroundPass>().RunAsync(TestContext.Current.CancellationToken);
    }

    /// <summary>Sends what is due, and does nothing else.</summary>
    public async Task SendDueAsync(IServiceProvider? services = null)
    {
        MindOthers();
        await (services ?? Services).GetRequiredService<SendingLoop>().RunAsync(await NowAsync(), TestContext.Current.CancellationToken);
    }

    /// <summary>Looks through the first workspace for damaged rows, as is done where something fails.</summary>
    public async Task LookForDamageAsync()
    {
        await using AsyncServiceScope scope = Services.CreateAsyncScope();
        await DamageSearch.RunAsync(
            scope.ServiceProvider.GetRequiredService<LarkDb>(),
            new(Ada.Workspace),
            Services.GetRequiredService<Data.Damage.DamagedRows>(),
            SystemClock.Instance.GetCurrentInstant(),
            default
        );
    }

    /// <summary>Writes to the database past the application, as nobody should.</summary>
    public async Task WriteAsync(FormattableString sql)
    {
        await using LarkDb db = Databases.Open(Database);
        await db.Database.ExecuteSqlAsync(sql);
    }

    public async Task<T> ReadAsync<T>(Func<LarkDb, Task<T>> read)
    {
        await using LarkDb db = Databases.Open(Database);
        return await read(db);
    }

    /// <summary>A person posts on the network itself, on its page; returns the post's address.</summary>
    public async Task<string> PostByHandAsync(string network, string handle, string text)
    {
        using HttpClient person = new(new HttpClientHandler { AllowAutoRedirect = false });
        using FormUrlEncodedContent form = new(new Dictionary<string, string> { ["text"] = text });
        using HttpResponseMessage posted = await person.PostAsync($"{NetworksAddress}/{network}/{handle}", form);
        return posted.Headers.Location!.ToString();
    }

    /// <summary>Orders a fault on the stand-in networks.</summary>
    public async Task OrderAsync(string kind, int times = 1, string? account = null)
    {
        MindOthers();
        using HttpClient http = new();
        (
            await http.PostAsJsonAsync(
                $"{NetworksAddress}/control/faults",
                new
                {
                    kind,
                    times,
                    account,
                }
            )
        ).EnsureSuccessStatusCode();
    }

    /// <summary>A folder of networks' rules like the shipped ones, but with these promises to whoever posts.</summary>
    public static string RulesFolder(bool honoursKeys, int appearsWithinSeconds, int readsBack = 500)
    {
        string folder = Directory.CreateTempSubdirectory("able-lark-rules-").FullName;
        foreach (string file in Directory.GetFiles(Path.Combine(AppContext.BaseDirectory, "networks"), "*.json"))
        {
            JsonNode rules = JsonNode.Parse(File.ReadAllText(file))!;
            rules["sending"] = new JsonObject
            {
                ["honoursKeys"] = honoursKeys,
                ["appearsWithinSeconds"] = appearsWithinSeconds,
                ["readsBack"] = readsBack,
                ["atOnce"] = 20,
            };
            File.WriteAllText(Path.Combine(folder, Path.GetFileName(file)), rules.ToJsonString());
        }
        return folder;
    }

    /// <summary>Changes how a stand-in network behaves; a rules file that says so goes with it (see <see cref="RulesFolder"/>).</summary>
    public async Task BehaveAsync(string network, bool honoursKeys = true, int latencyMilliseconds = 0, double lateSeconds = 17)
    {
        using HttpClient http = new();
        (
            await http.PutAsJsonAsync(
                $"{NetworksAddress}/control/networks/{network}",
                new
                {
                    honoursKeys,
                    latencyMilliseconds,
                    lateSeconds,
                }
            )
        ).EnsureSuccessStatusCode();
    }

    public async Task ClearFaultsAsync()
    {
        using HttpClient http = new();
        (await http.DeleteAsync($"{NetworksAddress}/control/faults")).EnsureSuccessStatusCode();
    }

    /// <summary>What an account has posted, as the network knows it.</summary>
    public async Task<IReadOnlyList<string>> PostedAsync(string account)
    {
        using HttpClient http = new();
        List<PostedText>? posts = await http.GetFromJsonAsync<List<PostedText>>($"{NetworksAddress}/control/accounts/{account}/posts");
        return [.. posts!.Select(p => p.Text)];
    }

    public async Task RevokeAsync(string account)
    {
        using HttpClient http = new();
        (await http.PostAsync($"{NetworksAddress}/control/accounts/{account}/revoke", null)).EnsureSuccessStatusCode();
    }

    /// <summary>Makes an account on a network; returns its identity there.</summary>
    public async Task<string> AddAccountAsync(
        string network,
        string handle,
        string? name = null,
        int followers = 1000,
        bool isGroup = false
    )
    {
        using HttpClient http = new();
        string id = $"{network}-{handle}";
        (
            await http.PutAsJsonAsync(
                $"{NetworksAddress}/control/accounts",
                new
                {
                    id,
                    network,
                    handle,
                    name = name ?? handle,
                    followers,
                    interests = new Dictionary<string, double>(),
                    isGroup,
                }
            )
        ).EnsureSuccessStatusCode();
        return id;
    }

    /// <summary>Makes an account on a network and connects it by the network's consent page, as a browser would.</summary>
    public async Task<Guid> ConnectAsync(ApiClient client, string network, string handle, int followers = 1000)
    {
        using HttpClient browser = new(new HttpClientHandler { AllowAutoRedirect = false });
        string id = await AddAccountAsync(network, handle, followers: followers);
        string consent = (await client.PostAsync("channels/connect", new { network })).GetProperty("address").GetString()!;
        var query = HttpUtility.ParseQueryString(new Uri(consent).Query);
        using FormUrlEncodedContent form = new(
            new Dictionary<string, string>
            {
                ["redirectUri"] = query["redirectUri"]!,
                ["state"] = query["state"]!,
                ["account"] = id,
                ["answer"] = "allow",
            }
        );
        using HttpResponseMessage allowed = await browser.PostAsync($"{NetworksAddress}/{network}/consent", form);
        using HttpResponseMessage back = await client.Http.GetAsync(allowed.Headers.Location);
        Assert.Equal(HttpStatusCode.Redirect, back.StatusCode);
        return (await client.GetAsync("channels")).EnumerateArray().Single(c => c.GetProperty("handle").GetString() == handle).Id();
    }

    private sealed record PostedText(string Text);
}
