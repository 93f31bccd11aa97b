using System.Net;
using System.Web;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Server.Tests.Channels;

public sealed class ConnectTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    private readonly ApiClient _ada = own.Installation.Ada;

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

    private async Task<(string Code, string State)> CodeAsync(string account, string answer)
    {
        string address = (await _ada.PostAsync("channels/connect", new { network = "jot" })).Text("address");
        var query = HttpUtility.ParseQueryString(new Uri(address).Query);
        using HttpClient browser = new(new HttpClientHandler { AllowAutoRedirect = false });
        using FormUrlEncodedContent form = new(
            new Dictionary<string, string>
            {
                ["redirectUri"] = query["redirectUri"]!,
                ["state"] = query["state"]!,
                ["account"] = account,
                ["answer"] = answer,
            }
        );
        using HttpResponseMessage response = await browser.PostAsync($"{_installation.NetworksAddress}/jot/consent", form);
        return (HttpUtility.ParseQueryString(response.Headers.Location!.Query)["code"] ?? "", query["state"]!);
    }

    /// <summary>Comes back to the application as the network sends the browser; returns the notice that is shown.</summary>
    private async Task<string> BackAsync(string code, string state, bool denied = false)
    {
        string query = denied
            ? $"error=access_denied&state={Uri.EscapeDataString(state)}"
            : $"code={code}&state={Uri.EscapeDataString(state)}";
        using HttpResponseMessage response = await _ada.Http.GetAsync($"/connect/callback?{query}");
        Assert.Equal(HttpStatusCode.Redirect, response.StatusCode);
        return HttpUtility.ParseQueryString(response.Headers.Location!.ToString().Split('?')[1])["notice"]!;
    }
}
