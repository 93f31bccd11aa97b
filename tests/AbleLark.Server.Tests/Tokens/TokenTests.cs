using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Server.Tests.Tokens;

public sealed class TokenTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task A_script_fetches_a_line_up_and_tries_a_rota_with_a_token_until_it_is_revoked()
    {
        JsonElement made = await _ada.PostAsync("tokens", new { name = "Wall screen" });
        using HttpClient script = Script(made.Text("token"));
        JsonElement lineUp = await script.GetFromJsonAsync<JsonElement>(_ada.Path("line-up?from=2026-12-01&to=2026-12-07"));
        Assert.Equal(JsonValueKind.Array, lineUp.GetProperty("entries").ValueKind);
        using HttpResponseMessage tried = await script.PostAsJsonAsync(_ada.Path("what-if"), new { weeks = 4 });
        Assert.Equal(HttpStatusCode.OK, tried.StatusCode);
        JsonElement line = Assert.Single((await _ada.GetAsync("tokens")).EnumerateArray(), t => t.Id() == made.Id());
        Assert.Equal(("Wall screen", "Ada Finch"), (line.Text("name"), line.Text("madeBy")));
        Assert.NotEqual(JsonValueKind.Null, line.GetProperty("usedAt").ValueKind);
        Assert.False(line.ToString().Contains(made.Text("token")[8..], StringComparison.Ordinal));

        using HttpResponseMessage revoked = await _ada.Http.DeleteAsync(_ada.Path($"tokens/{made.Id()}"));
        Assert.Equal(HttpStatusCode.OK, revoked.StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await script.GetAsync(_ada.Path("categories"))).StatusCode);
    }

    [Fact]
    public async Task A_token_opens_one_workspace_and_makes_no_tokens()
    {
        using HttpClient script = Script((await _ada.PostAsync("tokens", new { name = "Narrow" })).Text("token"));
        Assert.Equal(HttpStatusCode.OK, (await script.GetAsync(_ada.Path("categories"))).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await script.GetAsync(_installation.Ben.Path("categories"))).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await script.PostAsJsonAsync(_ada.Path("tokens"), new { name = "Another" })).StatusCode);
        using HttpClient guess = Script("lark_" + new string('0', 48));
        Assert.Equal(HttpStatusCode.Unauthorized, (await guess.GetAsync(_ada.Path("categories"))).StatusCode);
    }

    [Fact]
    public async Task A_token_of_somebody_with_several_workspaces_stays_in_its_own()
    {
        string slug = await _installation.EmptyWorkspaceAsync("Second" + Guid.NewGuid().ToString("n")[..6]);
        JsonElement session = await _ada.Http.GetFromJsonAsync<JsonElement>("/api/session");
        Guid second = session.List("workspaces").Single(w => w.Text("slug") == slug).Id();
        using HttpClient script = Script((await _ada.PostAsync("tokens", new { name = "One of two" })).Text("token"));
        Assert.Equal(HttpStatusCode.NotFound, (await script.GetAsync($"/api/workspaces/{second}/categories")).StatusCode);
        // Of all workspaces at once it is shown its own, and none at all unless it may look at the plan.
        JsonElement all = await script.GetFromJsonAsync<JsonElement>("/api/overview");
        Assert.Equal([_ada.Workspace], all.EnumerateArray().Select(o => o.Id("workspaceId")));
        using HttpClient other = Script(
            (await _ada.PostAsync("tokens", new { name = "Results alone", rights = new[] { "results" } })).Text("token")
        );
        Assert.Equal(0, (await other.GetFromJsonAsync<JsonElement>("/api/overview")).GetArrayLength());
        Assert.Equal(0, (await other.GetFromJsonAsync<JsonElement>("/api/overview/posts?search=a")).GetArrayLength());
    }

    [Fact]
    public async Task A_token_does_what_it_names_until_it_ends_and_is_named_in_the_log()
    {
        JsonElement made = await _ada.PostAsync(
            "tokens",
            new
            {
                name = "Planting script",
                rights = new[] { "view", "setUp" },
                days = 2,
            }
        );
        using HttpClient script = Script(made.Text("token"));
        string name = "By script " + Guid.NewGuid().ToString("n")[..6];
        using HttpResponseMessage added = await script.PostAsJsonAsync(
            _ada.Path("categories"),
            new
            {
                name,
                colour = "tide",
                monogram = "Bs",
                usualChannels = Array.Empty<Guid>(),
            }
        );
        Assert.Equal(HttpStatusCode.OK, added.StatusCode);
        JsonElement line = (await _ada.GetAsync("changes")).EnumerateArray().First();
        Assert.Equal(
            ($"Added the category {name}", "Ada Finch", "Planting script"),
            (line.Text("act"), line.Text("who"), line.Text("token"))
        );
        using HttpResponseMessage results = await script.GetAsync(_ada.Path("results?from=2026-01-01&to=2026-02-01"));
        Assert.Equal(HttpStatusCode.Forbidden, results.StatusCode);
        Assert.Contains("This token may not see the results.", await results.Content.ReadAsStringAsync(), StringComparison.Ordinal);

        await _installation.WriteAsync($"update api_tokens set ends_at = now() - interval '1 second' where id = {made.Id()}");
        using HttpResponseMessage ended = await script.GetAsync(_ada.Path("categories"));
        Assert.Equal(HttpStatusCode.Unauthorized, ended.StatusCode);
    }

    [Fact]
    public async Task A_token_gives_no_more_than_its_maker_may_and_never_lets_others_in()
    {
        using ApiClient planner = await _installation.MemberAsync(Core.Workspaces.Role.Planner);
        (HttpStatusCode status, string words) = await planner.TroubleAsync(
            HttpMethod.Post,
            "tokens",
            new { name = "x", rights = new[] { "people" } }
        );
        Assert.Equal(
            (
                HttpStatusCode.Forbidden,
                "As a planner you may not say who belongs to the workspace. Ask an owner or planner of the workspace."
            ),
            (status, words)
        );
        Assert.Equal(
            "A token can't let others in: neither scripts nor people.",
            (await _ada.TroubleAsync(HttpMethod.Post, "tokens", new { name = "x", rights = new[] { "tokens" } })).Words
        );
        Assert.Equal(
            "A token works for 1 to 366 days.",
            (await _ada.TroubleAsync(HttpMethod.Post, "tokens", new { name = "x", days = 0 })).Words
        );
        Assert.Equal(
            "Say what the token may do.",
            (await _ada.TroubleAsync(HttpMethod.Post, "tokens", new { name = "x", rights = Array.Empty<string>() })).Words
        );
        // Whoever loses a right takes it from their tokens.
        JsonElement made = await planner.PostAsync("tokens", new { name = "Sets up", rights = new[] { "view", "setUp" } });
        using HttpClient script = Script(made.Text("token"));
        await _installation.WriteAsync(
            $"update memberships set role = 'Client' where person_id = (select person_id from api_tokens where id = {made.Id()})"
        );
        using HttpResponseMessage refused = await script.PostAsJsonAsync(
            _ada.Path("categories"),
            new
            {
                name = "No more",
                colour = "tide",
                monogram = "No",
                usualChannels = Array.Empty<Guid>(),
            }
        );
        Assert.Equal(HttpStatusCode.Forbidden, refused.StatusCode);
    }

    [Fact]
    public async Task A_script_sees_only_its_own_workspace_in_the_session()
    {
        await _installation.EmptyWorkspaceAsync("Third" + Guid.NewGuid().ToString("n")[..6]);
        using HttpClient script = Script((await _ada.PostAsync("tokens", new { name = "Session" })).Text("token"));
        JsonElement session = await script.GetFromJsonAsync<JsonElement>("/api/session");
        JsonElement only = Assert.Single(session.List("workspaces"));
        Assert.Equal((_ada.Workspace, "view,results"), (only.Id(), string.Join(',', only.List("rights").Select(r => r.GetString()))));
    }

    private HttpClient Script(string token)
    {
        HttpClient http = new() { BaseAddress = new(_installation.Address) };
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        return http;
    }
}
