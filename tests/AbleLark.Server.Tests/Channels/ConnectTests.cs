using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Web;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Server.Tests.Channels;

public sealed class ConnectTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly TestInstallation _installation = installation;
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task A_no_on_the_network_s_page_connects_nothing_and_says_so()
    {
        await _installation.AddAccountAsync("jot", "denied");
        Assert.Equal("Nothing was connected: the network was told not to.", await AnswerAsync("jot-denied", "deny"));
        Assert.DoesNotContain((await _ada.GetAsync("channels")).EnumerateArray(), c => c.Text("handle") == "denied");
    }

    [Fact]
    public async Task A_code_works_once()
    {
        await _installation.AddAccountAsync("jot", "once");
        (string code, string state) = await CodeAsync("jot-once", "allow");
        Assert.Equal("once is connected.", await BackAsync(code, state));
        Assert.StartsWith("Nothing was connected.", await BackAsync(code, state), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Coming_back_to_a_workspace_that_can_t_be_read_is_told_in_words()
    {
        await _installation.AddAccountAsync("jot", "aside");
        (string code, string state) = await CodeAsync("jot-aside", "allow");
        await _installation.WriteAsync($"update workspaces set zone = 'Nowhere/' || zone where id = {_ada.Workspace}");
        await _installation.LookForDamageAsync();
        Assert.StartsWith(
            "Nothing was connected. This workspace's own row can't be read (zone:",
            await BackAsync(code, state),
            StringComparison.Ordinal
        );
        await _installation.WriteAsync($"update workspaces set zone = substr(zone, 9) where id = {_ada.Workspace}");
        await _installation.LookForDamageAsync();
        Assert.Equal("aside is connected.", await BackAsync(code, state));
    }

    [Fact]
    public async Task Several_accounts_are_connected_in_one_trip_and_each_is_what_the_network_says()
    {
        await _installation.AddAccountAsync("hearth", "shore", "Shore page");
        await _installation.AddAccountAsync("hearth", "swap", "Swap group", isGroup: true);
        (string code, string state) = await CodeAsync("hearth", ["hearth-shore", "hearth-swap", "jot-elsewhere"], "allow");
        Assert.Equal("Shore page, Swap group are connected.", await BackAsync(code, state));
        JsonElement[] channels = [.. (await _ada.GetAsync("channels")).EnumerateArray().Where(c => c.Text("network") == "hearth")];
        Assert.Equal(["Shore page", "Swap group"], channels.TakeLast(2).Select(c => c.Text("name")));
        Assert.Equal(
            [null, "false"],
            channels
                .TakeLast(2)
                .Select(c => c.List("figures").Single(f => f.Text("figure") == "/mentions/pages").GetProperty("own").GetString())
        );
        // Each by a token of its own.
        Guid category = await _ada.CategoryAsync("Swapped", [.. channels.TakeLast(2).Select(c => c.Id())]);
        Guid post = (await _ada.PostAsync(category, "To both")).Id();
        Guid[] deliveries = await _ada.PlanAsync(_installation, post, 1, [.. channels.TakeLast(2).Select(c => c.Id())]);
        await _installation.MoveOnAsync(Duration.FromMinutes(2));
        foreach (Guid delivery in deliveries)
            await _installation.PassesUntilAsync(delivery, "sent");
        // What a person says stays when it is connected anew.
        Guid group = channels[^1].Id();
        await _ada.PutAsync($"channels/{group}", new { figures = new Dictionary<string, string> { ["/mentions/pages"] = "true" } });
        (code, state) = await CodeAsync("hearth", ["hearth-swap"], "allow");
        Assert.Equal("Swap group is connected.", await BackAsync(code, state));
        JsonElement again = (await _ada.GetAsync("channels")).EnumerateArray().Single(c => c.Id() == group);
        Assert.Equal("true", again.List("figures").Single(f => f.Text("figure") == "/mentions/pages").Text("own"));
    }

    [Theory]
    [InlineData("")]
    [InlineData("made-up")]
    public async Task A_state_that_is_not_ours_is_turned_away(string state)
    {
        Assert.StartsWith("That consent had run out", await BackAsync("code", state), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Connecting_the_same_account_again_renews_it_rather_than_doubling_it()
    {
        Guid first = await _installation.ConnectAsync(_ada, "hearth", "again");
        Guid second = await _installation.ConnectAsync(_ada, "hearth", "again");
        Assert.Equal(first, second);
    }

    [Fact]
    public async Task An_unknown_network_is_refused_in_words()
    {
        Assert.Equal(
            (HttpStatusCode.BadRequest, "There is no such network."),
            await _ada.TroubleAsync(HttpMethod.Post, "channels/connect", new { network = "carrier-pigeon" })
        );
    }

    [Fact]
    public async Task The_consent_page_asks_in_words_and_escapes_what_it_shows()
    {
        await _installation.AddAccountAsync("jot", "escaped", "<script>alert(1)</script>");
        using HttpClient http = new();
        string page = await http.GetStringAsync(
            $"{_installation.NetworksAddress}/jot/consent?redirectUri=http://127.0.0.1/&state=%22%3E%3Cb%3E"
        );
        Assert.Contains("Allow Able Lark to post for you?", page, StringComparison.Ordinal);
        Assert.DoesNotContain("<script>", page, StringComparison.Ordinal);
        Assert.DoesNotContain("\"><b>", page, StringComparison.Ordinal);
    }

    private async Task<string> AnswerAsync(string account, string answer)
    {
        (string code, string state) = await CodeAsync(account, answer);
        return await BackAsync(code, state, answer == "deny");
    }

    private Task<(string Code, string State)> CodeAsync(string account, string answer) => CodeAsync("jot", [account], answer);

    private async Task<(string Code, string State)> CodeAsync(string network, string[] accounts, string answer)
    {
        string address = (await _ada.PostAsync("channels/connect", new { network })).Text("address");
        var query = HttpUtility.ParseQueryString(new Uri(address).Query);
        using HttpClient browser = new(new HttpClientHandler { AllowAutoRedirect = false });
        using FormUrlEncodedContent form = new([
            KeyValuePair.Create("redirectUri", query["redirectUri"]!),
            KeyValuePair.Create("state", query["state"]!),
            .. accounts.Select(a => KeyValuePair.Create("account", a)),
            KeyValuePair.Create("answer", answer),
        ]);
        using HttpResponseMessage response = await browser.PostAsync($"{_installation.NetworksAddress}/{network}/consent", form);
        return (HttpUtility.ParseQueryString(response.Headers.Location!.Query)["code"] ?? "", query["state"]!);
    }

    /// <summary>Comes back to the application as the network sends the browser; returns what the page is told.</summary>
    private async Task<string> BackAsync(string code, string state, bool denied = false)
    {
        string query = denied
            ? $"error=access_denied&state={Uri.EscapeDataString(state)}"
            : $"code={code}&state={Uri.EscapeDataString(state)}";
        using HttpResponseMessage response = await _ada.Http.GetAsync($"/connect/callback?{query}");
        Assert.Equal(HttpStatusCode.Redirect, response.StatusCode);
        string of = HttpUtility.ParseQueryString(response.Headers.Location!.ToString().Split('?')[1])["outcome"]!;
        Assert.DoesNotContain("onnected", of, StringComparison.Ordinal);
        JsonElement outcome = await _ada.Http.GetFromJsonAsync<JsonElement>($"/api/connect/outcome?of={Uri.EscapeDataString(of)}");
        bool isIn = outcome.Text("code") is "connected" or "connectedPartly";
        string words = outcome.Text("words");
        Assert.Equal(isIn, words.Contains(" connected.", StringComparison.Ordinal) && words[0] != 'N');
        // Nobody makes up an outcome that the page would tell.
        using HttpResponseMessage madeUp = await _ada.Http.GetAsync($"/api/connect/outcome?of={Uri.EscapeDataString(of)}x");
        Assert.Equal(HttpStatusCode.NotFound, madeUp.StatusCode);
        return words;
    }
}
