using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Server.Tests.Ground;

namespace AbleLark.Server.Tests.Tokens;

public sealed class TokenTests(Town town) : IClassFixture<Town>
{
    private readonly Visitor _ada = town.Ada;

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
        Assert.Equal(HttpStatusCode.NotFound, (await script.GetAsync(town.Ben.Path("categories"))).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await script.PostAsJsonAsync(_ada.Path("tokens"), new { name = "Another" })).StatusCode);
        using HttpClient guess = Script("lark_" + new string('0', 48));
        Assert.Equal(HttpStatusCode.Unauthorized, (await guess.GetAsync(_ada.Path("categories"))).StatusCode);
    }

    [Fact]
    public async Task A_token_of_somebody_with_several_workspaces_stays_in_its_own()
    {
        string slug = await town.EmptyWorkspaceAsync("Second" + Guid.NewGuid().ToString("n")[..6]);
        JsonElement session = await _ada.Http.GetFromJsonAsync<JsonElement>("/api/session");
        Guid second = session.List("workspaces").Single(w => w.Text("slug") == slug).Id();
        using HttpClient script = Script((await _ada.PostAsync("tokens", new { name = "One of two" })).Text("token"));
        Assert.Equal(HttpStatusCode.NotFound, (await script.GetAsync($"/api/workspaces/{second}/categories")).StatusCode);
    }

    private HttpClient Script(string token)
    {
        HttpClient http = new() { BaseAddress = new(town.Address) };
        http.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        return http;
    }
}
