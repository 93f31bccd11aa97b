using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Routing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace AbleLark.Server.Tests.Tenancy;

/// <summary>A user of one workspace can't reach another's data, on any endpoint.</summary>
public sealed class TenancyTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    private const string Group = "/api/workspaces/{workspaceId}";

    [Fact]
    public async Task A_stranger_finds_nothing_on_any_endpoint_of_a_workspace()
    {
        Dictionary<string, Guid> ids = await OneOfEachAsync();
        foreach ((HttpMethod method, string pattern) in Endpoints())
        {
            using HttpRequestMessage request = new(method, Fill(pattern, ids)) { Content = BodyFor(method, pattern) };
            using HttpResponseMessage response = await _installation.Ben.Http.SendAsync(request);
            Assert.True(response.StatusCode == HttpStatusCode.NotFound, $"{method} {pattern}: {response.StatusCode}");
            string words = await response.Content.ReadAsStringAsync();
            if (method != HttpMethod.Head)
                Assert.Contains("This workspace is not here", words, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task Who_is_not_signed_in_is_told_so_on_every_endpoint()
    {
        Dictionary<string, Guid> ids = await OneOfEachAsync();
        using HttpClient nobody = new() { BaseAddress = new(_installation.Address) };
        (HttpMethod, string)[] others =
        [
            (HttpMethod.Get, "/api/session"),
            (HttpMethod.Get, "/api/networks"),
            (HttpMethod.Get, "/api/news"),
            (HttpMethod.Get, "/api/demo/clock"),
            (HttpMethod.Post, "/api/demo/clock"),
            (HttpMethod.Get, "/connect/callback"),
            (HttpMethod.Get, "/api/connect/outcome?of=x"),
        ];
        foreach ((HttpMethod method, string pattern) in Endpoints().Concat(others))
        {
            using HttpRequestMessage request = new(method, Fill(pattern, ids)) { Content = BodyFor(method, pattern) };
            using HttpResponseMessage response = await nobody.SendAsync(request);
            Assert.True(response.StatusCode == HttpStatusCode.Unauthorized, $"{method} {pattern}: {response.StatusCode}");
        }
    }

    [Fact]
    public async Task Ids_of_another_workspace_are_refused_inside_ones_own()
    {
        Dictionary<string, Guid> theirs = await OneOfEachAsync();
        Guid mine = await _installation.Ben.CategoryAsync("Cider");
        (HttpMethod Method, string Path, object? Body)[] tries =
        [
            (HttpMethod.Get, $"posts/{theirs["posts"]}", null),
            (HttpMethod.Delete, $"posts/{theirs["posts"]}", null),
            (
                HttpMethod.Post,
                $"posts/{theirs["posts"]}/deliveries",
                new
                {
                    date = "2030-01-01",
                    time = "09:00:00",
                    channels = Array.Empty<Guid>(),
                }
            ),
            (HttpMethod.Get, $"deliveries/{theirs["deliveries"]}", null),
            (HttpMethod.Post, $"deliveries/{theirs["deliveries"]}/cancel", null),
            (HttpMethod.Post, $"deliveries/{theirs["deliveries"]}/dismiss", null),
            (HttpMethod.Post, $"deliveries/{theirs["deliveries"]}/take", new { postId = theirs["posts"] }),
            (HttpMethod.Post, $"deliveries/{theirs["deliveries"]}/found", new { found = "isNotThere" }),
            (HttpMethod.Post, $"deliveries/{theirs["deliveries"]}/category", new { categoryId = theirs["categories"] }),
            (HttpMethod.Delete, $"channels/{theirs["channels"]}/connection", null),
            (HttpMethod.Get, $"posts/{theirs["posts"]}/booking?kind=veryNext", null),
            (HttpMethod.Post, $"posts/{theirs["posts"]}/send-back", new { note = "x" }),
            (HttpMethod.Get, $"media/{theirs["media"]}", null),
            (HttpMethod.Delete, $"categories/{theirs["categories"]}", null),
            (HttpMethod.Delete, $"rotas/slots/{theirs["slots"]}", null),
            (HttpMethod.Post, $"changes/{theirs["changes"]}/undo", null),
            (HttpMethod.Post, $"imports/{theirs["imports"]}/take-back", null),
            (HttpMethod.Post, "posts", TestData.Edit(theirs["categories"], "x")),
            (HttpMethod.Post, "posts", TestData.Edit(mine, "x", channels: [theirs["channels"]])),
            (HttpMethod.Post, "posts", TestData.Edit(mine, "x", picture: theirs["media"])),
            (HttpMethod.Post, "posts/check", TestData.Content("x", picture: theirs["media"])),
            (HttpMethod.Post, "rotas/slots", TestData.Slot(mine, "09:00", [1], theirs["channels"])),
            (HttpMethod.Post, "rotas/slots", TestData.Slot(theirs["categories"], "09:00", [1], theirs["channels"])),
            (
                HttpMethod.Post,
                "categories",
                new
                {
                    name = "Mine",
                    colour = "tide",
                    monogram = "Mi",
                    usualChannels = new[] { theirs["channels"] },
                }
            ),
        ];
        foreach (var (method, path, body) in tries)
        {
            (HttpStatusCode status, string words) = await _installation.Ben.TroubleAsync(method, path, body);
            Assert.True(status is HttpStatusCode.NotFound or HttpStatusCode.BadRequest, $"{method} {path}: {status}");
            Assert.NotEmpty(words);
        }
        Assert.Equal("planned", await _installation.Ada.StateAsync(theirs["deliveries"]));
    }

    /// <summary>Every address that names a thing, a new one too: another workspace's isn't found, whatever is asked of it.</summary>
    [Fact]
    public async Task Nothing_of_another_workspace_is_found_at_any_address_of_ones_own()
    {
        Dictionary<string, Guid> theirs = await OneOfEachAsync();
        Dictionary<string, Guid> asked = new(theirs) { ["workspaces"] = _installation.Ben.Workspace };
        string before = await RowsOfAsync(theirs["workspaces"]);
        (int walked, int notFound) = (0, 0);
        List<string> found = [];
        foreach ((HttpMethod method, string pattern) in Endpoints())
        {
            string path = Fill(pattern, asked);
            if (!theirs.Any(t => t.Key != "workspaces" && path.Contains(t.Value.ToString(), StringComparison.Ordinal)))
                continue;
            // Leaving a desk at which one isn't changes nothing, whoever's it is.
            if (method == HttpMethod.Delete && pattern.EndsWith("/presence", StringComparison.Ordinal))
                continue;
            walked++;
            using HttpRequestMessage request = new(method, path) { Content = BodyFor(method, pattern) };
            request.Headers.TryAddWithoutValidation("If-Match", "\"0\"");
            using HttpResponseMessage response = await _installation.Ben.Http.SendAsync(request);
            // What can't be read at all is refused before anything is looked for.
            bool isRefused =
                response.StatusCode
                is HttpStatusCode.NotFound
                    or HttpStatusCode.BadRequest
                    or HttpStatusCode.PreconditionFailed
                    or HttpStatusCode.UnsupportedMediaType;
            notFound += response.StatusCode == HttpStatusCode.NotFound ? 1 : 0;
            if (!isRefused)
                found.Add($"{method} {pattern}: {response.StatusCode}");
        }
        Assert.Empty(found);
        Assert.True(walked > 40 && notFound > 25, $"{walked} addresses, of which {notFound} found nothing");
        Assert.Equal(before, await RowsOfAsync(theirs["workspaces"]));
    }

    /// <summary>How many rows of what the walk could have changed there are, and what they say.</summary>
    private Task<string> RowsOfAsync(Guid workspace) =>
        _installation.ReadAsync(async db =>
            string.Join(
                "\n",
                await db
                    .Database.SqlQuery<string>(
                        $"""
                        select md5(x.row) as "Value" from (
                            select to_jsonb(p)::text as row from posts p where p.workspace_id = {workspace}
                            union all select to_jsonb(d)::text from deliveries d where d.workspace_id = {workspace}
                            union all select to_jsonb(s)::text from slots s where s.workspace_id = {workspace}
                            union all select to_jsonb(c)::text from channels c where c.workspace_id = {workspace}
                            union all select to_jsonb(c)::text from categories c where c.workspace_id = {workspace}
                            union all select to_jsonb(c)::text from change_sets c where c.workspace_id = {workspace}
                        ) x order by 1
                        """
                    )
                    .ToListAsync()
            )
        );

    [Fact]
    public async Task Lists_hold_only_ones_own()
    {
        await OneOfEachAsync();
        foreach (string path in new[] { "channels", "imports", "needs" })
            Assert.Empty((await _installation.Ben.GetAsync(path)).EnumerateArray());
        Assert.Equal(0, (await _installation.Ben.GetAsync("posts")).Whole("total"));
        Assert.Empty((await _installation.Ben.GetAsync("line-up?from=2020-01-01&to=2020-03-01")).List("entries"));
    }

    [Fact]
    public async Task A_consent_belongs_to_the_person_who_asked_for_it()
    {
        string address = (await _installation.Ada.PostAsync("channels/connect", new { network = "jot" })).Text("address");
        string state = System.Web.HttpUtility.ParseQueryString(new Uri(address).Query)["state"]!;
        using HttpResponseMessage response = await _installation.Ben.Http.GetAsync(
            $"/connect/callback?code=x&state={Uri.EscapeDataString(state)}"
        );
        Assert.StartsWith("/?outcome=", response.Headers.Location!.ToString(), StringComparison.Ordinal);
        Assert.Empty((await _installation.Ben.GetAsync("channels")).EnumerateArray());
    }

    private IEnumerable<(HttpMethod Method, string Pattern)> Endpoints()
    {
        (HttpMethod, string)[] found =
        [
            .. _installation
                .Services.GetRequiredService<IEnumerable<EndpointDataSource>>()
                .SelectMany(s => s.Endpoints)
                .OfType<RouteEndpoint>()
                .Where(e => e.RoutePattern.RawText!.StartsWith(Group, StringComparison.Ordinal))
                .SelectMany(e =>
                    e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods.Select(m => (new HttpMethod(m), e.RoutePattern.RawText!))
                    ?? []
                ),
        ];
        Assert.True(found.Length > 30, $"Only {found.Length} endpoints were found: the walk has lost its way.");
        return found;
    }

    /// <summary>A path to something of Ada's that is really there.</summary>
    private static string Fill(string pattern, Dictionary<string, Guid> ids)
    {
        string path = pattern.Replace("{workspaceId}", ids["workspaces"].ToString(), StringComparison.Ordinal);
        string[] parts = path.Split('/');
        for (int i = 1; i < parts.Length; i++)
        {
            if (parts[i] == "{id}")
                parts[i] = ids.TryGetValue(parts[i - 1], out Guid known) ? known.ToString() : Guid.NewGuid().ToString();
            else if (parts[i] == "{slotId}")
                parts[i] = ids["slots"].ToString();
            else if (parts[i] == "{date}")
                parts[i] = "2026-03-02";
            else if (parts[i] == "{number}")
                parts[i] = "1";
            else if (parts[i].StartsWith('{'))
                parts[i] = "x";
        }
        return string.Join('/', parts)
            + (
                pattern.EndsWith("line-up", StringComparison.Ordinal) || pattern.EndsWith("results", StringComparison.Ordinal)
                    ? "?from=2026-01-01&to=2026-02-01"
                    : ""
            );
    }

    private static HttpContent? BodyFor(HttpMethod method, string pattern)
    {
        if (method == HttpMethod.Get || method == HttpMethod.Delete)
            return null;
        if (
            method == HttpMethod.Post
            && (pattern.EndsWith("/media", StringComparison.Ordinal) || pattern.EndsWith("/poster", StringComparison.Ordinal))
        )
            return ApiClient.Form(("file", "a.png", TestData.Png(4, 4)));
        if (pattern.EndsWith("/calendar-sources/files", StringComparison.Ordinal))
            return ApiClient.Form(("file", "a.ics", "BEGIN:VCALENDAR"u8.ToArray()));
        if (pattern.EndsWith("/imports", StringComparison.Ordinal) || pattern.EndsWith("/results/figures", StringComparison.Ordinal))
            return ApiClient.Form(("sheet", "a.csv", "text,category\nx,Books"u8.ToArray()));
        return JsonContent.Create(new { });
    }

    private Dictionary<string, Guid>? _ids;

    private async Task<Dictionary<string, Guid>> OneOfEachAsync()
    {
        if (_ids is not null)
            return _ids;
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", "books" + Guid.NewGuid().ToString("n")[..6]);
        Guid category = await _installation.Ada.CategoryAsync("Ropes" + Guid.NewGuid().ToString("n")[..6], channel);
        Guid slot = await _installation.Ada.SlotAsync(category, "09:00", [1], channel);
        Guid picture = await _installation.Ada.PictureAsync();
        Guid post = (await _installation.Ada.PostAsync(category, "A shelf of almanacs", picture: picture)).Id();
        Guid[] deliveries = await _installation.Ada.PlanAsync(_installation, post, 600, channel);
        string csv =
            $"text,category\nOne more {Guid.NewGuid()},"
            + $"{(await _installation.Ada.GetAsync("categories")).EnumerateArray().First(c => c.Id() == category).Text("name")}";
        Guid import = (await _installation.Ada.ImportAsync(csv)).Id();
        JsonElement change = (await _installation.Ada.GetAsync("changes")).EnumerateArray().First();
        return _ids = new()
        {
            ["workspaces"] = _installation.Ada.Workspace,
            ["channels"] = channel,
            ["categories"] = category,
            ["slots"] = slot,
            ["media"] = picture,
            ["posts"] = post,
            ["deliveries"] = deliveries[0],
            ["imports"] = import,
            ["changes"] = change.Id(),
        };
    }
}
