using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Core.Networks;
using AbleLark.Data;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace AbleLark.Server.Tests.Workspaces;

public sealed class HealthTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    [Fact]
    public async Task Ready_means_that_the_database_is_there_and_up_to_date()
    {
        using HttpClient http = new();
        Assert.Equal("ok", (await http.GetFromJsonAsync<JsonElement>($"{installation.Address}/healthz")).Text("status"));
        Assert.Equal("ready", (await http.GetFromJsonAsync<JsonElement>($"{installation.Address}/readyz")).Text("status"));
        string empty = await Databases.EmptyAsync();
        Assert.Equal(HttpStatusCode.ServiceUnavailable, await HealthOfAsync(empty));
        Assert.Equal(HttpStatusCode.ServiceUnavailable, await HealthOfAsync("Host=127.0.0.1;Port=1;Username=lark;Database=x;Timeout=2"));
    }

    [Fact]
    public async Task Migrations_bring_an_empty_database_to_the_model()
    {
        await using LarkDb db = Databases.Open(await Databases.EmptyAsync());
        await db.Database.MigrateAsync();
        Assert.Empty(await db.Database.GetPendingMigrationsAsync());
        Assert.False(
            db.Database.HasPendingModelChanges(),
            "The model has changes without a migration: dotnet ef migrations add NAME --project src/AbleLark.Data --startup-project "
                + "tools/AbleLark.Design"
        );
    }

    [Fact]
    public async Task The_OpenAPI_document_is_served_as_it_was_built()
    {
        using HttpClient http = new();
        JsonElement document = await http.GetFromJsonAsync<JsonElement>($"{installation.Address}/openapi/v1.json");
        Assert.Equal("Able Lark", document.GetProperty("info").Text("title"));
        Assert.True(document.GetProperty("paths").EnumerateObject().Count() > 20);
    }

    [Fact]
    public async Task A_network_s_file_with_a_mistake_is_named_and_that_network_alone_is_off()
    {
        string folder = TestInstallation.RulesFolder(honoursKeys: true, appearsWithinSeconds: 60);
        string meadow = Path.Combine(folder, "meadow.json");
        await File.WriteAllTextAsync(
            meadow,
            (await File.ReadAllTextAsync(meadow)).Replace("contentWarning", "contentWarnin", StringComparison.Ordinal)
        );
        await File.WriteAllTextAsync(Path.Combine(folder, "guildhall.json"), "{ not json");
        await using WebApplication server = await installation.StartServerAsync($"--Lark:NetworksFolder={folder}");
        using HttpClient http = new();
        JsonElement ready = await http.GetFromJsonAsync<JsonElement>($"{server.Urls.Single()}/readyz");
        Assert.Equal("ready", ready.Text("status"));
        string[] off = [.. ready.List("networksOff").Select(o => o.GetString()!)];
        Assert.Equal(2, off.Length);
        Assert.StartsWith("guildhall.json: The network's file can't be read:", off[0], StringComparison.Ordinal);
        Assert.Equal("meadow.json: Under “fields”, there is no content field “contentWarnin”.", off[1]);
        IEnumerable<string> on = server.Services.GetRequiredService<NetworkBook>().All.Select(n => n.Key);
        Assert.Equal(["corkwall", "doorstep", "glimmer", "hearth", "jig", "jot", "kept"], on.Order());
    }

    [Fact]
    public async Task In_production_there_is_no_clock_to_move()
    {
        await using WebApplication production = await installation.StartServerAsync("--Lark:Demo=false");
        using HttpClient http = new(new HttpClientHandler { CookieContainer = new() }) { BaseAddress = new(production.Urls.Single()) };
        await http.PostAsJsonAsync("/api/session", new { email = "ada@example.org", password = Databases.Password });
        using HttpResponseMessage answer = await http.PostAsJsonAsync("/api/demo/clock", new { by = "week" });
        Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
        Assert.False((await http.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("demo").GetBoolean());
    }

    [Fact]
    public async Task Every_act_is_logged_with_before_and_after()
    {
        Guid category = await installation.Ada.CategoryAsync("Logged");
        await installation.Ada.PutAsync(
            $"categories/{category}",
            new
            {
                name = "Logged anew",
                colour = "reed",
                monogram = "Ln",
                usualChannels = Array.Empty<Guid>(),
            }
        );
        JsonElement[] log = [.. (await installation.Ada.GetAsync("changes")).EnumerateArray()];
        Assert.Equal(["Changed the category Logged", "Added the category Logged"], log.Take(2).Select(c => c.Text("act")));
        Assert.All(log, c => Assert.Equal("Ada Finch", c.Text("who")));
        var change = await installation.ReadAsync(db =>
            db.Changes.OrderByDescending(c => c.ChangeSetId).FirstAsync(c => c.Entity == "category")
        );
        Assert.Equal(("Logged", "Logged anew"), (change.Before!["name"].GetString(), change.After!["name"].GetString()));
    }

    private async Task<HttpStatusCode> HealthOfAsync(string connection)
    {
        await using WebApplication server = LarkServer.Create([
            .. installation.Arguments(),
            $"--ConnectionStrings:Lark={connection}",
            "--Lark:MigrateOnStart=false",
            "--Lark:Demo=false",
        ]);
        await server.StartAsync();
        using HttpClient http = new();
        using HttpResponseMessage answer = await http.GetAsync($"{server.Urls.Single()}/readyz");
        return answer.StatusCode;
    }
}
